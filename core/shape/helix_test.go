package shape_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// The screw motion of a flank is found wherever it lies, with its hand; facets of 5° bring
// its pitch to within a thousandth.
func TestScrewMotionIsFound(t *testing.T) {
	for _, pitch := range []float64{0.4, -0.4, 3} {
		m := meshtest.Screw(t, 72, 2, pitch, r2.Vec{X: 1}, r2.Vec{X: 1.3, Y: 0.2})
		for i, p := range poses {
			f := shape.FitHelix(p.faces(t, m))
			axis := p.dir(r3.Vec{Z: 1})
			off := r3.Sub(f.Origin, p.point(r3.Vec{}))
			off = r3.Sub(off, r3.Scale(r3.Dot(off, axis), axis))
			if math.Abs(math.Abs(r3.Dot(f.Axis, axis))-1) > 1e-9 || r3.Norm(off) > 1e-4*p.scale {
				t.Errorf("pitch %g, pose %d: axis %v is %g off", pitch, i, f.Axis, r3.Norm(off))
			}
			if math.Abs(f.Pitch/(pitch*p.scale)-1) > 1e-3 || math.Abs(f.Radius/(1.3*p.scale)-1) > 1e-9 {
				t.Errorf("pitch %g, pose %d: pitch %g, radius %g", pitch*p.scale, i, f.Pitch, f.Radius)
			}
			if f.Bend > 1e-3 {
				t.Errorf("pitch %g, pose %d: normals lean by %g", pitch, i, f.Bend)
			}
		}
	}
}

// A wall of revolution has no pitch, a plane no turn.
func TestWhatDoesNotWindIsNoHelix(t *testing.T) {
	bowl := meshtest.Lathe(t, 24, r2.Vec{X: 1}, r2.Vec{X: 1.4, Y: 0.5}, r2.Vec{X: 1.5, Y: 1.5})
	f := shape.FitHelix(shape.Gather(bowl, meshtest.All(bowl)))
	if !math.IsInf(f.Error, 1) && math.Abs(f.Pitch) > 1e-6 {
		t.Errorf("a bowl winds at a pitch of %g", f.Pitch)
	}
}
