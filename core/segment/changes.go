package segment

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"
)

// sizes are the boxes of a shell as a plan divides it.
func (r *ruling) sizes(plan map[int]laneCut, i int) []r2.Vec {
	if c, ok := plan[i]; ok {
		return c.sizes
	}
	return []r2.Vec{r.bands[i].size}
}

// finer lists changes of a plan by which one of the largest shells, and its repeats, comes in more pieces.
func (r *ruling) finer(plan map[int]laneCut, groups [][]int) (out []map[int]laneCut) {
	weight := func(g []int) (w float64) { // boxes as they are now
		for _, i := range g {
			for _, s := range r.sizes(plan, i) {
				w = max(w, longest(s)*(longest(s)+2*min(s.X, s.Y)))
			}
		}
		return w
	}
	slices.SortStableFunc(groups, func(a, b []int) int { return cmp.Compare(float32(weight(b)), float32(weight(a))) })
	for _, g := range groups[:min(tuneTries, len(groups))] {
		now := len(r.sizes(plan, g[0]))
		for n := now + 1; n <= now+tuneMore; n++ { // some cannot be divided in just one more
			if len(r.cut(g[0], n).areas) > now {
				change := map[int]laneCut{}
				r.divide(change, g, n)
				out = append(out, change)
				break
			}
		}
	}
	return out
}

// looser lists changes of a plan by which one of the shells that waste most of their box is taken
// apart at as many borders of its parts more, or divided in as many pieces more, as it takes for its
// boxes to waste less: the first of two arms gains nothing yet, nor does a ring in halves. Further
// lists those that go on dividing for as long as it takes away waste.
func (r *ruling) looser(plan map[int]laneCut, groups [][]int) (out, further []map[int]laneCut) {
	waste := func(g []int) (w float64) {
		for _, i := range g {
			w += boxArea(r.sizes(plan, i)) - r.bands[i].area
		}
		return w
	}
	slices.SortStableFunc(groups, func(a, b []int) int { return cmp.Compare(float32(waste(b)), float32(waste(a))) })
	for _, g := range groups {
		if len(out) == tuneTries || waste(g) < leastWaste*r.area {
			break
		}
		change, more := map[int]laneCut{}, map[int]laneCut{}
		for _, i := range g {
			if c, ok := r.unwasted(plan, i, leastWaste*r.area/float64(len(g))); ok {
				change[i] = c
			}
			if c, ok := r.leastWasted(plan, i); ok {
				more[i] = c
			}
		}
		if len(change) > 0 {
			out = append(out, change)
		}
		if len(more) > 0 {
			further = append(further, more)
		}
	}
	return out, further
}

// leastWaste is the share of all area that a box must waste for its shell to be divided.
const leastWaste = 0.02

func boxArea(sizes []r2.Vec) (sum float64) {
	for _, s := range sizes {
		sum += s.X * s.Y
	}
	return sum
}

// hollow tells whether a shell is rather a ring or a bow in its box than a plate with a window, and may be
// divided across.
func (r *ruling) hollow(plan map[int]laneCut, i int) bool {
	return plan[i].joints == 0 && r.bands[i].area < ringFill*boxArea(r.sizes(nil, i))
}

// ringFill is the share of its box that a ring fills at the most.
const ringFill = 0.5

// unwasted takes a shell apart, or divides it, in the fewest pieces more by which its boxes lose an area.
func (r *ruling) unwasted(plan map[int]laneCut, i int, area float64) (laneCut, bool) {
	now, hollow := r.sizes(plan, i), r.hollow(plan, i)
	least := boxArea(now) - area
	for n := 1; n <= tuneMore; n++ {
		if c := r.apart(i, plan[i].joints+n); len(c.edges) > 0 && boxArea(c.sizes) < least {
			return c, true
		}
		if !hollow {
			continue
		}
		if c := r.cut(i, len(now)+n); len(c.edges) > 0 && boxArea(c.sizes) < least {
			return c, true
		}
	}
	return laneCut{}, false
}

// leastWasted divides a shell in the pieces, up to twice as many more, of which each more takes enough from its boxes.
func (r *ruling) leastWasted(plan map[int]laneCut, i int) (best laneCut, ok bool) {
	if !r.hollow(plan, i) {
		return best, false
	}
	now := r.sizes(plan, i)
	least := boxArea(now)
	for n := 1; n <= 2*tuneMore; n++ {
		c := r.cut(i, len(now)+n)
		if is := boxArea(c.sizes) + leastWaste*r.area*float64(n); len(c.edges) > 0 && is < least {
			best, least, ok = c, is, true
		}
	}
	return best, ok
}

// shorter lists changes of a plan by which all shells are divided that are longer than some length.
func (r *ruling) shorter(plan map[int]laneCut, groups [][]int) (out []map[int]laneCut) {
	long := func(g []int) (l float64) {
		for _, s := range r.sizes(plan, g[0]) {
			l = max(l, longest(s))
		}
		return l
	}
	var most float64
	for _, g := range groups {
		most = max(most, long(g))
	}
	lengths := make([]float64, 0, len(tuneShares)+len(sheetShares))
	for _, share := range tuneShares {
		lengths = append(lengths, share*most)
	}
	for _, share := range sheetShares {
		lengths = append(lengths, share*math.Sqrt(r.area/wellFilled))
	}
	for _, limit := range lengths {
		change := map[int]laneCut{}
		more := 0
		for _, g := range groups {
			if long(g) <= limit {
				continue
			}
			if n := r.piecesFor(g[0], limit); n > 0 {
				r.divide(change, g, n)
				more++
			}
		}
		if more > 1 { // one alone was tried
			out = append(out, change)
		}
	}
	return out
}

// How many changes of a kind are tried, and in how many pieces more; the coverage of a sheet that is
// well filled.
const (
	tuneTries  = 3
	tuneMore   = 4
	wellFilled = 0.76
)

// tuneShares are the lengths that are tried, in that of the longest shell, sheetShares those
// in the side of a sheet: as many lie side by side.
var (
	tuneShares  = []float64{0.85, 0.7}
	sheetShares = []float64{0.97, 0.65, 0.485, 0.32}
)
