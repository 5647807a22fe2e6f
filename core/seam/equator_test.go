package seam_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/seam"
	"morvek/core/shape"
)

// globe is a ball of radius 2 of n columns and n/2 rings about Y, from an angle of latitude
// up, turned by some map.
func globe(t *testing.T, n int, from float64, turn func(r3.Vec) r3.Vec) *mesh.Mesh {
	var profile []r2.Vec
	for k := 0; k <= n/2; k++ {
		if a := -math.Pi/2 + 2*math.Pi*float64(k)/float64(n); a >= from-1e-9 {
			s, c := math.Sincos(a)
			profile = append(profile, r2.Vec{X: 2 * max(0, c), Y: 2 * s})
		}
	}
	profile[len(profile)-1].X = 0
	if from < -1.57 {
		profile[0].X = 0
	}
	return meshtest.Mapped(t, meshtest.Lathe(t, n, profile...), turn)
}

// A ball, whole or on a rod, of quads or of triangles, comes apart in halves along a ring of
// the mesh, however it lies; a dome stays whole.
func TestEquatorHalvesABall(t *testing.T) {
	s, c := math.Sincos(0.6)
	for name, turn := range map[string]func(r3.Vec) r3.Vec{
		"upright": func(v r3.Vec) r3.Vec { return v },
		"turned":  func(v r3.Vec) r3.Vec { return r3.Vec{X: c*v.X - s*v.Y, Y: s*v.X + c*v.Y, Z: v.Z} },
	} {
		fit := shape.Fit{Kind: shape.Sphere, Radius: 2}
		for _, from := range []float64{-math.Pi / 2, -1.1} {
			quads := globe(t, 24, from, turn)
			for _, m := range []*mesh.Mesh{quads, meshtest.Alternating(t, quads)} {
				p := meshtest.Whole(m)
				way := seam.Equator(p, fit, plain)
				if len(way) != 24 {
					t.Fatalf("%s from %.1f: %d edges round a ball of 24 columns, %d faces", name, from, len(way), m.NumFaces())
				}
				var height float64
				for _, e := range way {
					a, b := m.EdgeEnds(e)
					up := turn(r3.Vec{Y: 1})
					height = max(height, math.Abs(r3.Dot(up, r3.Sub(m.Points[a], m.Points[b]))))
				}
				if height > 1e-9 {
					t.Errorf("%s from %.1f: the way round rises by %.2f", name, from, height)
				}
				for _, a := range pieces(m, [][]mesh.EdgeID{way}) {
					if share := a / p.Area(); share < 0.35 || share > 0.65 {
						t.Errorf("%s from %.1f: a half is %.2f of the ball", name, from, share)
					}
				}
			}
			fit := fit
			fit.Kind = shape.Free
			if seam.Equator(meshtest.Whole(quads), fit, plain) != nil {
				t.Errorf("%s: what is no sphere is halved", name)
			}
		}
		if way := seam.Equator(meshtest.Whole(globe(t, 24, 0, turn)), fit, plain); way != nil {
			t.Errorf("%s: a dome is halved by %d edges", name, len(way))
		}
	}
}
