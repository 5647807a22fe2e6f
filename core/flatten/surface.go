// Package flatten lays a disk of triangles on the plane: conformal (LSCM, Lévy et al.
// 2002), by angles (linear ABF, Zayer et al. 2007), or as true to length as possible
// (ARAP, Liu et al. 2008; symmetric Dirichlet energy, Rabinovich et al. 2017) without
// ever turning a triangle over, and the always injective map into a convex border
// (Tutte 1963) to start from when the conformal one folds over. What a map must keep is
// eliminated from the systems, so that it is kept exactly.
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

// surface is a patch with its triangles measured.
type surface struct {
	*mesh.Patch
	el   []element
	area float64
}

// measured returns a patch with the elements of its triangles. Thin ones get the least
// height that keeps the numbers finite.
func measured(p *mesh.Patch) *surface {
	g := &surface{Patch: p, el: make([]element, len(p.Tris))}
	scale := math.Sqrt(p.Area() / float64(max(1, len(p.Tris))))
	g.area = sum(len(p.Tris), func(lo, hi int) (area float64) {
		for i := lo; i < hi; i++ {
			t := p.Tris[i]
			q, thin := layFlat(p.Pos[t[0]], p.Pos[t[1]], p.Pos[t[2]], scale)
			g.el[i] = shaped(q, thin)
			area += g.el[i].area
		}
		return area
	})
	return g
}

func shaped(q [3]r2.Vec, thin bool) (e element) {
	e.thin = thin
	e.area = r2.Cross(r2.Sub(q[1], q[0]), r2.Sub(q[2], q[0])) / 2
	for k := range 3 {
		d := r2.Sub(q[(k+2)%3], q[(k+1)%3])
		e.grad[k] = r2.Scale(1/(2*e.area), r2.Vec{X: -d.Y, Y: d.X})
	}
	return e
}

// layFlat moves a triangle into the plane, corner 0 at the origin and corner 1
// on the X axis.
func layFlat(a, b, c r3.Vec, scale float64) (q [3]r2.Vec, thin bool) {
	ab, ac := r3.Sub(b, a), r3.Sub(c, a)
	long := math.Sqrt(max(r3.Norm2(ab), r3.Norm2(ac), r3.Norm2(r3.Sub(c, b))))
	floor := max(long, scale*1e-6, 1e-150) * thinness
	l := math.Sqrt(r3.Norm2(ab))
	if l < floor {
		l, thin = floor, true
		q[1] = r2.Vec{X: l}
		q[2] = r2.Vec{X: l / 2, Y: max(r3.Norm(ac), floor)}
		return q, thin
	}
	u := r3.Scale(1/l, ab)
	x := r3.Dot(ac, u)
	y := math.Sqrt(r3.Norm2(r3.Cross(u, ac)))
	if y < floor {
		y, thin = floor, true
	}
	q[1], q[2] = r2.Vec{X: l}, r2.Vec{X: x, Y: y}
	return q, thin
}

// Flips counts triangles that are turned over by a map, thin ones apart.
func Flips(p *mesh.Patch, uv []r2.Vec) int { return measured(p).flips(uv) }

func (g *surface) flips(uv []r2.Vec) int {
	return int(sum(len(g.Tris), func(lo, hi int) (n float64) {
		for i := lo; i < hi; i++ {
			if !g.el[i].thin && signedArea(uv, g.Tris[i]) <= 0 {
				n++
			}
		}
		return n
	}))
}

// jacobian returns the map triangle → sheet as rows (∂u, ∂v).
func (g *surface) jacobian(t int, uv []r2.Vec) (j [4]float64) {
	e := &g.el[t]
	for k, v := range g.Tris[t] {
		j[0] += uv[v].X * e.grad[k].X
		j[1] += uv[v].X * e.grad[k].Y
		j[2] += uv[v].Y * e.grad[k].X
		j[3] += uv[v].Y * e.grad[k].Y
	}
	return j
}

// rotation returns cosine and sine of the rotation closest to a Jacobian.
func rotation(j [4]float64) (c, s float64) {
	c, s = j[0]+j[3], j[2]-j[1]
	l := math.Sqrt(c*c + s*s)
	if l == 0 {
		return 1, 0
	}
	return c / l, s / l
}

// worst returns the largest σ₁ of the map sheet → surface, how far the most squeezed
// triangle is squeezed.
func (g *surface) worst(uv []r2.Vec) (worst float64) {
	for t := range g.Tris {
		if g.el[t].thin {
			continue
		}
		j := g.jacobian(t, uv)
		det := math.Abs(j[0]*j[3] - j[1]*j[2])
		size := j[0]*j[0] + j[1]*j[1] + j[2]*j[2] + j[3]*j[3]
		// σ₁² + σ₂² = |J|² and σ₁σ₂ = det; the inverse map stretches most by 1/σ₂.
		s1 := math.Sqrt(size/2 + math.Sqrt(max(0, size*size/4-det*det)))
		worst = max(worst, s1/max(det, 1e-300))
	}
	return worst
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

func finite(uv []r2.Vec) bool {
	for _, q := range uv {
		if math.IsNaN(q.X+q.Y) || math.IsInf(q.X+q.Y, 0) {
			return false
		}
	}
	return true
}
