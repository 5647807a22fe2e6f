package parts

import (
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// dented is a triangulated sheet of n × n cells of which a share of the rows is flat, and the rest bent both
// ways, with noise on every point.
func dented(t *testing.T, n int, flat, noise float64) *mesh.Mesh {
	t.Helper()
	r := rand.New(rand.NewPCG(9, 9))
	b := mesh.NewBuilder()
	for i := range n + 1 {
		for j := range n + 1 {
			x, y := float64(i)/float64(n), float64(j)/float64(n)
			z := 0.3 * max(0, x-flat) * max(0, x-flat) * (1 + y*y)
			b.Point(r3.Vec{X: x + noise*r.NormFloat64(), Y: y/3 + noise*r.NormFloat64(), Z: z + noise*r.NormFloat64()})
		}
	}
	at := func(i, j int) mesh.PointID { return mesh.PointID(i*(n+1) + j) }
	for i := range n {
		for j := range n {
			b.Face(at(i, j), at(i+1, j), at(i+1, j+1))
			b.Face(at(i, j), at(i+1, j+1), at(i, j+1))
		}
	}
	m, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	return m
}

// The noise of a mesh is told by what is flat of it, however little that is and however thin its triangles are.
func TestNoiseIsMeasured(t *testing.T) {
	for _, flat := range []float64{1, 0.5, 0.1} {
		for _, noise := range []float64{1e-7, 1e-6, 1e-5} {
			if got := measureNoise(dented(t, 60, flat, noise), 0); math.Abs(math.Log(got/noise)) > math.Log(1.5) {
				t.Errorf("%g of the sheet flat: noise of %g is told as %g", flat, noise, got)
			}
		}
	}
	if got := measureNoise(dented(t, 60, 0.5, 0), 0); got > 1e-12 {
		t.Errorf("a clean mesh is told to be off by %g", got)
	}
}

// Where nothing is flat, what is round tells it.
func TestNoiseOfABall(t *testing.T) {
	for _, noise := range []float64{0, 1e-6, 1e-5, 1e-4} {
		r := rand.New(rand.NewPCG(3, 4))
		m := meshtest.Scattered(t, 40, 24, func(u, v float64) r3.Vec {
			s, c := math.Sincos(1.2 * (v - 0.5))
			sin, cos := math.Sincos(2 * math.Pi * u)
			off := 1 + noise*r.NormFloat64()
			return r3.Scale(off, r3.Vec{X: c * cos, Y: c * sin, Z: s})
		})
		if got := newTolerance(m, 0).noise; got > 1.5*noise+1e-9 || got < noise/2 {
			t.Errorf("noise of %g is told as %g", noise, got)
		}
	}
}
