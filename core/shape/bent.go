package shape

import (
	"math"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// BentAxis returns about which axis a tube is bent, given the wall that it nearly is: the one through the centre and
// square to the plane of the circle along which its middle runs, a radius below each facet. ok is false where
// the middle runs straight or every way.
func BentAxis(s Faces, wall Fit) (axis, centre r3.Vec, ok bool) {
	middle := make([]r3.Vec, len(s.Centres))
	var at r3.Vec
	var area float64
	for i, c := range s.Centres {
		d := r3.Sub(c, wall.Origin)
		out := r3.Sub(d, r3.Scale(r3.Dot(d, wall.Axis), wall.Axis))
		middle[i] = r3.Sub(c, r3.Scale(math.Copysign(wall.Radius, r3.Dot(out, s.Normals[i])), s.Normals[i]))
		at = r3.Add(at, r3.Scale(s.Areas[i], middle[i]))
		area += s.Areas[i]
	}
	if area == 0 {
		return axis, centre, false
	}
	at = r3.Scale(1/area, at)
	m := mat.NewSymDense(3, nil)
	for i, p := range middle {
		addOuter(m, r3.Sub(p, at), s.Areas[i])
	}
	axis, _ = smallest(m)
	u, v := mesh.Basis(axis)
	flat := make([]r2.Vec, len(middle))
	for i, p := range middle {
		d := r3.Sub(p, at)
		flat[i] = r2.Vec{X: r3.Dot(d, u), Y: r3.Dot(d, v)}
	}
	c, major, ok := circle(flat)
	return axis, r3.Add(at, r3.Add(r3.Scale(c.X, u), r3.Scale(c.Y, v))), ok && major > wall.Radius
}
