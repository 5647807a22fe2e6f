package flow_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flatten"
	"morvek/core/flow"
	"morvek/core/mesh/meshtest"
)

func TestBordersComeOnWholePixels(t *testing.T) {
	p := board(t)
	uv := flat(p, 0)
	for i := range uv { // somewhere on the sheet, a little off the pixels
		uv[i] = r2.Add(r2.Vec{X: 0.1003, Y: 0.4321}, r2.Scale(0.07713, uv[i]))
	}
	out, s := flow.SnapToPixels(p, uv, 512)
	if s.Chains != 4 || s.Left != 0 || s.Moved > math.Sqrt(0.5)+1e-9 || s.Moved == 0 {
		t.Errorf("%+v", s)
	}
	lo, hi := out[0], out[0]
	for _, q := range out {
		lo, hi = r2.Vec{X: min(lo.X, q.X), Y: min(lo.Y, q.Y)}, r2.Vec{X: max(hi.X, q.X), Y: max(hi.Y, q.Y)}
	}
	for _, x := range []float64{lo.X, lo.Y, hi.X, hi.Y} {
		if px := 512 * x; px != math.Round(px) {
			t.Errorf("a border lies at %.9f px", px)
		}
	}
	if straight, total := flow.StraightShare(p, out); straight < total*(1-1e-12) || flatten.Flips(p, out) > 0 {
		t.Errorf("%g of %g is straight", straight, total)
	}
	again, s2 := flow.SnapToPixels(p, out, 512)
	for v := range again {
		if again[v] != out[v] || s2.Moved != 0 {
			t.Fatal("snapped twice it moves again")
		}
	}
}

// Stretches closer than a pixel do not fall together, and a disc has none.
func TestNarrowPartsKeepTheirWidth(t *testing.T) {
	p := meshtest.Whole(meshtest.Grid(t, 6, 1, func(u, v float64) r3.Vec { return r3.Vec{X: 3 * u, Z: -0.002 * v} }))
	uv := make([]r2.Vec, len(p.Pos))
	for i, q := range p.Pos {
		uv[i] = r2.Vec{X: 0.2 + 0.1*q.X, Y: 0.3 - 0.1*q.Z}
	}
	out, s := flow.SnapToPixels(p, uv, 1024)
	if s.Left != 1 || flatten.Flips(p, out) > 0 {
		t.Errorf("%+v, %d flips", s, flatten.Flips(p, out))
	}
	disc := meshtest.Whole(meshtest.Lathe(t, 24, r2.Vec{X: 1}, r2.Vec{X: 0.5}))
	round := make([]r2.Vec, len(disc.Pos))
	for i, q := range disc.Pos {
		a := 0.05 // no side of it along an axis
		s, c := math.Sincos(a)
		round[i] = r2.Vec{X: 0.5 + 0.1*(c*q.X-s*q.Z), Y: 0.5 - 0.1*(s*q.X+c*q.Z)}
	}
	if _, s := flow.SnapToPixels(disc, round, 1024); s.Chains != 0 || s.Moved != 0 {
		t.Errorf("a disc: %+v", s)
	}
}
