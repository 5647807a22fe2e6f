package parts

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// angleAbout returns how to tell the angle of a point about an axis, in radians from -π to π.
func angleAbout(axis, origin r3.Vec) func(r3.Vec) float64 {
	u, v := mesh.Basis(axis)
	return func(q r3.Vec) float64 {
		d := r3.Sub(q, origin)
		return math.Atan2(r3.Dot(d, v), r3.Dot(d, u))
	}
}

// reach is how far points of a facet lie from its middle, in an angle: lo before it, hi after it, the
// short way.
func (g *model) reach(angle func(r3.Vec) float64, i int, points []mesh.PointID) (lo, hi float64) {
	middle := angle(g.list[i].centre)
	for _, p := range points {
		a := math.Remainder(angle(g.mesh.Points[p])-middle, 2*math.Pi)
		lo, hi = min(lo, a), max(hi, a)
	}
	return lo, hi
}
