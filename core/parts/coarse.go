package parts

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/shape"
)

// A bent bar of few sides, or of a flat oval section, has creases along it that are none: it is one bar all the
// same if its section turns by no more than this at any corner and has so many of them.
const (
	coarseRail  = 57 * math.Pi / 180
	coarseSides = 8
	coarseSets  = 24 // components that may be one bar
)

// coarseBars takes the components that together are a bent bar or a ring of few sides out of a list, as parts.
func (g *model) coarseBars(sets [][]int) (bars []Part, rest [][]int) {
	of := map[int]int32{}
	for k, set := range sets {
		for _, i := range set {
			of[i] = int32(k)
		}
	}
	linked := ids.NewForest(len(sets))
	for k, set := range sets {
		for _, i := range set {
			for _, s := range g.list[i].sides {
				if o, ok := of[s.other]; ok && int(o) != k && !s.smooth && s.bend <= coarseRail {
					linked.Join(int32(k), o)
				}
			}
		}
	}
	groups := map[int32][]int{}
	for k := range sets {
		r := linked.Root(int32(k))
		groups[r] = append(groups[r], k)
	}
	taken := make([]bool, len(sets))
	for k := range sets {
		group := groups[int32(k)] // by its first
		if len(group) < 2 || len(group) > coarseSets {
			continue
		}
		var all []int
		for _, o := range group {
			all = append(all, sets[o]...)
		}
		if f, ok := g.coarseBar(all); ok {
			bars = append(bars, g.part(all, f))
			for _, o := range group {
				taken[o] = true
			}
		}
	}
	for k, set := range sets {
		if !taken[k] {
			rest = append(rest, set)
		}
	}
	return bars, rest
}

// coarseBar tells whether facets are a bent bar of few sides with two open ends, or a ring of them.
func (g *model) coarseBar(set []int) (shape.Fit, bool) {
	faces := g.faces(set)
	slices.Sort(faces)
	p := mesh.NewPatch(g.mesh, faces, func(mesh.EdgeID) bool { return false })
	if p.Euler() != 0 {
		return shape.Fit{}, false
	}
	loops := p.Borders()
	if len(loops) == 0 {
		return g.coarseRing(set)
	}
	if len(loops) != 2 || !roundSection(p, loops[0]) || !roundSection(p, loops[1]) {
		return shape.Fit{}, false
	}
	f, ok := tubeOf(p)
	return f, ok && !straight(f.Spine)
}

// coarseRing tells whether facets that close on themselves have all their corners on a torus.
func (g *model) coarseRing(set []int) (shape.Fit, bool) {
	s := g.gather(set)
	turned := shape.FitTurned(s)
	if turned.Axis == (r3.Vec{}) {
		return shape.Fit{}, false
	}
	f := shape.FitTorus(s, turned.Axis, turned.Origin)
	if math.IsNaN(f.Error+f.Radius) || f.Radius > f.Major || f.Error > g.tol.near(f)/1.75 {
		return shape.Fit{}, false
	}
	for _, i := range set {
		if g.worst(f, i) > g.tol.near(f) {
			return shape.Fit{}, false
		}
	}
	return f, true
}

// roundSection tells whether a border is a convex polygon of many sides without a sharp corner.
func roundSection(p *mesh.Patch, loop []int32) bool {
	var all float64
	corners := 0
	for _, turn := range loopTurns(p, loop) {
		if turn > coarseRail {
			return false
		}
		if turn > normalSlack {
			corners++
		}
		all += turn
	}
	return corners >= coarseSides && all < 2*math.Pi*convexSlack
}

// convexSlack is how much more than once round the corners of a convex polygon may turn that is not quite flat.
const convexSlack = 1.05
