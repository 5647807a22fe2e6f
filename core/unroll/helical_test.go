package unroll_test

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
	"morvek/core/unroll"
)

// A crest lies flat as it is, a flank nearly so; the edges of both run level, and nothing
// turns over, whichever hand the thread has.
func TestThreadsAreStraightStrips(t *testing.T) {
	for _, pitch := range []float64{0.4, -0.4} {
		fit := shape.Fit{Kind: shape.Helix, Axis: r3.Vec{Z: 1}, Pitch: pitch}
		for name, c := range map[string]struct {
			to      r2.Vec // end of the profile
			l2, bad float64
		}{
			"crest": {r2.Vec{X: 1, Y: 0.1}, 1 + 1e-5, 1.005},
			"flank": {r2.Vec{X: 1.1, Y: 0.05}, 1.003, 1.08},
		} {
			m := meshtest.Screw(t, 48, 5, pitch, r2.Vec{X: 1}, c.to)
			p := meshtest.Whole(m)
			uv, closes := unroll.Helical(p, fit)
			if l2, angular := p.Stretch(uv); !closes || l2 > c.l2 || angular > c.bad {
				t.Errorf("%s, pitch %g: closes %v, L2 %g, angular %g", name, pitch, closes, l2, angular)
			}
			if n := flatten.Flips(p, uv); n != 0 && n != len(p.Tris) { // seen from either side
				t.Errorf("%s, pitch %g: %d of %d triangles turned over", name, pitch, n, len(p.Tris))
			}
			level := map[bool]float64{}
			for i, q := range p.Pos {
				if outer := math.Hypot(q.X, q.Y) > 1.05; name == "flank" {
					if was, ok := level[outer]; ok && math.Abs(uv[i].Y-was) > 1e-6 {
						t.Fatalf("pitch %g: an edge is not level: %g and %g", pitch, uv[i].Y, was)
					}
					level[outer] = uv[i].Y
				}
			}
			long := 5 * 2 * math.Pi * math.Hypot(1, pitch/(2*math.Pi))
			if size := sizeOf(uv); name == "crest" && math.Abs(size.X/long-1) > 0.01 {
				t.Errorf("crest: %g long, a helix is %g", size.X, long)
			}
		}
	}
}

func sizeOf(uv []r2.Vec) r2.Vec {
	lo, hi := uv[0], uv[0]
	for _, q := range uv {
		lo, hi = r2.Vec{X: min(lo.X, q.X), Y: min(lo.Y, q.Y)}, r2.Vec{X: max(hi.X, q.X), Y: max(hi.Y, q.Y)}
	}
	return r2.Sub(hi, lo)
}

// A whole flank of many turns is laid in one; unfolded its turns would lie on each other.
func TestAFlankIsNotUnfolded(t *testing.T) {
	m := meshtest.Screw(t, 32, 6, 0.4, r2.Vec{X: 1}, r2.Vec{X: 1.15, Y: 0.1})
	p := mesh.NewPatch(m, meshtest.All(m), func(mesh.EdgeID) bool { return false })
	r, err := unroll.Unroll(context.Background(), p, shape.Fit{Kind: shape.Helix, Axis: r3.Vec{Z: 1}, Pitch: 0.4}, flatten.Settings{})
	if err != nil || r.Method != "along its thread" || unroll.Tangled(p, r.UV) {
		t.Errorf("laid %q, %v", r.Method, err)
	}
}
