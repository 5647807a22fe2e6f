package planar

import (
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
)

// Triangles that went the way off touch and share no area; by a little less they still do.
func TestWayOff(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 8))
	at := func() r2.Vec { return r2.Vec{X: r.Float64(), Y: r.Float64()} }
	over := 0
	for range 2000 {
		a, b := Triangle{at(), at(), at()}, Triangle{at(), at(), at()}
		n, depth := a.WayOff(b)
		shares := func(by float64) bool {
			var moved Triangle
			for k := range b {
				moved[k] = r2.Add(b[k], r2.Scale(by, n))
			}
			return len(Overlaps([]Triangle{a, moved}, 1e-9)) > 0
		}
		if math.Abs(r2.Norm(n)-1) > 1e-12 {
			t.Fatalf("%v is no direction", n)
		}
		if is := shares(0); is != (depth > 0) && math.Abs(depth) > 1e-6 {
			t.Fatalf("%v on %v: overlaps %v, %g deep", a, b, is, depth)
		}
		if depth < 1e-3 {
			continue
		}
		over++
		if shares(depth + 1e-9) {
			t.Fatalf("%v on %v still after %g", a, b, depth)
		}
		if !shares(depth * 0.9) {
			t.Fatalf("%v on %v: a shorter way than %g", a, b, depth)
		}
	}
	if over < 200 {
		t.Errorf("only %d overlapped", over)
	}
	if _, depth := (Triangle{}).WayOff(Triangle{}); !math.IsInf(depth, 1) {
		t.Errorf("points have a way off of %g", depth)
	}
}
