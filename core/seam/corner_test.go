package seam

import (
	"math"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// tray is a plate with its four edges turned down, each a row of n quads.
func tray(t *testing.T, n int) *mesh.Mesh {
	t.Helper()
	w := meshtest.NewWelder()
	f := float64(n)
	at := func(x, y, z float64) mesh.PointID { return w.Point(r3.Vec{X: x, Y: y, Z: z}) }
	for i := range n {
		for j := range n {
			x, z := float64(i), float64(j)
			w.Face(at(x, 0, z), at(x, 0, z+1), at(x+1, 0, z+1), at(x+1, 0, z))
		}
		a, b := float64(i), float64(i)+1
		w.Face(at(a, 0, 0), at(b, 0, 0), at(b, -1, 0), at(a, -1, 0))
		w.Face(at(b, 0, f), at(a, 0, f), at(a, -1, f), at(b, -1, f))
		w.Face(at(0, 0, b), at(0, 0, a), at(0, -1, a), at(0, -1, b))
		w.Face(at(f, 0, a), at(f, 0, b), at(f, -1, b), at(f, -1, a))
	}
	return w.Mesh(t)
}

// A plate with turned edges needs a cut at each corner, along the mitre.
func TestTurnedEdgesNeedFourCornerCuts(t *testing.T) {
	for _, n := range []int{1, 3, 6} {
		m := tray(t, n)
		cuts := Corners(meshtest.Whole(m), nothing)
		if len(cuts) != 4 {
			t.Fatalf("%d × %d: %d edges are cut, want four corners", n, n, len(cuts))
		}
		for _, e := range cuts {
			if d := math.Abs(m.EdgeVec(m.EdgeHalf(e)).Y); d < 0.99 {
				t.Errorf("edge %d does not run down a corner", e)
			}
		}
		p := mesh.NewPatch(m, meshtest.All(m), func(e mesh.EdgeID) bool { return slices.Contains(cuts, e) })
		defect, border := p.Defects()
		for v, k := range defect {
			if !border[v] && math.Abs(k) > 1e-9 {
				t.Errorf("an inner point keeps a defect of %g", k)
			}
		}
		if !p.IsDisk() {
			t.Error("the cut plate is no disk")
		}
	}
}

func TestFlatAndRoundNeedNoCornerCuts(t *testing.T) {
	flat := meshtest.Grid(t, 5, 5, func(u, v float64) r3.Vec { return r3.Vec{X: u, Z: v} })
	wall := meshtest.Lathe(t, 20, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 1}, r2.Vec{X: 1, Y: 2})
	for name, m := range map[string]*mesh.Mesh{"plate": flat, "wall": wall} {
		if cuts := Corners(meshtest.Whole(m), nothing); len(cuts) != 0 {
			t.Errorf("%s: %d corner cuts", name, len(cuts))
		}
	}
}

// dome is a hemisphere of n sides.
func dome(t *testing.T, n int) *mesh.Mesh {
	t.Helper()
	var profile []r2.Vec
	for i := range 9 {
		s, c := math.Sincos(math.Pi / 2 * float64(i) / 8)
		profile = append(profile, r2.Vec{X: math.Max(0, c), Y: s})
	}
	profile[8].X = 0
	return meshtest.Lathe(t, n, profile...)
}

// Darts start at the rim, are evenly spread, stop short of the middle and leave
// one piece.
func TestDartsOfADome(t *testing.T) {
	m := dome(t, 24)
	p := meshtest.Whole(m)
	one := func(mesh.EdgeID) float64 { return 1 }
	for _, n := range []int{3, 4, 6} {
		cuts := Darts(p, n, 0.7, one)
		if len(cuts) == 0 || len(cuts)%n != 0 {
			t.Fatalf("%d darts of %d edges", n, len(cuts))
		}
		q := mesh.NewPatch(m, meshtest.All(m), func(e mesh.EdgeID) bool { return slices.Contains(cuts, e) })
		if !q.IsDisk() {
			t.Errorf("%d darts leave no disk", n)
		}
		top := 0.0
		for _, e := range cuts {
			h := m.EdgeHalf(e)
			top = math.Max(top, math.Max(m.Points[m.From(h)].Y, m.Points[m.To(h)].Y))
		}
		if top > 0.97 || top < 0.6 {
			t.Errorf("%d darts reach a height of %g of 1", n, top)
		}
	}
	if cuts := Darts(p, 0, 0.7, one); len(cuts) != 0 {
		t.Errorf("no darts are %d edges", len(cuts))
	}
	// They turn to where it costs least: here the far side is dear.
	dear := func(e mesh.EdgeID) float64 {
		if v := m.Points[m.From(m.EdgeHalf(e))]; math.Abs(v.X) < 0.05 {
			return 100
		}
		return 1
	}
	for _, e := range Darts(p, 4, 0.5, dear) {
		if dear(e) > 1 {
			t.Error("a dart runs where it is dear although it need not")
			break
		}
	}
}

// Cuts along bends keep to the side that is asked for.
func TestAlongBends(t *testing.T) {
	torus := shape.Fit{Kind: shape.Torus, Axis: r3.Vec{Y: 1}, Major: 3, Radius: 1}
	swept := shape.Fit{Kind: shape.Swept, Spine: meshtest.Arc(r3.Vec{}, 3, 0, 8)}
	for _, c := range []struct {
		name    string
		fit     shape.Fit
		outside r3.Vec
		inside  r3.Vec
	}{
		{"torus", torus, r3.Vec{X: 4}, r3.Vec{X: 2}},
		{"swept", swept, r3.Scale(4/math.Sqrt2, r3.Vec{X: 1, Y: 1}), r3.Scale(2/math.Sqrt2, r3.Vec{X: 1, Y: 1})},
	} {
		side := bendSide(c.fit)
		if out, in := side(c.outside), side(c.inside); out < 0.9 || in > -0.9 {
			t.Errorf("%s: the outside counts %g, the inside %g", c.name, out, in)
		}
	}
	m := meshtest.Tube(t, 1, 12, meshtest.Arc(r3.Vec{}, 3, 0, 8)...)
	one := func(mesh.EdgeID) float64 { return 1 }
	outer, inner := AlongBends(m, swept, one, 1), AlongBends(m, swept, one, -1)
	best := func(c Cost) (far float64) {
		cheap := math.Inf(1)
		for e := range m.NumEdges() {
			id := mesh.EdgeID(e)
			if v := c(id); v < cheap {
				h := m.EdgeHalf(id)
				cheap, far = v, r3.Norm(r3.Add(m.Points[m.From(h)], m.Points[m.To(h)]))/2
			}
		}
		return far
	}
	if o, i := best(outer), best(inner); o < 3.5 || i > 2.5 {
		t.Errorf("the cheapest edges lie %g and %g from the middle of the bend, want 4 and 2", o, i)
	}
}

func nothing(mesh.EdgeID) bool { return false }
