package segment

import (
	"cmp"
	"math"
	"slices"

	"morvek/core/mesh"
)

// A shell is a sliver when at the density it would have on the sheet it is narrower
// than this many px, or smaller than this many px². What would waste more than a share of
// the sheet, hung on a neighbour, like a hair-thin ring, stays by itself.
const (
	sliverWidth  = 1.5
	sliverArea   = 9
	sliverWastes = 0.05
)

// slivers gives shells too small to paint to the neighbour with the longest border,
// however their union lies, as long as it does and stretches little.
func (a *attacher) slivers() error {
	set := a.state.Settings.Sheet
	px := float64(set.Size) * math.Sqrt(0.7*float64(set.Across())/max(a.total, 1e-300))
	a.worth, a.wastes, a.longest, a.stretch = math.Inf(1), sliverWastes, math.Inf(1), 1.05
	for _, g := range a.groups {
		g.fill = unknown
	}
	piece := a.pieceOf()
	var list []*group
	done := map[*group]bool{}
	for _, g := range a.groups {
		if !done[g] && !g.alone {
			list = append(list, g)
		}
		done[g] = true
	}
	return sideBySide(a, list, func(g *group) int { return g.own[0] }, func(a *attacher, g *group) { a.sliver(g, piece, px) })
}

// sliver gives a shell to a neighbour if it is too small, px to the model unit.
func (a *attacher) sliver(g *group, piece []int, px float64) {
	m := a.doc.Mesh
	around := map[int][]mesh.EdgeID{}
	var rim float64
	for _, f := range g.faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			e, t := m.Edge(h), m.Twin(h)
			if t != mesh.None && !a.cut[e] {
				continue
			}
			rim += m.EdgeLength(e)
			if t == mesh.None || a.firm[e] {
				continue
			}
			if o := piece[m.FaceOf(t)]; a.groups[o] != g && !a.groups[o].alone {
				around[o] = append(around[o], e)
			}
		}
	}
	if g.total*px*px >= sliverArea && 2*g.total*px >= sliverWidth*rim {
		return
	}
	var list []joint
	own := piece[g.faces[0]]
	for o, edges := range around {
		long := longestStraight(m, edges)
		list = append(list, joint{own, o, long, m.Length(long)})
	}
	slices.SortFunc(list, func(p, q joint) int { return cmp.Or(cmp.Compare(q.gain, p.gain), cmp.Compare(p.b, q.b)) })
	a.tried = map[union]laid{}
	defer func() { a.tried = nil }()
	// Along the grain if it can be, else however it lies.
	for _, a.grain = range []float64{2 * math.Pi / 180, math.Pi} {
		for _, j := range list {
			if a.groups[own] == g {
				a.attach(j)
			}
		}
		g.fill = unknown
	}
}
