package flow_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flow"
	"morvek/core/mesh/meshtest"
)

// A label on a wall stands up, on a plate that lies flat its top is away from the reader,
// and on one that is screwed on a little askew it goes along the plate.
func TestLabelsStandAsOneReadsThem(t *testing.T) {
	up, back := r3.Vec{Y: 1}, r3.Vec{Z: -1}
	set := flow.Settings{Up: up, Back: back}
	s, c := math.Sincos(0.15)
	for _, x := range []struct {
		name     string
		at       func(u, v float64) r3.Vec
		quarters int
		want     r3.Vec
	}{
		{"a wall", func(u, v float64) r3.Vec { return r3.Vec{X: 3 * u, Y: v} }, 0, up},
		{"a lid", func(u, v float64) r3.Vec { return r3.Vec{X: 3 * u, Z: -v} }, 0, back},
		{"a plate askew", func(u, v float64) r3.Vec { return r3.Vec{X: 3*c*u - s*v, Y: 3*s*u + c*v} }, 0, r3.Vec{X: -s, Y: c}},
		{"a wall, a quarter on", func(u, v float64) r3.Vec { return r3.Vec{X: 3 * u, Y: v} }, 1, r3.Vec{X: -1}},
		{"a wall, on its head", func(u, v float64) r3.Vec { return r3.Vec{X: 3 * u, Y: v} }, -2, r3.Vec{Y: -1}},
	} {
		m := meshtest.Grid(t, 6, 2, x.at)
		l, ok := flow.NewLabel(m, "word", meshtest.All(m), set, x.quarters)
		if !ok || r3.Norm(r3.Sub(l.Up, x.want)) > 1e-6 {
			t.Errorf("%s: up is %v, want %v", x.name, l.Up, x.want)
		}
	}
	ball := meshtest.Tube(t, 1, 8, r3.Vec{}, r3.Vec{Z: 1})
	if _, ok := flow.NewLabel(ball, "word", meshtest.All(ball), set, 0); ok {
		t.Error("faces that look all ways have no front")
	}
}

func TestUprightTurnsTheShell(t *testing.T) {
	p := board(t) // normal up, so its top is back
	l, _ := flow.NewLabel(p.Mesh, "word", meshtest.All(p.Mesh), flow.Settings{Up: r3.Vec{Y: 1}, Back: r3.Vec{Z: -1}}, 0)
	for _, turn := range []float64{0, 0.4, 1.7, math.Pi, -2.5} {
		uv := flat(p, turn)
		l.Upright(p, uv)
		for i, a := range p.Pos {
			for j, b := range p.Pos {
				if dv := uv[j].Y - uv[i].Y; math.Abs(dv-(a.Z-b.Z)) > 1e-9 {
					t.Fatalf("turned by %g: %v to %v rises %g on the sheet", turn, a, b, dv)
				}
			}
		}
	}
	before := flat(p, 1)
	other := flow.Label{Word: "elsewhere", Up: r3.Vec{Z: -1}}
	other.Upright(p, before)
	for i, q := range flat(p, 1) {
		if before[i] != q {
			t.Fatal("a label that is not on it turned the shell")
		}
	}
}
