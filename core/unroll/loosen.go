package unroll

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
	"morvek/core/planar"
)

// Loosen pulls the two banks of a slit apart by a hair where rounding lets them overlap,
// and tells whether no triangles of the map lie on each other in the end. Banks that
// overlap by more than a hair are left alone.
func Loosen(p *mesh.Patch, uv []r2.Vec) bool {
	const hair = 1e-4 // of a triangle
	for range 4 {
		tris := make([]planar.Triangle, len(p.Tris))
		for i, t := range p.Tris {
			tris[i] = planar.Triangle{uv[t[0]], uv[t[1]], uv[t[2]]}
		}
		overlaps := planar.Overlaps(tris, 1e-6)
		if len(overlaps) == 0 {
			return true
		}
		pull := map[int32]r2.Vec{}
		for _, o := range overlaps {
			a, b := tris[o.A], tris[o.B]
			if o.Area > hair*math.Min(math.Abs(a.Area()), math.Abs(b.Area())) {
				return false
			}
			for _, side := range [2][2]int32{{o.A, o.B}, {o.B, o.A}} {
				t, other := tris[side[0]], tris[side[1]]
				long := longestEdge(t)
				depth := 2*o.Area/long + 1e-9*long
				centre := r2.Scale(1./3, r2.Add(t[0], r2.Add(t[1], t[2])))
				for k, v := range p.Tris[side[0]] {
					if shared(p.Tris[side[1]], v) || !near(other, t[k], 1e-3*long) {
						continue
					}
					d := r2.Sub(centre, t[k])
					if l := r2.Norm(d); l > 0 {
						pull[v] = r2.Scale(4*depth/l, d)
					}
				}
			}
		}
		if len(pull) == 0 {
			return false
		}
		for v, d := range pull {
			uv[v] = r2.Add(uv[v], d)
		}
	}
	return !Tangled(p, uv)
}

func longestEdge(t planar.Triangle) (l float64) {
	for k := range 3 {
		l = max(l, r2.Norm(r2.Sub(t[(k+1)%3], t[k])))
	}
	return l
}

func shared(t [3]int32, v int32) bool { return t[0] == v || t[1] == v || t[2] == v }

// near tells whether a point lies in a triangle or within a distance of one of its edges.
func near(t planar.Triangle, q r2.Vec, by float64) bool {
	s := 1.0
	if t.Area() < 0 {
		s = -1
	}
	for k := range 3 {
		a, e := t[k], r2.Sub(t[(k+1)%3], t[k])
		if l := r2.Norm(e); l > 0 && s*r2.Cross(e, r2.Sub(q, a))/l < -by {
			return false
		}
	}
	return true
}
