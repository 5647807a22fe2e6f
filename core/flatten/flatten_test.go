package flatten_test

import (
	"context"
	"errors"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

func flat(t *testing.T, p *mesh.Patch) flatten.Result {
	t.Helper()
	r, err := flatten.Flatten(context.Background(), p, flatten.Settings{})
	if err != nil {
		t.Fatal(err)
	}
	if n := flatten.Flips(p, r.UV); n != 0 || r.Flips != 0 {
		t.Fatalf("%d triangles are turned over, %d are said to be", n, r.Flips)
	}
	return r
}

// What can lie flat lies flat without stretch, found by iteration alone.
func TestDevelopablesAreIsometric(t *testing.T) {
	for name, at := range map[string]func(u, v float64) r3.Vec{
		"plate": func(u, v float64) r3.Vec { return r3.Vec{X: 2 * u, Z: v} },
		"half a cylinder": func(u, v float64) r3.Vec {
			s, c := math.Sincos(math.Pi * u)
			return r3.Vec{X: c, Y: 2 * v, Z: s}
		},
		"wave": func(u, v float64) r3.Vec { return r3.Vec{X: 3 * u, Y: 0.4 * math.Sin(7*u), Z: v} },
		"cone": func(u, v float64) r3.Vec {
			s, c := math.Sincos(2 * u)
			r := 1 + v
			return r3.Vec{X: r * c, Y: 2 * v, Z: r * s}
		},
	} {
		p := meshtest.Whole(meshtest.Grid(t, 18, 6, at))
		r := flat(t, p)
		if l2, angular := p.Stretch(r.UV); l2 > 1.0005 || angular > 1.003 {
			t.Errorf("%s: L2 %.6f, angular %.6f", name, l2, angular)
		}
	}
}

// The stretch of a cap of a sphere is known to be small but not nothing; energy
// never rises; the result does not depend on where the cap lies or how large it is.
func TestCapOfASphere(t *testing.T) {
	build := func(scale float64, move func(r3.Vec) r3.Vec) *mesh.Patch {
		return meshtest.Whole(meshtest.Grid(t, 12, 12, func(u, v float64) r3.Vec {
			x, y := 1.2*(u-0.5), 1.2*(v-0.5)
			return move(r3.Scale(scale, r3.Vec{X: x, Y: y, Z: math.Sqrt(1 - x*x - y*y)}))
		}))
	}
	same := func(v r3.Vec) r3.Vec { return v }
	p := build(1, same)
	last := math.Inf(1)
	r, err := flatten.Flatten(context.Background(), p, flatten.Settings{Progress: func(s flatten.Step) {
		e := s.Energy
		if e > last*(1+1e-12) {
			t.Errorf("the energy rose from %g to %g", last, e)
		}
		last = e
	}})
	if err != nil {
		t.Fatal(err)
	}
	l2, angular := p.Stretch(r.UV)
	if l2 < 1.0005 || l2 > 1.02 || angular < 1.01 || angular > 1.2 {
		t.Errorf("L2 %g, angular %g", l2, angular)
	}
	q := build(1000, func(v r3.Vec) r3.Vec { return r3.Add(r3.Rotate(v, 1.1, r3.Vec{X: 1, Y: 2}), r3.Vec{X: 500}) })
	moved := flat(t, q)
	if l, a := q.Stretch(moved.UV); math.Abs(l-l2) > 1e-6 || math.Abs(a-angular) > 1e-5 {
		t.Errorf("turned and enlarged: L2 %g for %g, angular %g for %g", l, l2, a, angular)
	}
	again := flat(t, p)
	for i := range again.UV {
		if again.UV[i] != r.UV[i] {
			t.Fatal("two runs differ")
		}
	}
}

// LSCM of a plane is the plane, up to turn and scale.
func TestConformalKeepsAngles(t *testing.T) {
	p := meshtest.Whole(meshtest.Grid(t, 8, 5, func(u, v float64) r3.Vec { return r3.Vec{X: 2 * u, Y: 0.3, Z: -v} }))
	uv, err := flatten.LSCM(context.Background(), p)
	if err != nil {
		t.Fatal(err)
	}
	if l2, angular := p.Stretch(uv); math.Abs(l2-1) > 1e-9 || math.Abs(angular-1) > 1e-8 {
		t.Errorf("a plane is stretched to %g, %g", l2, angular)
	}
}

// Tutte's map folds nowhere, however spiky the surface.
func TestTutteNeverFolds(t *testing.T) {
	p := meshtest.Whole(meshtest.Grid(t, 14, 14, func(u, v float64) r3.Vec {
		return r3.Vec{X: u, Z: -v, Y: 3 * math.Sin(19*u) * math.Cos(23*v)}
	}))
	uv, err := flatten.Tutte(context.Background(), p)
	if err != nil {
		t.Fatal(err)
	}
	if n := flatten.Flips(p, uv); n != 0 {
		t.Errorf("%d triangles are turned over", n)
	}
	flat(t, p) // and neither does the whole
}

// Hard shapes: long slivers, a spike, a strip of 1 : 1000.
func TestHardCasesDoNotFlip(t *testing.T) {
	for name, at := range map[string]func(u, v float64) r3.Vec{
		"strip": func(u, v float64) r3.Vec { return r3.Vec{X: 1000 * u, Z: -v, Y: 5 * math.Sin(40*u)} },
		"spike": func(u, v float64) r3.Vec {
			return r3.Vec{X: u, Z: -v, Y: 4 * math.Exp(-80*((u-0.5)*(u-0.5)+(v-0.5)*(v-0.5)))}
		},
		"slivers": func(u, v float64) r3.Vec { return r3.Vec{X: u * u * u * u, Z: -v, Y: 0.2 * u * v} },
	} {
		p := meshtest.Whole(meshtest.Grid(t, 16, 16, at))
		r, err := flatten.Flatten(context.Background(), p, flatten.Settings{})
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		if r.Flips != 0 {
			t.Errorf("%s: %d flips", name, r.Flips)
		}
	}
}

func TestWhatIsNoDiskIsRefused(t *testing.T) {
	wall := meshtest.Whole(meshtest.Lathe(t, 12, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 1}))
	if _, err := flatten.Flatten(context.Background(), wall, flatten.Settings{}); !errors.Is(err, flatten.ErrNotDisk) {
		t.Errorf("a closed wall gave %v", err)
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	plate := meshtest.Whole(meshtest.Grid(t, 4, 4, func(u, v float64) r3.Vec { return r3.Vec{X: u, Z: -v} }))
	if _, err := flatten.Flatten(ctx, plate, flatten.Settings{}); !errors.Is(err, context.Canceled) {
		t.Errorf("cancelled: %v", err)
	}
}
