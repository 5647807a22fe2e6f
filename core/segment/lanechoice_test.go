package segment

import (
	"maps"
	"testing"
)

// What several plans change is taken together, two or more at a time; what none changes stays.
func TestTogether(t *testing.T) {
	cut := func(band, pieces int) laneCut { return laneCut{band: band, areas: make([]float64, pieces)} }
	plan := map[int]laneCut{0: cut(0, 2), 3: cut(3, 4)}
	try := func(band, pieces int) map[int]laneCut {
		out := maps.Clone(plan)
		out[band] = cut(band, pieces)
		return out
	}
	got := map[[3]int]int{} // pieces of the bands that some try changes
	for _, p := range together(plan, []map[int]laneCut{try(0, 3), try(1, 2), try(2, 5)}) {
		if len(p[3].areas) != 4 {
			t.Errorf("what nobody changed is in %d", len(p[3].areas))
		}
		got[[3]int{len(p[0].areas), len(p[1].areas), len(p[2].areas)}]++
	}
	want := map[[3]int]int{{3, 2, 0}: 1, {3, 0, 5}: 1, {2, 2, 5}: 1, {3, 2, 5}: 1}
	if !maps.Equal(got, want) {
		t.Errorf("plans %v, want %v", got, want)
	}
	if n := len(together(plan, []map[int]laneCut{try(0, 3)})); n != 0 {
		t.Errorf("%d plans of one", n)
	}
}
