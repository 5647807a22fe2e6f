package parts_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/parts"
)

// carafe is a turned form of a dome, a ring, walls, cones and rings again, none of which a crease parts.
func carafe(t *testing.T) *mesh.Mesh {
	var profile []r2.Vec
	arc := func(c r2.Vec, r, from, to float64, n int) {
		for k := range n + 1 {
			a := (from + (to-from)*float64(k)/float64(n)) * math.Pi / 180
			p := r2.Vec{X: c.X + r*math.Cos(a), Y: c.Y + r*math.Sin(a)}
			if n := len(profile); n == 0 || r2.Norm(r2.Sub(p, profile[n-1])) > 1e-9 {
				profile = append(profile, p)
			}
		}
	}
	arc(r2.Vec{Y: -0.063}, 0.0683, 80, 64, 5)              // dome below
	arc(r2.Vec{X: 0.0328, Y: 0.0042}, 0.0052, 244, 360, 4) // foot
	arc(r2.Vec{X: 0.016, Y: 0.08}, 0.022, 0, 50, 6)        // shoulder
	last := profile[len(profile)-1]
	arc(r2.Vec{X: last.X + 0.015*math.Cos(50*math.Pi/180), Y: last.Y + 0.015*math.Sin(50*math.Pi/180)}, 0.015, 230, 180, 8) // throat
	profile = append(profile, r2.Vec{X: profile[len(profile)-1].X, Y: profile[len(profile)-1].Y + 0.02})
	return meshtest.Lathe(t, 72, profile...)
}

// partOf is the part each face is in.
func partOf(m *mesh.Mesh, list []parts.Part) []int {
	out := make([]int, m.NumFaces())
	for k, p := range list {
		for _, f := range p.Faces {
			out[f] = k
		}
	}
	return out
}

// A file with six decimals, or points a few millionths off, are read as what they were made of: what differs
// is only what the mesh does not tell.
func TestRoundedNumbersAreReadAlike(t *testing.T) {
	m := carafe(t)
	want := recognise(t, m)
	r := rand.New(rand.NewPCG(1, 2))
	off := 2e-6 * m.Diagonal()
	for name, to := range map[string]func(r3.Vec) r3.Vec{
		"six decimals": func(p r3.Vec) r3.Vec {
			return r3.Vec{X: math.Round(p.X*1e6) / 1e6, Y: math.Round(p.Y*1e6) / 1e6, Z: math.Round(p.Z*1e6) / 1e6}
		},
		"noise": func(p r3.Vec) r3.Vec {
			return r3.Add(p, r3.Vec{X: off * r.NormFloat64(), Y: off * r.NormFloat64(), Z: off * r.NormFloat64()})
		},
		"turned, noise": func(p r3.Vec) r3.Vec {
			return r3.Add(oddTurn(p), r3.Vec{X: off * r.NormFloat64(), Y: off * r.NormFloat64(), Z: off * r.NormFloat64()})
		},
	} {
		got := recognise(t, meshtest.Mapped(t, m, to))
		if len(got) != len(want) {
			t.Errorf("%s: %d parts, %d of the mesh as it was made", name, len(got), len(want))
			continue
		}
		a, b := partOf(m, want), partOf(m, got)
		for f := range a {
			if want[a[f]].Fit.Kind != got[b[f]].Fit.Kind || len(want[a[f]].Faces) != len(got[b[f]].Faces) {
				t.Errorf("%s: face %d is of a %v of %d faces, not of a %v of %d", name, f, got[b[f]].Fit.Kind, len(got[b[f]].Faces), want[a[f]].Fit.Kind, len(want[a[f]].Faces))
				break
			}
		}
	}
}
