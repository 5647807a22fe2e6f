package unroll

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// Turned lays an opened wall of revolution as a rectangle: the way along its
// profile on V, the angle times the mean radius on U. Both are summed up from
// face to face, so that facets count with their own lengths. closes is false if
// the sums disagree, which means the wall is not turned or not opened.
func Turned(p *mesh.Patch, fit shape.Fit) (uv []r2.Vec, closes bool) {
	u, v := mesh.Basis(fit.Axis)
	angleOf := func(q r3.Vec) float64 {
		d := r3.Sub(q, fit.Origin)
		return math.Atan2(r3.Dot(d, v), r3.Dot(d, u))
	}
	normals := p.Mesh.FaceNormals()
	along := make([]r3.Vec, len(p.Faces)) // tangent of the profile on each face
	for i, f := range p.Faces {
		along[i] = r3.Cross(normals[f], r3.Cross(fit.Axis, normals[f]))
		if r3.Norm(along[i]) < 1e-6 { // a flat step: the profile runs along the radius
			d := r3.Sub(p.Mesh.FaceCentre(f), fit.Origin)
			out := r3.Sub(d, r3.Scale(r3.Dot(d, fit.Axis), fit.Axis))
			along[i] = r3.Scale(-r3.Dot(normals[f], fit.Axis), out)
		}
		if l := r3.Norm(along[i]); l > 0 {
			along[i] = r3.Scale(1/l, along[i])
		}
	}
	around := make([]float64, len(p.Faces))
	for i, f := range p.Faces {
		around[i] = angleOf(p.Mesh.FaceCentre(f))
	}
	uv, gap := summed(p, func(face int32, from, to r3.Vec) r2.Vec { // angle on X
		turn := nearestTurn(angleOf(to), around[face]) - nearestTurn(angleOf(from), around[face])
		return r2.Vec{X: turn, Y: r3.Dot(r3.Sub(to, from), along[face])}
	})
	closes = gap.X <= 1e-3 && gap.Y <= 2e-2*math.Sqrt(p.Area())
	scaleTurn(p, uv)
	return uv, closes
}

// scaleTurn turns angles into lengths: by the factor that gives the sheet the
// area of the facets.
func scaleTurn(p *mesh.Patch, uv []r2.Vec) {
	var flat float64
	for _, t := range p.Tris {
		flat += math.Abs(r2.Cross(r2.Sub(uv[t[1]], uv[t[0]]), r2.Sub(uv[t[2]], uv[t[0]]))) / 2
	}
	if flat == 0 {
		return
	}
	k := p.Area() / flat
	for i := range uv {
		uv[i].X *= k
	}
}
