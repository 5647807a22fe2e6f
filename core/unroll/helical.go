package unroll

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// Helical lays a screw surface as a straight strip: the way along the helices on U, the way
// across them on V. In coordinates (turn, profile) its metric is ρ²+h² along, where h is the
// shift for a radian, and does not change along a helix, so that a helix of the mean radius
// keeps its length and all are straight and level (do Carmo 1976, screw surfaces). closes is
// false if the sums around faces disagree: then it is no such surface, or not cut open.
func Helical(p *mesh.Patch, fit shape.Fit) (uv []r2.Vec, closes bool) {
	u, v := mesh.Basis(fit.Axis)
	h := fit.Pitch / (2 * math.Pi)
	angleOf := func(q r3.Vec) float64 {
		d := r3.Sub(q, fit.Origin)
		return math.Atan2(r3.Dot(d, v), r3.Dot(d, u))
	}
	var long, area float64 // mean of the way for a radian
	across := make([]r3.Vec, len(p.Faces))
	around := make([]float64, len(p.Faces))
	for i, f := range p.Faces {
		c := p.Mesh.FaceCentre(f)
		around[i] = angleOf(c)
		m := fit.Motion(c)
		across[i] = r3.Cross(p.Mesh.FaceNormals()[f], m)
		a := p.Mesh.FaceAreas()[f]
		long += a * r3.Norm(m)
		area += a
	}
	if area == 0 || long == 0 {
		return make([]r2.Vec, len(p.Pos)), false
	}
	long /= area
	uv, gap := summed(p, func(face int32, from, to r3.Vec) r2.Vec {
		turn := nearestTurn(angleOf(to), around[face]) - nearestTurn(angleOf(from), around[face])
		r0, t0 := shape.Meridian(from, fit.Axis, fit.Origin)
		r1, t1 := shape.Meridian(to, fit.Axis, fit.Origin)
		out, up := r1-r0, t1-t0-h*turn // along the profile
		back := h * up / long          // of that, along the helix
		d := math.Sqrt(max(0, out*out+up*up-back*back))
		return r2.Vec{X: long*turn + back, Y: math.Copysign(d, r3.Dot(r3.Sub(to, from), across[face]))}
	})
	size := math.Sqrt(p.Area())
	return uv, gap.X <= 1e-2*size && gap.Y <= 2e-2*size
}
