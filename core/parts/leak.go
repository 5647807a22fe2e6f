package parts

import (
	"math"

	"morvek/core/shape"
)

// trim drops the facets that bend on smoothly outside a region for longer than
// inside it: where a wall has leaked into what it runs into.
func (g *model) trim(set []int) []int {
	for range 8 {
		g.now++
		for _, i := range set {
			g.stamp[i] = g.now
		}
		kept := set[:0:0]
		for _, i := range set {
			if !g.goesOn(i) {
				kept = append(kept, i)
			}
		}
		if len(kept) == len(set) {
			break
		}
		set = kept
	}
	return set
}

// goesOn tells whether a facet of a stamped set bends on smoothly outside it for longer than inside.
func (g *model) goesOn(i int) bool {
	var inside, outside float64
	for _, s := range g.list[i].sides {
		if s.smooth && g.stamp[s.other] == g.now {
			inside += s.length
		} else if s.smooth {
			outside += s.length
		}
	}
	return outside > inside
}

const barelyBent = 1.5 * math.Pi / 180

// slice tells whether a region is a slice of something larger rather than a
// thing of its own: either much of its border lies on a smooth run of facets of
// like size, where a modeler would not stop, or many of its facets bend on
// smoothly outside the region for longer than inside it. The second goes for
// shapes without a distance, which leak along whatever they run into.
func (g *model) slice(r region) bool {
	most := 0.4
	if r.fit.Kind == shape.Plane {
		most = 0.15 // among facets of like size a flat one is chance
	}
	if g.leak(r.set) > most {
		return true
	}
	if r.fit.HasDistance() {
		return false
	}
	var loose float64
	for _, i := range r.set {
		if len(r.set) > 1 && g.goesOn(i) {
			loose += g.list[i].area
		}
	}
	return loose > 0.3*r.area
}

// leak is the share of the border of a set that lies on a smooth run of facets of like size. It
// stamps the set.
func (g *model) leak(set []int) float64 {
	g.now++
	for _, i := range set {
		g.stamp[i] = g.now
	}
	var odd, border float64
	for _, i := range set {
		for _, s := range g.list[i].sides {
			if g.stamp[s.other] == g.now {
				continue
			}
			border += s.length
			o := g.list[s.other].area / s.length
			alike := s.extent < 2.5*o && o < 2.5*s.extent
			if s.smooth && (alike || s.bend < barelyBent) && !g.tangent(i, s) {
				odd += s.length
			}
		}
	}
	return odd / max(border, 1e-300)
}

// tangent tells whether a facet goes over into something else at a side: its
// other bends are unlike the one across that side, as where a straight pipe
// runs into an elbow.
func (g *model) tangent(i int, s side) bool {
	for _, o := range g.list[i].sides {
		if o.other != s.other && apart(o.dir, s.dir) < math.Pi/6 {
			return o.smooth && (o.bend < 0.4*s.bend-g.list[i].slack || o.bend > 2.5*s.bend+g.list[i].slack)
		}
	}
	return false
}
