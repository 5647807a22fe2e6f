// Package flatten lays a disk of triangles on the plane: conformal (LSCM, Lévy
// et al. 2002), as true to length as possible (ARAP, Liu et al. 2008) without
// ever flipping a triangle, and the always injective map into a convex border
// (Tutte 1963) to start from when the conformal one folds over.
package flatten

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// element is a triangle in its own plane: the gradients of its three hat
// functions and its area.
type element struct {
	grad [3]r2.Vec
	area float64
	thin bool // no reliable shape: height below a millionth of the longest side
}

// thinness is the height per longest side below which a triangle has no shape.
const thinness = 1e-6

// elements measures the triangles of a patch. Thin ones get the least height
// that keeps the numbers finite.
func elements(p *mesh.Patch) []element {
	out := make([]element, len(p.Tris))
	scale := math.Sqrt(p.Area() / float64(max(1, len(p.Tris))))
	for i, t := range p.Tris {
		q, thin := layFlat(p.Pos[t[0]], p.Pos[t[1]], p.Pos[t[2]], scale)
		e := &out[i]
		e.thin = thin
		e.area = r2.Cross(r2.Sub(q[1], q[0]), r2.Sub(q[2], q[0])) / 2
		for k := range 3 {
			d := r2.Sub(q[(k+2)%3], q[(k+1)%3])
			e.grad[k] = r2.Scale(1/(2*e.area), r2.Vec{X: -d.Y, Y: d.X})
		}
	}
	return out
}

// layFlat moves a triangle into the plane, corner 0 at the origin and corner 1
// on the X axis.
func layFlat(a, b, c r3.Vec, scale float64) (q [3]r2.Vec, thin bool) {
	ab, ac := r3.Sub(b, a), r3.Sub(c, a)
	long := max(r3.Norm(ab), r3.Norm(ac), r3.Norm(r3.Sub(c, b)))
	floor := max(long, scale*1e-6, 1e-150) * thinness
	l := r3.Norm(ab)
	if l < floor {
		l, thin = floor, true
		q[1] = r2.Vec{X: l}
		q[2] = r2.Vec{X: l / 2, Y: max(r3.Norm(ac), floor)}
		return q, thin
	}
	u := r3.Scale(1/l, ab)
	x := r3.Dot(ac, u)
	y := r3.Norm(r3.Cross(u, ac))
	if y < floor {
		y, thin = floor, true
	}
	q[1], q[2] = r2.Vec{X: l}, r2.Vec{X: x, Y: y}
	return q, thin
}

// Flips counts triangles that are turned over by a map, thin ones apart.
func Flips(p *mesh.Patch, uv []r2.Vec) int { return flips(p, elements(p), uv) }

func flips(p *mesh.Patch, el []element, uv []r2.Vec) int {
	n := 0
	for i, t := range p.Tris {
		if !el[i].thin && signedArea(uv, t) <= 0 {
			n++
		}
	}
	return n
}

func signedArea(uv []r2.Vec, t [3]int32) float64 {
	return r2.Cross(r2.Sub(uv[t[1]], uv[t[0]]), r2.Sub(uv[t[2]], uv[t[0]])) / 2
}

// TrueScale scales a map about the origin so that its area is the area of the
// surface.
func TrueScale(p *mesh.Patch, uv []r2.Vec) {
	var flat float64
	for _, t := range p.Tris {
		flat += math.Abs(signedArea(uv, t))
	}
	if flat <= 0 {
		return
	}
	s := math.Sqrt(p.Area() / flat)
	for i := range uv {
		uv[i] = r2.Scale(s, uv[i])
	}
}
