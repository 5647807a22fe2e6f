package unroll

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/planar"
)

const (
	// hair is how deep banks of slits may lie on each other to be pulled apart, as a share of the
	// side of a square as large as the map.
	hair = 3e-4
	// pulls is how often that is tried.
	pulls = 16
)

// Loosen pulls banks of slits apart where they overlap by no more than a hair, and tells whether no
// triangles of the map lie on each other in the end. Else the map is left as it was.
func Loosen(p *mesh.Patch, uv []r2.Vec) bool {
	overlaps := Overlaps(p, uv)
	if len(overlaps) == 0 {
		return true
	}
	was, flips := slices.Clone(uv), flatten.Flips(p, uv)
	var area float64
	for _, t := range p.Tris {
		area += math.Abs(planar.Triangle{uv[t[0]], uv[t[1]], uv[t[2]]}.Area())
	}
	for range pulls {
		pull, ok := pullApart(p, uv, overlaps, hair*math.Sqrt(area))
		if !ok {
			break
		}
		for v, to := range pull {
			uv[v] = to
		}
		if overlaps = Overlaps(p, uv); len(overlaps) == 0 {
			if flatten.Flips(p, uv) <= flips {
				return true
			}
			break
		}
	}
	copy(uv, was)
	return false
}

// pullApart returns where corners go so that each pair of triangles lies on both sides of a line between
// them; false if one overlaps by more than a limit.
func pullApart(p *mesh.Patch, uv []r2.Vec, overlaps []planar.Overlap, limit float64) (map[int32]r2.Vec, bool) {
	to := map[int32]r2.Vec{}
	furthest := map[int32]float64{}
	for _, o := range overlaps {
		a, b := p.Tris[o.A], p.Tris[o.B]
		n, depth := planar.Triangle{uv[a[0]], uv[a[1]], uv[a[2]]}.WayOff(planar.Triangle{uv[b[0]], uv[b[1]], uv[b[2]]})
		if depth > limit {
			return nil, false
		}
		// a lies before the line, b behind it; a corner of both lies on it.
		line, shared := 0., false
		last, first := math.Inf(-1), math.Inf(1)
		for k := range 3 {
			last, first = max(last, r2.Dot(uv[a[k]], n)), min(first, r2.Dot(uv[b[k]], n))
			if slices.Contains(b[:], a[k]) {
				line, shared = r2.Dot(uv[a[k]], n), true
			}
		}
		if !shared {
			line = (last + first) / 2
		}
		for side, t := range [2][3]int32{a, b} {
			other := [2][3]int32{b, a}[side]
			sign := float64(1 - 2*side)
			for _, v := range t {
				if by := sign*(r2.Dot(uv[v], n)-line) + depth/16; by > furthest[v] && !slices.Contains(other[:], v) {
					furthest[v], to[v] = by, r2.Sub(uv[v], r2.Scale(sign*by, n))
				}
			}
		}
	}
	return to, len(to) > 0
}
