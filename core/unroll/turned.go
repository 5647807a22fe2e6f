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
	uv = make([]r2.Vec, len(p.Pos))
	u, v := mesh.Basis(fit.Axis)
	angle := make([]float64, len(p.Pos))
	for i, q := range p.Pos {
		d := r3.Sub(q, fit.Origin)
		angle[i] = math.Atan2(r3.Dot(d, v), r3.Dot(d, u))
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
	known := make([]bool, len(p.Pos))
	faceOf := p.CornerFaces()
	step := func(c int32) r2.Vec { // along the halfedge of a patch corner, angle on X
		a, b := p.Ends(c)
		turn := angle[b] - angle[a]
		turn -= 2 * math.Pi * math.Round(turn/(2*math.Pi))
		return r2.Vec{X: turn, Y: r3.Dot(r3.Sub(p.Pos[b], p.Pos[a]), along[faceOf[c]])}
	}
	seen := make([]bool, len(p.Faces))
	known[p.CornerVert[0]] = true
	queue := []int32{0}
	seen[0] = true
	size := math.Sqrt(p.Area())
	closes = true
	for len(queue) > 0 {
		f := queue[0]
		queue = queue[1:]
		lo, hi := p.FaceStart[f], p.FaceStart[f+1]
		start := lo
		for !known[p.CornerVert[start]] {
			start++
		}
		for k, c := lo, start; k < hi; k++ {
			a, b := p.Ends(c)
			next := r2.Add(uv[a], step(c))
			if !known[b] {
				uv[b], known[b] = next, true
			} else if math.Abs(next.X-uv[b].X) > 1e-3 || math.Abs(next.Y-uv[b].Y) > 2e-2*size {
				closes = false
			}
			if o := p.Across(c); o != mesh.None && !seen[faceOf[o]] {
				seen[faceOf[o]] = true
				queue = append(queue, faceOf[o])
			}
			c = p.NextCorner(c)
		}
	}
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
