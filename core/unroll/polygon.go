package unroll

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/planar"
)

// Polygon lays a single face flat: in its plane; where that turns part of it over, since
// it crosses itself or is bent, triangle against triangle; and where these would land on
// each other, its corners on a circle, which no polygon can tangle (Tutte 1963).
func Polygon(p *mesh.Patch) Result {
	sound := func(uv []r2.Vec) bool { return !flattened(p, uv) && !Tangled(p, uv) }
	if n := p.Mesh.FaceNormals()[p.Faces[0]]; n != (r3.Vec{}) {
		if uv := Planar(p, n); sound(uv) {
			return Result{UV: uv, Method: "plane"}
		}
	}
	if uv, gap := Unfold(p); sound(uv) {
		return Result{UV: uv, Method: "unfolded", Gap: gap}
	}
	uv := make([]r2.Vec, len(p.Pos))
	radius := math.Sqrt(p.Area() / math.Pi)
	for c, v := range p.CornerVert {
		s, k := math.Sincos(2 * math.Pi * float64(c) / float64(len(p.CornerVert)))
		uv[v] = r2.Vec{X: radius * k, Y: radius * s}
	}
	return Result{UV: uv, Method: "spread out"}
}

// flattened tells whether a map turns a triangle over or leaves it next to no room.
func flattened(p *mesh.Patch, uv []r2.Vec) bool {
	d, ok := p.Differentials(uv)
	for i := range d {
		if ok[i] && !(d[i].SheetArea > leastRoom*d[i].Area) {
			return true
		}
	}
	return false
}

// leastRoom is the share of its area that a triangle of a bent polygon must have on the
// sheet.
const leastRoom = 1e-3

// Tangled tells whether triangles of a map lie on each other by more than rounding.
func Tangled(p *mesh.Patch, uv []r2.Vec) bool { return len(Overlaps(p, uv)) > 0 }

// Overlaps lists the pairs of triangles of a patch that lie on each other by more than rounding.
func Overlaps(p *mesh.Patch, uv []r2.Vec) []planar.Overlap {
	tris := make([]planar.Triangle, len(p.Tris))
	for i, t := range p.Tris {
		tris[i] = planar.Triangle{uv[t[0]], uv[t[1]], uv[t[2]]}
	}
	return planar.Overlaps(tris, 1e-6)
}
