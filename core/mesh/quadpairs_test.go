package mesh_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// The halves of quads find each other, each the one that finds it; what was no quad is left alone.
func TestQuadPairs(t *testing.T) {
	m := meshtest.Alternating(t, meshtest.Grid(t, 12, 7, func(u, v float64) r3.Vec {
		return r3.Vec{X: 12 * u, Y: 7 * v, Z: math.Sin(3*u) * v}
	}))
	pairs := mesh.QuadPairs(m)
	for f, o := range pairs {
		if o == mesh.None || pairs[o] != mesh.FaceID(f) || o/2 != mesh.FaceID(f)/2 { // they come one after the other
			t.Fatalf("triangle %d makes a quad with %d", f, o)
		}
	}
	for f, o := range mesh.QuadPairs(meshtest.Prism(t, 2, meshtest.Circle(1, 7)...)) {
		if o != mesh.None {
			t.Errorf("face %d of a prism makes a quad with %d", f, o)
		}
	}
}
