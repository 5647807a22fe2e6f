package parts

import (
	"math"
	"slices"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// ringBend is the bend below which two parts go over into each other.
const ringBend = 12 * math.Pi / 180

// leastRing is how many walls close round at the least.
const leastRing = 3

// uniteRings makes one part of walls that close round: the sides of a tapered box with
// bevelled edges, the flats and corners of a transition from square to round. Each goes
// over into just one other on either side, smoothly or through a bevel, and all of them
// together are an open tube, so that one opening lets them lie flat.
func uniteRings(m *mesh.Mesh, parts []Part) []Part {
	w := measureWidths(m, parts, usual)
	w.rims = false // a chamfer of a rim leads to the rim
	// Walls that go over smoothly into each other first: their chamfers lead elsewhere.
	smooth, all := make(links, len(parts)), make(links, len(parts))
	strip := make([]bool, len(parts))
	for i := range parts {
		strip[i] = w.isStrip(i)
	}
	for i := range parts {
		if strip[i] {
			if a, b := w.near[i][0].other, w.near[i][1].other; a != b && !strip[a] && !strip[b] {
				all.link(a, b, i)
			}
		}
	}
	for i := range parts {
		for _, b := range w.near[i] {
			if i < b.other && !strip[i] && !strip[b.other] && math.Abs(b.bend) < ringBend && b.bend != 0 && b.length > min(0.2*min(w.rim[i], w.rim[b.other]), 0.9*min(w.wide[i], w.wide[b.other])) {
				smooth.link(i, b.other, -1)
				all.link(i, b.other, -1)
			}
		}
	}
	taken := make([]bool, len(parts))
	var groups [][]int
	for _, l := range []links{smooth, all} {
		seen := slices.Clone(taken)
		for i := range parts {
			ring := l.follow(seen, i)
			if len(ring) < leastRing {
				continue
			}
			group := slices.Clone(ring)
			for k, a := range ring {
				if by := l[a][ring[(k+1)%len(ring)]]; by >= 0 {
					group = append(group, by)
				}
			}
			p := mesh.NewPatch(m, unionFaces(parts, group), func(mesh.EdgeID) bool { return false })
			if p.Euler() != 0 || len(p.Borders()) != 2 || !liesFlat(p) || slices.ContainsFunc(group, func(k int) bool { return taken[k] }) {
				continue
			}
			for _, k := range group {
				taken[k] = true
			}
			groups = append(groups, group)
		}
	}
	return unite(parts, groups, func(grp []int) (shape.Fit, float64) {
		if f := shape.FitExtruded(shape.Gather(m, unionFaces(parts, grp))); f.Bend <= extrudedSpread {
			return f, together
		}
		return shape.Fit{Kind: shape.Free, Origin: parts[grp[0]].Fit.Origin}, together
	})
}

// mostDefect and mostTogether bound the angle defects inside a ring that can lie flat once
// it is opened: of one point, and of all together, in which noise cancels.
const (
	mostDefect   = 5 * math.Pi / 180
	mostTogether = 10 * math.Pi / 180
)

// liesFlat tells whether a patch bends without stretching but at its borders.
func liesFlat(p *mesh.Patch) bool {
	all, even := innerDefect(p)
	return even && math.Abs(all) < mostTogether
}

// innerDefect is the sum of the angle defects inside a patch; even is false where one point has much of it.
func innerDefect(p *mesh.Patch) (all float64, even bool) {
	defects, border := p.Defects()
	for v, k := range defects {
		if border[v] {
			continue
		}
		if math.Abs(k) > mostDefect {
			return all, false
		}
		all += k
	}
	return all, true
}

// links tells for each wall to which others it is linked, and through which strip, or -1.
type links []map[int]int

func (l links) link(a, b, by int) {
	for _, k := range [2][2]int{{a, b}, {b, a}} {
		if l[k[0]] == nil {
			l[k[0]] = map[int]int{}
		}
		l[k[0]][k[1]] = by
	}
}

// follow walks along walls that have two links each, and returns them in order if the
// walk closes.
func (l links) follow(seen []bool, from int) (ring []int) {
	at, before := from, -1
	for !seen[at] {
		if len(l[at]) != 2 {
			return nil
		}
		seen[at] = true
		ring = append(ring, at)
		next := -1
		for k := range l[at] {
			if k != before && (next < 0 || k < next) {
				next = k
			}
		}
		at, before = next, at
	}
	if at != from {
		return nil
	}
	return ring
}
