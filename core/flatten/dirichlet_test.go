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

// openTorus is half a ring of a tube, slit along its inner side: a conformal map of it
// is squeezed a hundredfold at the ends.
func openTorus(t testing.TB, k int) *mesh.Mesh {
	return meshtest.Grid(t, k, k, func(u, v float64) r3.Vec {
		su, cu := math.Sincos(math.Pi * u)
		sv, cv := math.Sincos(-1.96 * math.Pi * v)
		return r3.Vec{X: (3 + cv) * su, Y: sv, Z: (3 + cv) * cu}
	})
}

// spike is a dome that rises to a needle: its conformal map folds nothing but squeezes
// the tip.
func spike(t testing.TB) *mesh.Mesh {
	return meshtest.Grid(t, 24, 24, func(u, v float64) r3.Vec {
		x, z := u-0.5, v-0.5
		return r3.Vec{X: x, Z: z, Y: 1.5 * math.Exp(-40*(x*x+z*z))}
	})
}

// sliver is a panel of quads a thousand times as long as wide.
func sliver(t testing.TB) *mesh.Mesh {
	return meshtest.Grid(t, 8, 60, func(u, v float64) r3.Vec {
		return r3.Vec{X: u, Z: 0.06 * v, Y: 0.05 * math.Sin(3*u)}
	})
}

func TestDirichletEnergyFallsAndNothingTurnsOver(t *testing.T) {
	for name, m := range map[string]*mesh.Mesh{"open torus": openTorus(t, 24), "spike": spike(t), "sliver": sliver(t)} {
		p := meshtest.Whole(m)
		start, err := flatten.Tutte(context.Background(), p)
		if err != nil {
			t.Fatal(err)
		}
		last := math.Inf(1)
		r, err := flatten.SymmetricDirichlet(context.Background(), p, start, flatten.Settings{Progress: func(s flatten.Step) {
			energy := s.Energy
			if energy > last {
				t.Errorf("%s: the energy rose from %g to %g", name, last, energy)
			}
			last = energy
		}})
		if err != nil {
			t.Fatal(err)
		}
		if r.Flips != 0 || flatten.Flips(p, r.UV) != 0 || r.Energy < 1-1e-9 || r.Iterations == 0 {
			t.Errorf("%s: %d flips, energy %g after %d rounds", name, r.Flips, r.Energy, r.Iterations)
		}
	}
}

func TestAnIsometryStaysAsItIs(t *testing.T) {
	m := meshtest.Grid(t, 9, 7, func(u, v float64) r3.Vec { return r3.Vec{X: 3 * u, Z: v} })
	p := meshtest.Whole(m)
	flat := make([]r2.Vec, len(p.Pos))
	for i, q := range p.Pos {
		flat[i] = r2.Vec{X: q.Z + 5, Y: q.X - 2} // turned so that it faces up, and moved
	}
	if flatten.Flips(p, flat) > 0 {
		for i := range flat {
			flat[i].X = -flat[i].X
		}
	}
	r, err := flatten.SymmetricDirichlet(context.Background(), p, flat, flatten.Settings{})
	if err != nil || math.Abs(r.Energy-1) > 1e-9 {
		t.Fatalf("energy %.12g, %v", r.Energy, err)
	}
	for i, q := range r.UV {
		if r2.Norm(r2.Sub(q, flat[i])) > 1e-6 {
			t.Fatalf("vertex %d moved from %v to %v", i, flat[i], q)
		}
	}
}

// What the conformal start squeezes to nothing comes out with little stretch, the same
// for a model turned, moved and scaled.
func TestNoTriangleIsLeftCollapsed(t *testing.T) {
	turn := r3.NewRotation(0.9, r3.Unit(r3.Vec{X: 1, Y: 1, Z: -2}))
	var first float64
	for i, f := range []func(r3.Vec) r3.Vec{
		func(p r3.Vec) r3.Vec { return p },
		func(p r3.Vec) r3.Vec { return r3.Add(r3.Scale(1000, turn.Rotate(p)), r3.Vec{X: 5}) },
		func(p r3.Vec) r3.Vec { return r3.Scale(1e-3, p) },
	} {
		p := meshtest.Whole(meshtest.Mapped(t, openTorus(t, 32), f))
		r, err := flatten.Flatten(context.Background(), p, flatten.Settings{})
		if err != nil || r.Flips != 0 {
			t.Fatalf("%d flips, %v", r.Flips, err)
		}
		flatten.TrueScale(p, r.UV)
		l2, _ := p.Stretch(r.UV)
		if l2 > 1.03 {
			t.Errorf("L2 %g, want at most 1.03", l2)
		}
		if i == 0 {
			first = l2
		} else if math.Abs(l2-first) > 1e-3 {
			t.Errorf("L2 %g, as it stands %g", l2, first)
		}
	}
}

func TestDirichletCanBeCancelled(t *testing.T) {
	p := meshtest.Whole(openTorus(t, 24))
	start, err := flatten.Tutte(context.Background(), p)
	if err != nil {
		t.Fatal(err)
	}
	ctx, cancel := context.WithCancel(context.Background())
	_, err = flatten.SymmetricDirichlet(ctx, p, start, flatten.Settings{Progress: func(flatten.Step) { cancel() }})
	if !errors.Is(err, context.Canceled) {
		t.Errorf("cancelled after the first round: %v", err)
	}
}
