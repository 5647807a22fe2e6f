package flatten_test

import (
	"context"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// angleError is the root mean square of how far the angles on the sheet are from those
// of the surface, relative to the latter where they fit around each point.
func angleError(p *mesh.Patch, uv []r2.Vec) float64 {
	var sum float64
	for _, t := range p.Tris {
		for k := range 3 {
			a, b, c := t[k], t[(k+1)%3], t[(k+2)%3]
			u, v := r2.Sub(uv[b], uv[a]), r2.Sub(uv[c], uv[a])
			flat := math.Atan2(r2.Cross(u, v), r2.Dot(u, v))
			true_ := mesh.Angle(r3.Sub(p.Pos[b], p.Pos[a]), r3.Sub(p.Pos[c], p.Pos[a]))
			sum += (flat/true_ - 1) * (flat/true_ - 1)
		}
	}
	return math.Sqrt(sum / float64(3*len(p.Tris)))
}

// A cap of the sphere has maps that keep all angles (the stereographic projection is
// one): both methods come nearer to one as the mesh gets finer.
func TestAnglesOfACapAreKept(t *testing.T) {
	for name, flat := range map[string]func(context.Context, *mesh.Patch) ([]r2.Vec, error){"LSCM": flatten.LSCM, "angle-based": flatten.AngleBased} {
		last := math.Inf(1)
		for _, k := range []int{8, 16, 32} {
			p := meshtest.Whole(meshtest.Grid(t, k, k, func(u, v float64) r3.Vec {
				x, y := 1.2*(u-0.5), 1.2*(v-0.5)
				d := 1 + x*x + y*y
				return r3.Vec{X: 2 * x / d, Y: 2 * y / d, Z: (2 - d) / d}
			}))
			uv, err := flat(context.Background(), p)
			if err != nil || flatten.Flips(p, uv) != 0 {
				t.Fatalf("%s: %v, %d flips", name, err, flatten.Flips(p, uv))
			}
			known := make([]r2.Vec, len(uv))
			for v, q := range p.Pos {
				known[v] = r2.Vec{X: q.X / (1 + q.Z), Y: q.Y / (1 + q.Z)}
			}
			e, best := angleError(p, uv), angleError(p, known)
			if e > 0.7*last || e > 1.02*best {
				t.Errorf("%s, %d: angles are off by %g, before %g; those of the projection by %g", name, k, e, last, best)
			}
			last = e
		}
	}
}

// Where the surface is uneven, the map by angles keeps them better than least squares.
func TestAngleBasedKeepsAnglesBest(t *testing.T) {
	p, _ := hill(t)
	by, err := flatten.AngleBased(context.Background(), p)
	if err != nil {
		t.Fatal(err)
	}
	least, err := flatten.LSCM(context.Background(), p)
	if err != nil {
		t.Fatal(err)
	}
	tutte, err := flatten.Tutte(context.Background(), p)
	if err != nil {
		t.Fatal(err)
	}
	a, l, r := angleError(p, by), angleError(p, least), angleError(p, tutte)
	if a > 1.02*l || a > 0.5*r {
		t.Errorf("angles are off by %g, by LSCM %g, with a round border %g", a, l, r)
	}
}

// A developable surface lies flat with its own angles.
func TestAngleBasedOfADevelopableIsExact(t *testing.T) {
	p := meshtest.Whole(meshtest.Grid(t, 14, 5, func(u, v float64) r3.Vec {
		s, c := math.Sincos(4 * u)
		return r3.Vec{X: s, Y: v, Z: c}
	}))
	uv, err := flatten.AngleBased(context.Background(), p)
	if err != nil {
		t.Fatal(err)
	}
	if e := angleError(p, uv); e > 1e-5 {
		t.Errorf("angles are off by %g", e)
	}
}
