package parts_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// round is the point at an angle (a share of a turn), a radius and a height.
func round(turn, radius, height float64) r3.Vec {
	s, c := math.Sincos(2 * math.Pi * turn)
	return r3.Vec{X: radius * c, Y: radius * s, Z: height}
}

// Meshers of solids put triangles in no rows on a surface: they lean this way and that, but their corners are on it.
func TestTrianglesInNoRows(t *testing.T) {
	elbow := func(u, v float64) r3.Vec {
		p := round(u, 1, 0)
		return round(v/4, 4+p.X, p.Y)
	}
	for name, c := range map[string]struct {
		mesh *mesh.Mesh
		want map[shape.Kind]int
	}{
		"wall":        {meshtest.Scattered(t, 20, 12, func(u, v float64) r3.Vec { return round(u, 1, 3*v) }), map[shape.Kind]int{shape.Cylinder: 1}},
		"long wall":   {meshtest.Scattered(t, 16, 60, func(u, v float64) r3.Vec { return round(u, 1, 24*v) }), map[shape.Kind]int{shape.Cylinder: 1}},
		"cone":        {meshtest.Scattered(t, 20, 12, func(u, v float64) r3.Vec { return round(u, 2-v, 3*v) }), map[shape.Kind]int{shape.Cone: 1}},
		"half a wall": {meshtest.Scattered(t, 10, 12, func(u, v float64) r3.Vec { return round(u/2, 1, 3*v) }), map[shape.Kind]int{shape.Cylinder: 1}},
		"ball": {meshtest.Scattered(t, 20, 12, func(u, v float64) r3.Vec {
			s, c := math.Sincos(1.2 * (v - 0.5))
			return round(u, 2*c, 2*s)
		}), map[shape.Kind]int{shape.Sphere: 1}},
		"elbow": {meshtest.Scattered(t, 16, 16, elbow), map[shape.Kind]int{shape.Torus: 1}},
		"pipe, elbow": {meshtest.Together(t,
			meshtest.Scattered(t, 16, 16, elbow),
			meshtest.Scattered(t, 16, 12, func(u, v float64) r3.Vec { return r3.Add(elbow(u, 1), r3.Vec{X: -5 * v}) })),
			map[shape.Kind]int{shape.Torus: 1, shape.Cylinder: 1}},
	} {
		wantKinds(t, name, recognise(t, c.mesh), c.want)
	}
}
