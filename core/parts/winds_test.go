package parts

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// bandOf goes round the z axis by so many turns, rises by so much on its way, and is so high.
func bandOf(t *testing.T, turns, rise, high float64) *mesh.Mesh {
	w := meshtest.NewWelder()
	n := int(24 * turns)
	at := func(i int, z float64) mesh.PointID {
		a := 2 * math.Pi * float64(i) / 24
		return w.Point(r3.Vec{X: 10 * math.Cos(a), Y: 10 * math.Sin(a), Z: z + rise*float64(i)/float64(n)})
	}
	for i := range n {
		w.Face(at(i, 0), at(i+1, 0), at(i+1, high))
		w.Face(at(i, 0), at(i+1, high), at(i, high))
	}
	return w.Mesh(t)
}

// A screw of any pitch leaves a round band as it is; it winds only if it goes on along its axis by what
// can be told, and its pitch is not so long that all of it stands side by side.
func TestWhatHardlyAdvancesDoesNotWind(t *testing.T) {
	for _, c := range []struct {
		name                     string
		turns, rise, high, pitch float64
		want                     bool
	}{
		{"thread", 2, 4, 1, 2, true},
		{"short thread", 0.75, 3, 1, 4, true},
		{"fine thread of many turns", 4, 1.2, 0.2, 0.3, true},
		{"rim that hardly rises", 0.75, 0.005, 2, 0.007, false},
		{"half pipe", 0.75, 0, 40, 4000, false},
		{"too short a way round", 0.25, 1, 1, 4, false},
	} {
		m := bandOf(t, c.turns, c.rise, c.high)
		tol := newTolerance(m, 0)
		g := &model{mesh: m, list: facets(m, meshtest.All(m), coarseAngle, tol), tol: tol, diag: m.Diagonal()}
		set := make([]int, len(g.list))
		for i := range set {
			set[i] = i
		}
		fit := shape.Fit{Kind: shape.Helix, Axis: r3.Vec{Z: 1}, Pitch: c.pitch, Radius: 10}
		if got := g.winds(set, fit); got != c.want {
			t.Errorf("%s: winds %v", c.name, got)
		}
	}
}
