package ids_test

import (
	"math/rand/v2"
	"slices"
	"testing"

	"morvek/core/ids"
)

func random(r *rand.Rand) []int32 {
	out := make([]int32, r.IntN(20))
	for i := range out {
		out[i] = int32(r.IntN(25))
	}
	return out
}

// Sets behave as the maps of what is in them do, stay ascending, and leave their parents alone.
func TestSetsAreWhatTheirMapsSay(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	for range 500 {
		a, b := ids.Once(random(r)), ids.Once(random(r))
		keptA, keptB := slices.Clone(a), slices.Clone(b)
		inA, inB := ids.Set(a), ids.Set(b)
		for name, c := range map[string]struct {
			got  []int32
			want func(int32) bool
		}{
			"with":    {ids.With(a, b), func(x int32) bool { return inA[x] || inB[x] }},
			"without": {ids.Without(a, b), func(x int32) bool { return inA[x] && !inB[x] }},
			"either":  {ids.Either(a, b), func(x int32) bool { return inA[x] != inB[x] }},
			"back":    {ids.Either(ids.Either(a, b), b), func(x int32) bool { return inA[x] }},
		} {
			var want []int32
			for _, x := range ids.All[int32](25) {
				if c.want(x) {
					want = append(want, x)
				}
			}
			if !slices.Equal(c.got, want) {
				t.Fatalf("%s of %v and %v is %v, want %v", name, a, b, c.got, want)
			}
		}
		if got, want := ids.Meet(a, b), slices.ContainsFunc(a, func(x int32) bool { return inB[x] }); got != want {
			t.Fatalf("%v and %v meet: %v, want %v", a, b, got, want)
		}
		if !slices.Equal(a, keptA) || !slices.Equal(b, keptB) {
			t.Fatal("a set was changed")
		}
	}
}

// Sets that are joined are what can be reached over the joints, and named by their lowest.
func TestForestJoinsWhatHangsTogether(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 9))
	for range 200 {
		const n = 25
		f := ids.NewForest(n)
		lowest := ids.All[int32](n)
		for range r.IntN(40) {
			a, b := int32(r.IntN(n)), int32(r.IntN(n))
			if got := f.Join(a, b); got != (lowest[a] != lowest[b]) {
				t.Fatalf("joining %d and %d: %v", a, b, got)
			}
			from, to := max(lowest[a], lowest[b]), min(lowest[a], lowest[b])
			for i := range lowest {
				if lowest[i] == from {
					lowest[i] = to
				}
			}
		}
		for i := range int32(n) {
			if f.Root(i) != lowest[i] {
				t.Fatalf("%d is in the set of %d, not %d", i, f.Root(i), lowest[i])
			}
		}
	}
}
