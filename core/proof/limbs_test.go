package proof_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/atlas"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/proof"
)

// A ring cut open: its ends face each other with nothing between; how near is told in px. The
// two rims of its band have the band between them, and a straight board has no limbs.
func TestLimbsOfOneShell(t *testing.T) {
	const n = 48
	ring := func(gap float64) (*mesh.Mesh, *atlas.Map) { // angle left open
		at := func(u, v float64) r3.Vec {
			a, r := gap/2+(2*math.Pi-gap)*u, 0.2+0.002*v
			return r3.Vec{X: 0.5 + r*math.Cos(a), Y: 0.5 + r*math.Sin(a)}
		}
		m := meshtest.Grid(t, n, 1, at)
		c := atlas.New(m)
		p := meshtest.Whole(m)
		uv := make([]r2.Vec, len(p.Pos))
		for i, q := range p.Pos {
			uv[i] = r2.Vec{X: q.X, Y: q.Y}
		}
		c.Set(p, uv)
		return m, c
	}
	for _, c := range []struct {
		gap   float64
		found bool
	}{{0.01, true}, {0.3, false}} {
		m, cut := ring(c.gap)
		r := measure(m, cut, func(in *proof.Input) { in.Sheet = proof.Sheet{Size: 1000, Padding: 8, Margin: 0, Tiles: 1} })
		var px float64
		for _, f := range r.Findings {
			if f.Kind == proof.Limbs {
				px = f.Value
			}
		}
		want := 1000 * 2 * 0.2 * math.Sin(c.gap/2)
		if (px > 0) != c.found || c.found && math.Abs(px-want) > 0.02 {
			t.Errorf("open by %g: %g px found, the ends are %g apart", c.gap, px, want)
		}
	}
}
