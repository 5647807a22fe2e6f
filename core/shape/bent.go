package shape

import (
	"math"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/spatial/r3"
)

// BentAxis returns about which axis a tube is bent, given the wall that it nearly is: the one through the centre and
// square to the plane of the circle along which its middle runs, a radius below each facet. ok is false where
// the middle runs straight or every way.
func BentAxis(s Faces, wall Fit) (axis, centre r3.Vec, ok bool) {
	middle := make([]r3.Vec, len(s.Centres))
	var at r3.Vec
	var area float64
	for i, c := range s.Centres {
		out, _ := wall.Normal(c)
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
		middle[i] = r3.Sub(p, at)
		addOuter(m, middle[i], s.Areas[i])
	}
	axis, _ = smallest(m)
	c, major, ok := circleAcross(middle, axis)
	return axis, r3.Add(at, c), ok && major > wall.Radius
}
