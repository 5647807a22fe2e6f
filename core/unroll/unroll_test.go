package unroll

import (
	"context"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// sheetOf is an n × rows grid of quads over a function of two parameters.
func sheetOf(t testing.TB, n, rows int, at func(u, v float64) r3.Vec) *mesh.Patch {
	return meshtest.Whole(meshtest.Grid(t, n, rows, at))
}

func worstStretch(p *mesh.Patch, uv []r2.Vec) float64 {
	worst := 0.0
	d, _ := p.Differentials(uv)
	for _, x := range d {
		s1, s2 := x.Stretch()
		worst = max(worst, math.Abs(s1-1), math.Abs(s2-1))
	}
	return worst
}

func TestDevelopablesUnrollToIsometries(t *testing.T) {
	cyl := func(u, v float64) r3.Vec {
		s, c := math.Sincos(5.5 * u)
		return r3.Vec{X: s, Y: 2 * v, Z: c}
	}
	cone := func(u, v float64) r3.Vec {
		s, c := math.Sincos(5.5 * u)
		r := 1 - 0.7*v
		return r3.Vec{X: r * s, Y: 1.3 * v, Z: r * c}
	}
	bent := func(u, v float64) r3.Vec {
		if u < 0.4 {
			return r3.Vec{X: -1 + u/0.4, Y: 0, Z: v}
		}
		s, c := math.Sincos((u - 0.4) * 2)
		return r3.Vec{X: s, Y: 1 - c, Z: v}
	}
	for name, f := range map[string]func(u, v float64) r3.Vec{"cylinder": cyl, "cone": cone, "bent sheet": bent} {
		for _, scale := range []float64{1, 1000, 1e-3} {
			p := sheetOf(t, 24, 5, func(u, v float64) r3.Vec { return r3.Scale(scale, f(u, v)) })
			r, err := Unroll(context.Background(), p, shape.Fit{Kind: shape.Free}, flatten.Settings{})
			if err != nil {
				t.Fatal(err)
			}
			if w := worstStretch(p, r.UV); w > 1e-6 || r.Method != "unfolded" {
				t.Errorf("%s ×%g: stretch off by %g, %s", name, scale, w, r.Method)
			}
		}
	}
}

func TestCylinderIsAsWideAsItsChords(t *testing.T) {
	const n = 12
	p := sheetOf(t, n, 3, func(u, v float64) r3.Vec {
		s, c := math.Sincos(2 * math.Pi * u * 0.999999)
		return r3.Vec{X: s, Y: v, Z: c}
	})
	uv, gap := Unfold(p)
	if gap > 1e-9 {
		t.Fatalf("the unfolding does not close: %g", gap)
	}
	lo, hi := math.Inf(1), math.Inf(-1)
	for i, q := range p.Pos { // the rulings are the lines of equal height: measure along the lowest row
		if q.Y < 1e-9 {
			d := r2.Norm(r2.Sub(uv[i], uv[0]))
			lo, hi = min(lo, d), max(hi, d)
		}
	}
	want := n * 2 * math.Sin(math.Pi/n)
	if math.Abs(hi-want) > 1e-4*want {
		t.Errorf("width %g, want the chords' %g (not 2π = %g)", hi, want, 2*math.Pi)
	}
}

func TestTurnedWallIsARectangle(t *testing.T) {
	profile := []r2.Vec{{X: 1}, {X: 1, Y: 0.5}, {X: 1.05, Y: 0.55}, {X: 1.05, Y: 1}}
	p := sheetOf(t, 32, 3, func(u, v float64) r3.Vec {
		q := profile[int(math.Round(v*3))]
		s, c := math.Sincos(2 * math.Pi * u * 0.9999)
		return r3.Vec{X: q.X * s, Y: q.Y, Z: q.X * c}
	})
	uv, closes := Turned(p, shape.Fit{Kind: shape.Turned, Axis: r3.Vec{Y: 1}})
	if !closes || flatten.Flips(p, uv) != 0 {
		t.Fatalf("closes %v, %d flips", closes, flatten.Flips(p, uv))
	}
	for i, q := range p.Pos {
		var s float64 // way along the profile
		for k := 1; k < len(profile); k++ {
			if q.Y > profile[k-1].Y+1e-9 {
				d := r2.Sub(profile[k], profile[k-1])
				d.X *= math.Cos(math.Pi * 0.9999 / 32) // the facets lean in by their sagitta
				s += r2.Norm(d)
			}
		}
		if math.Abs(uv[i].Y-uv[0].Y-s) > 1e-6 {
			t.Fatalf("a point at height %g lies at V %g, want %g", q.Y, uv[i].Y-uv[0].Y, s)
		}
	}
	// The radii differ by a twentieth, and the slanted facets of the bevel shear.
	if w := worstStretch(p, uv); w > 0.06 {
		t.Errorf("stretch off by %g", w)
	}
}

func TestFlattenNeverFlips(t *testing.T) {
	shapes := map[string]func(u, v float64) r3.Vec{
		"dome": func(u, v float64) r3.Vec { x, y := 2*u-1, 2*v-1; return r3.Vec{X: x, Y: 1.2 - 0.6*(x*x+y*y), Z: y} },
		"spike": func(u, v float64) r3.Vec {
			x, y := 2*u-1, 2*v-1
			return r3.Vec{X: x, Y: 4 * math.Exp(-12*(x*x+y*y)), Z: y}
		},
		"strip": func(u, v float64) r3.Vec { return r3.Vec{X: 1000 * u, Y: math.Sin(9 * u), Z: v} },
	}
	for name, f := range shapes {
		p := sheetOf(t, 20, 20, f)
		last := [2]float64{math.Inf(1), math.Inf(1)}
		r, err := flatten.Flatten(context.Background(), p, flatten.Settings{Progress: func(s flatten.Step) {
			if s.Energy > last[s.Phase]+1e-12 {
				t.Errorf("%s: the energy rises from %g to %g", name, last[s.Phase], s.Energy)
			}
			last[s.Phase] = s.Energy
		}})
		if err != nil || r.Flips != 0 || flatten.Flips(p, r.UV) != 0 {
			t.Errorf("%s: %d flips, %v", name, r.Flips, err)
		}
	}
}

func TestTubeIsRefusedWithoutOpening(t *testing.T) {
	p := sheetOf(t, 8, 2, func(u, v float64) r3.Vec {
		s, c := math.Sincos(2 * math.Pi * math.Round(u*8) / 8)
		return r3.Vec{X: math.Round(s*1e9) / 1e9, Y: v, Z: math.Round(c*1e9) / 1e9}
	})
	if _, err := flatten.Flatten(context.Background(), p, flatten.Settings{}); err != flatten.ErrNotDisk {
		t.Errorf("a closed tube was flattened: %v", err)
	}
}
