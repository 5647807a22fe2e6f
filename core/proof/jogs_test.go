package proof_test

import (
	"math"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/atlas"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/proof"
)

// A seam across a flat sheet of 12 by 4 steps up and down as often as it is told to.
func TestJogs(t *testing.T) {
	m := meshtest.Grid(t, 12, 4, func(u, v float64) r3.Vec { return r3.Vec{X: 12 * u, Y: 4 * v} })
	c := atlas.New(m)
	for h, p := range m.CornerPoint {
		c.Put(mesh.HalfedgeID(h), r2.Scale(0.05, r2.Vec{X: m.Points[p].X, Y: m.Points[p].Y}))
	}
	for f := range c.Mapped() {
		c.SetMapped(mesh.FaceID(f), true)
	}
	for _, steps := range []int{0, 1, 2, 5} {
		height := func(x float64) float64 { // of the seam over the cell at x
			k := min(int(x/2), steps)
			return 2 + float64(k%2)
		}
		above := func(f mesh.FaceID) bool {
			q := m.FaceCentre(f)
			return q.Y > height(q.X)
		}
		cut := func(e mesh.EdgeID) bool {
			a, b := m.EdgeFaces(e)
			return b != mesh.None && above(a) != above(b)
		}
		r := measure(m, c, func(in *proof.Input) {
			cutWhere(in, cut)
			in.Part = func(mesh.FaceID) int { return 0 }
		})
		// Each step turns there and back; from a step up to a step down it turns one way.
		if r.Totals.Jogs != steps {
			t.Errorf("%d steps: %d jogs", steps, r.Totals.Jogs)
		}
		if crooked := slices.Contains(kinds(r), proof.Crooked); crooked != (r.Totals.Jogs > 2) {
			t.Errorf("%d steps: found crooked: %v", steps, crooked)
		}
	}
}

// A seam along the creases of a box, corners and all, has none; nor has a straight opening,
// down a groove and up again or not.
func TestCreasesHaveNoJogs(t *testing.T) {
	m := meshtest.Prism(t, 2, r2.Vec{}, r2.Vec{X: 3}, r2.Vec{X: 3, Y: 1}, r2.Vec{Y: 1})
	c := atlas.New(m)
	for f := range c.Mapped() {
		c.SetMapped(mesh.FaceID(f), true)
	}
	in := func(in *proof.Input) { cutWhere(in, func(mesh.EdgeID) bool { return true }) }
	if n := measure(m, c, in).Totals.Jogs; n != 0 {
		t.Errorf("a box has %d jogs", n)
	}
	m = meshtest.Lathe(t, 16, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 1}, r2.Vec{X: 0.7, Y: 1.2}, r2.Vec{X: 0.7, Y: 1.8}, r2.Vec{X: 1, Y: 2}, r2.Vec{X: 1, Y: 3})
	c = atlas.New(m)
	for f := range c.Mapped() {
		c.SetMapped(mesh.FaceID(f), true)
	}
	straight := func(in *proof.Input) {
		cutWhere(in, func(e mesh.EdgeID) bool {
			h := m.EdgeHalf(e)
			a, b := m.Points[m.From(h)], m.Points[m.To(h)]
			return math.Abs(a.Z) < 1e-9 && math.Abs(b.Z) < 1e-9 && a.X > 0
		})
	}
	if n := measure(m, c, straight).Totals.Jogs; n != 0 {
		t.Errorf("a straight opening has %d jogs", n)
	}
}

func cutWhere(in *proof.Input, where func(mesh.EdgeID) bool) {
	for e := range in.Map.Cuts() {
		in.Map.SetCut(mesh.EdgeID(e), where(mesh.EdgeID(e)))
	}
}
