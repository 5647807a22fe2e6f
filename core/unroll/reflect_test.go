package unroll

import (
	"math"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh/meshtest"
)

// The mirrored projection of a mirrored mesh gives the mirrored map, whatever the kind, the axis and the turn.
func TestAMirroredProjectionGivesTheMirroredMap(t *testing.T) {
	m := meshtest.Lathe(t, 16, r2.Vec{X: 1}, r2.Vec{X: 1.4, Y: 1}, r2.Vec{X: 1.2, Y: 2.3})
	m = meshtest.Mapped(t, m, func(p r3.Vec) r3.Vec { return r3.Vec{X: p.X + 2, Y: p.Y + 0.3, Z: p.Z - 1} })
	image := func(p r3.Vec) r3.Vec { return r3.Vec{X: -p.X, Y: p.Y, Z: p.Z} }
	over := meshtest.Reflected(t, m)
	for _, kind := range []Kind{Flat, Cylindrical, Conical, Spherical, Boxed, Profiled} {
		for _, turn := range []float64{0, 35, -110} {
			pr := Projection{Kind: kind, Origin: r3.Vec{X: 2, Y: 1, Z: -1}, Axis: r3.Vec{Y: 1}, Up: r3.Vec{Y: 1}, TurnDeg: turn, Width: 3, Height: 3}
			if kind == Flat {
				pr.Axis = r3.Vec{X: 1, Z: 0.4}
			}
			_, a := laid(t, m, pr)
			_, b := laid(t, over, pr.Mirrored(image))
			places := func(maps [][]r2.Vec, sign float64) (out []r2.Vec) {
				for _, uv := range maps {
					left := math.Inf(1) // where it begins is of no account
					for _, q := range uv {
						left = min(left, sign*q.X)
					}
					for _, q := range uv {
						out = append(out, r2.Vec{X: math.Round((sign*q.X - left) * 1e6), Y: math.Round(q.Y * 1e6)})
					}
				}
				slices.SortFunc(out, func(p, q r2.Vec) int {
					if p.X != q.X {
						return int(p.X - q.X)
					}
					return int(p.Y - q.Y)
				})
				return out
			}
			was, is := places(a, -1), places(b, 1)
			if len(was) != len(is) {
				t.Errorf("%s turned by %g: %d places, mirrored %d", kind, turn, len(was), len(is))
				continue
			}
			for i := range was {
				if r2.Norm(r2.Sub(was[i], is[i])) > 3 {
					t.Errorf("%s turned by %g: a place at %v, mirrored at %v", kind, turn, was[i], is[i])
					break
				}
			}
		}
	}
}
