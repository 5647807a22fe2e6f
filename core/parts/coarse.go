package parts

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/shape"
)

// coarse says which bent bars are one though there are creases along them: the section of none turns by more than
// rail at any corner, radians, or has fewer of these than sides.
type coarse struct {
	rail  float64
	sides int
	sets  int     // components that may be one bar
	long  float64 // times round it at least
}

// Bars of few sides or of a flat oval section are, and wires of five sides and more, which bend coarsely too.
var (
	coarseBar  = coarse{rail: 57 * math.Pi / 180, sides: 8, sets: 24}
	coarseWire = coarse{rail: 75 * math.Pi / 180, sides: 5, sets: 400, long: 3}
)

// coarseBars takes the components that together are a bent bar or a ring of few sides out of a list, as parts.
func (g *model) coarseBars(sets [][]int) (bars []Part, rest [][]int) {
	rest = sets
	for _, c := range []coarse{coarseBar, coarseWire} {
		var more []Part
		more, rest = g.coarsely(rest, c)
		bars = append(bars, more...)
	}
	return bars, rest
}

func (g *model) coarsely(sets [][]int, c coarse) (bars []Part, rest [][]int) {
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
				if o, ok := of[s.other]; ok && int(o) != k && !s.smooth && s.bend <= c.rail {
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
		if len(group) < 2 || len(group) > c.sets {
			continue
		}
		var all []int
		for _, o := range group {
			all = append(all, sets[o]...)
		}
		if f, ok := g.coarseBar(all, c); ok {
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
func (g *model) coarseBar(set []int, c coarse) (shape.Fit, bool) {
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
	if len(loops) != 2 || !c.round(p, loops[0]) || !c.round(p, loops[1]) {
		return shape.Fit{}, false
	}
	if girth := loopLength(p, loops[0]); p.Area() < c.long*girth*girth {
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

// round tells whether a border is a convex polygon of many sides without a sharp corner.
func (c coarse) round(p *mesh.Patch, loop []int32) bool {
	var all float64
	corners := 0
	for _, turn := range loopTurns(p, loop) {
		if turn > c.rail {
			return false
		}
		if turn > normalSlack {
			corners++
		}
		all += turn
	}
	return corners >= c.sides && all < 2*math.Pi*convexSlack
}

// convexSlack is how much more than once round the corners of a convex polygon may turn that is not quite flat.
const convexSlack = 1.05
