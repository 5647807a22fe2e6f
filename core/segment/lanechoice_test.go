package segment

import (
	"math"
	"slices"
	"testing"
)

// What several changes do is done together, two or three at a time, unless two are of one shell.
func TestTogether(t *testing.T) {
	change := func(pieces int, bands ...int) map[int]laneCut {
		out := map[int]laneCut{}
		for _, b := range bands {
			out[b] = laneCut{band: b, areas: make([]float64, pieces)}
		}
		return out
	}
	var got []int // pieces of each shell that is changed, as digits
	for _, c := range together([]map[int]laneCut{change(3, 0), change(2, 1, 2), change(5, 0), change(4, 3), change(6, 4)}) {
		n := 0
		for b := range 5 {
			n = 10*n + len(c[b].areas)
		}
		got = append(got, n)
	}
	slices.Sort(got)
	want := []int{46, 2240, 2206, 2246, 30040, 30006, 30046, 32200, 32240, 32206, 50040, 50006, 50046, 52200, 52240, 52206}
	slices.Sort(want)
	if !slices.Equal(got, want) {
		t.Errorf("%v, want %v", got, want)
	}
}

func TestWorthOfACoverage(t *testing.T) {
	for _, c := range []float64{0.01, 0.3, 0.699, 0.7, 0.701, 0.95} {
		if got := worthOf(worth(c)); math.Abs(got-c) > 1e-12 {
			t.Errorf("coverage %v is worth as much as %v", c, got)
		}
	}
}
