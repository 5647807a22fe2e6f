package sheet

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// Edges that two triangles share are none of the outline, however often they lie on each other;
// what is left comes in the order of the triangles.
func TestOutlineIsWhatIsNotShared(t *testing.T) {
	left := 0
	for seed := range uint64(200) {
		rng := rand.New(rand.NewPCG(seed, 11))
		points := []r2.Vec{{}, {X: math.Copysign(0, -1)}} // the same place, written in two ways
		for range 2 + rng.IntN(8) {
			points = append(points, r2.Vec{X: float64(rng.IntN(4)), Y: float64(rng.IntN(4))})
		}
		var tris []planar.Triangle
		for range rng.IntN(30) {
			var tri planar.Triangle
			for k := range tri {
				tri[k] = points[rng.IntN(len(points))]
			}
			if tri.Area() < 0 {
				tri[1], tri[2] = tri[2], tri[1]
			}
			tris = append(tris, tri)
		}
		got, ok := outline(tris)
		if want := unshared(tris); !ok || !slices.Equal(got, want) {
			t.Fatalf("seed %d: %v, want %v", seed, got, want)
		}
		left += len(got)
	}
	if left == 0 {
		t.Error("nothing had an outline: this tries nothing")
	}
}

// unshared counts the edges by their ends.
func unshared(tris []planar.Triangle) (out [][2]r2.Vec) {
	open := map[[2]r2.Vec]int{}
	for _, t := range tris {
		for k := range 3 {
			a, b := t[k], t[(k+1)%3]
			if back := [2]r2.Vec{b, a}; open[back] > 0 {
				open[back]--
			} else {
				open[[2]r2.Vec{a, b}]++
			}
		}
	}
	for _, t := range tris {
		for k := range 3 {
			for e := [2]r2.Vec{t[k], t[(k+1)%3]}; open[e] > 0; open[e]-- {
				out = append(out, e)
			}
		}
	}
	return out
}

// Triangles that are turned over do not tell inside from outside.
func TestOutlineOfATurnedTriangle(t *testing.T) {
	tris := append([]planar.Triangle{}, rect(1, 1).Tris...)
	tris[1][0], tris[1][1] = tris[1][1], tris[1][0]
	if _, ok := outline(tris); ok {
		t.Error("one of two triangles is turned over, and nothing is said")
	}
}
