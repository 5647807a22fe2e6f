package parts

import (
	"slices"

	"morvek/core/shape"
)

// A morsel is a few facets inside a round form or at its cut border that its fit has missed:
// slivers lean any way, and corners that a cut has made lie on chords.
const (
	morselFacets = 3
	morselShare  = 0.02 // of the area of what it lies beside
	morselBorder = 0.4  // of its border is with that
)

// fill gives morsels to the round form that surrounds most of them: what is left, and flats
// of a few facets, each of which is a plane trivially.
func (g *model) fill(chosen []region, left [][]int) ([]region, [][]int) {
	hosts := map[int]int{} // by facet
	var kept []region
	var morsels [][]int
	for _, r := range chosen {
		if r.fit.Kind == shape.Plane && len(r.set) <= morselFacets {
			morsels = append(morsels, r.set)
			continue
		}
		if r.fit.Kind != shape.Plane && r.fit.Kind != shape.Extruded {
			for _, i := range r.set {
				hosts[i] = len(kept)
			}
		}
		r.set = slices.Clip(r.set) // it may grow
		kept = append(kept, r)
	}
	if len(hosts) == 0 {
		return chosen, left
	}
	for _, set := range left {
		if len(set) <= morselFacets {
			morsels = append(morsels, set)
		}
	}
	given := map[int]bool{} // by first facet
	for changed := true; changed; {
		changed = false
		for _, set := range morsels {
			if given[set[0]] {
				continue
			}
			if k, ok := g.around(set, kept, hosts); ok {
				for _, i := range set {
					kept[k].set = append(kept[k].set, i)
					kept[k].area += g.list[i].area
					hosts[i] = k
				}
				given[set[0]], changed = true, true
			}
		}
	}
	for _, r := range chosen {
		if r.fit.Kind == shape.Plane && len(r.set) <= morselFacets && !given[r.set[0]] {
			kept = append(kept, r)
		}
	}
	return kept, slices.DeleteFunc(left, func(set []int) bool { return given[set[0]] })
}

// around returns the round form that a morsel meets smoothly along most of its border and
// that it does not lean against much more than it bends.
func (g *model) around(set []int, regions []region, hosts map[int]int) (host int, ok bool) {
	with := map[int]float64{}
	var border, area, bend float64
	for _, i := range set {
		area += g.list[i].area
		bend = max(bend, g.list[i].bend)
		for _, s := range g.list[i].sides {
			if slices.Contains(set, s.other) {
				continue
			}
			border += s.length
			if k, in := hosts[s.other]; in && s.smooth {
				with[k] += s.length
			}
		}
	}
	host = -1
	for k, l := range with {
		if l >= morselBorder*border && (host < 0 || l > with[host] || l == with[host] && k < host) {
			host = k
		}
	}
	if host < 0 {
		return host, false
	}
	f := regions[host].fit
	if !slices.ContainsFunc(set, func(i int) bool { return !f.HasDistance() || !g.owns(f, i) }) {
		return host, true // what a cut left of a column, however large
	}
	if area > morselShare*regions[host].area {
		return host, false
	}
	for _, i := range set {
		c := &g.list[i]
		if f.Deviation(c.centre, c.normal) > 2*c.leaning()+0.5*bend {
			return host, false
		}
	}
	return host, true
}
