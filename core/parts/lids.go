package parts

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/ids"
	"morvek/core/shape"
)

// A lid is what closes a wall over the rounds of a subdivided cage: a flat with at least this share
// of it, and nothing that bends further away from that than this.
const (
	lidFlat  = 0.1
	lidLean  = 3 * math.Pi / 180
	lidTurns = 100 * math.Pi / 180
)

// lids takes what closes walls that close round out of the regions of a smooth component: each a flat with its
// rounds and the corners where these meet, which nobody takes apart. It returns the other regions.
func (g *model) lids(chosen []region, left [][]int) (lids []Part, others []region, rest [][]int) {
	var open []int
	walls := 0
	for _, r := range chosen {
		if r.fit.Kind == shape.Extruded && isBand(g.mesh, g.faces(r.set)) {
			walls++
			continue
		}
		open = append(open, r.set...)
	}
	if walls == 0 {
		return nil, chosen, left
	}
	for _, set := range left {
		open = append(open, set...)
	}
	taken := map[int]bool{}
	for _, set := range g.connected(open) {
		flat, ok := g.lid(set)
		if !ok {
			continue
		}
		in := ids.Set(set)
		var pieces []Part
		for _, r := range chosen {
			if in[r.set[0]] {
				pieces = append(pieces, g.part(r.set, r.fit))
			}
		}
		for _, r := range left {
			if in[r[0]] {
				pieces = append(pieces, g.part(r, g.remnant(r)))
			}
		}
		if len(pieces) < 2 {
			continue
		}
		for _, i := range set {
			taken[i] = true
		}
		lids = append(lids, compound(pieces, together, flat))
	}
	for _, r := range chosen {
		if !taken[r.set[0]] {
			others = append(others, r)
		}
	}
	for _, r := range left {
		if !taken[r[0]] {
			rest = append(rest, r)
		}
	}
	return lids, others, rest
}

// lid returns the plane of the flat that facets are mostly, with nothing else than rounds about it.
func (g *model) lid(set []int) (shape.Fit, bool) {
	large := set[0]
	for _, i := range set {
		if g.list[i].area > g.list[large].area {
			large = i
		}
	}
	up := g.list[large].normal
	var flat []int
	var level, all float64
	for _, i := range set {
		c := &g.list[i]
		lean := math.Acos(max(-1, min(1, r3.Dot(c.normal, up))))
		if all += c.area; lean > lidTurns {
			return shape.Fit{}, false
		}
		if lean < lidLean {
			flat = append(flat, i)
			level += c.area
		}
	}
	return shape.Fit{Kind: shape.Free, Origin: shape.FitPlane(g.gather(flat)).Origin}, level > lidFlat*all && len(flat) < len(set)
}
