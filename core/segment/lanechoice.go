package segment

import (
	"cmp"
	"context"
	"maps"
	"math"
	"math/bits"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/parallel"
)

// need is the side of a square sheet that shells ask for, in units of the model: as long
// as the longest, and as large as all with half of what their boxes waste.
func (r *ruling) need(plan map[int]laneCut) (side, wanted float64) {
	var sum float64
	add := func(area float64, size r2.Vec) {
		side = max(side, longest(size))
		sum += area + wasteLost*max(0, size.X*size.Y-area)
	}
	for i, b := range r.bands {
		c, ok := plan[i]
		if !ok {
			add(b.area, b.size)
			continue
		}
		for k := range c.areas {
			add(c.areas[k], c.sizes[k])
		}
	}
	wanted = math.Sqrt(sum / usualFill)
	return max(side, wanted), wanted
}

// wasteLost is the share of the empty part of a box that no other shell will fill,
// usualFill the coverage of shells that fill their boxes.
const (
	wasteLost = 0.5
	usualFill = 0.84
)

// score rates a plan: what the coverage is worth, less the price of the pieces it adds and
// of what lies off its grain.
func (r *ruling) score(plan map[int]laneCut) float64 {
	side, _ := r.need(plan)
	return worth(r.area/(side*side)) - r.price(plan)
}

// worth is what a coverage is worth: the logarithm of the area all shells gain, which counts
// twice while the sheet is poorly filled.
func worth(coverage float64) float64 {
	return math.Log(coverage) + math.Log(min(coverage, poorlyFilled))
}

const poorlyFilled = 0.7

// worthOf is the coverage that has a worth.
func worthOf(worth float64) float64 {
	if whole := worth - math.Log(poorlyFilled); whole > math.Log(poorlyFilled) {
		return math.Exp(whole)
	}
	return math.Exp(worth / 2)
}

// price is what a plan must bring, as a share of area, for the pieces it adds and the seam
// it puts in view, the dial going from fewer pieces to more of them, and for what lies off
// its grain.
func (r *ruling) price(plan map[int]laneCut) float64 {
	extra, seen, off := 0, 0.0, 0.0
	for i, b := range r.bands { // in order, for the sum to be the same each time
		if c, ok := plan[i]; ok {
			extra += len(c.areas) - 1
			seen += c.seen
			off += c.off
		} else {
			off += b.off
		}
	}
	return offPrice*off/r.area + math.Pow(8, -r.doc.State.Settings.Dial)*(piecePrice*float64(extra)/float64(len(r.bands)+20)+seenPrice*seen/math.Sqrt(r.area))
}

const (
	piecePrice = 0.8  // for as many pieces more as there are
	offPrice   = 0.6  // for all of it lying off its grain
	seenPrice  = 0.45 // for a seam in full view as long as the side of all area
)

// choose finds the divisions that pay.
func (r *ruling) choose(ctx context.Context, progress func(float64)) ([]laneCut, error) {
	plan := map[int]laneCut{}
	groups := r.groups()
	best := r.score(plan)
	// How long may shells be? As long as one of them is, or a share of the side that all
	// of them need.
	var limits []float64
	for _, b := range r.bands {
		limits = append(limits, b.long())
	}
	_, wanted := r.need(plan)
	for _, share := range []float64{1.2, 1, 0.85, 0.7} {
		limits = append(limits, share*wanted)
	}
	slices.SortFunc(limits, func(a, b float64) int { return cmp.Compare(b, a) })
	limits = slices.Compact(limits)
	for k, limit := range limits {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		parallel.Report(progress, 0.5*float64(k)/float64(len(limits)))
		if limit < 0.6*wanted {
			break
		}
		try := map[int]laneCut{}
		for _, g := range groups {
			if n := r.piecesFor(g[0], limit); n > 0 {
				r.divide(try, g, n)
			}
		}
		if s := r.score(try); s > best+1e-9 {
			plan, best = try, s
		}
	}
	// Bands that fill little of their box or lie off their grain, the most wasteful first.
	waste := func(g []int) float64 {
		b := r.bands[g[0]]
		return float64(len(g)) * (b.size.X*b.size.Y - b.area + b.off)
	}
	slices.SortStableFunc(groups, func(a, b []int) int { return cmp.Compare(float32(waste(b)), float32(waste(a))) })
	for k, g := range groups {
		if waste(g) < leastWaste*r.area {
			break
		}
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		parallel.Report(progress, 0.5+0.5*float64(k)/float64(len(groups)))
		for n := 2; n <= 6; n++ {
			try := maps.Clone(plan)
			r.divide(try, g, n)
			if s := r.score(try); s > best+1e-9 {
				plan, best = try, s
			}
		}
	}
	plan, err := r.tune(ctx, plan, groups)
	if err != nil {
		return nil, err
	}
	var cuts []laneCut
	for i := range r.bands {
		if c, ok := plan[i]; ok {
			cuts = append(cuts, c)
		}
	}
	return cuts, nil
}

// leastWaste is the share of all area that a box must waste for its shell to be divided.
const leastWaste = 0.02

// tune goes on with what a quick packing says: estimates know nothing of how few large
// shells fit beside each other. It tries the largest shells in one piece more, all that
// are longer than some length in as many as that takes, and where none of that brings
// anything, several of the largest together: two that do not fit beside each other hold
// back the sheet until both are divided.
func (r *ruling) tune(ctx context.Context, plan map[int]laneCut, groups [][]int) (map[int]laneCut, error) {
	scale, err := r.quick(ctx, plan, 0)
	if err != nil {
		return nil, err
	}
	for range tuneRounds {
		if r.area*scale*scale > wellFilled {
			break
		}
		var next map[int]laneCut
		best, reached := 0.0, scale
		// weigh looks for the best of some changes, and lists those that lose no more than something.
		weigh := func(changes []map[int]laneCut, loss float64) (promising []map[int]laneCut, err error) {
			gains := make([]float64, len(changes))
			order := make([]int, len(changes))
			for k, change := range changes {
				try := maps.Clone(plan)
				maps.Copy(try, change)
				asks := worth(r.area*scale*scale) + r.price(try) - r.price(plan) + tuneNoise
				now, err := r.quick(ctx, try, math.Sqrt(worthOf(asks-loss)/r.area))
				if err != nil {
					return nil, err
				}
				order[k], gains[k] = k, worth(r.area*now*now)-asks
				if gains[k] > best {
					next, best, reached = try, gains[k], now
				}
			}
			slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(gains[b], gains[a]) })
			seen := map[string]bool{}
			for _, k := range order {
				if key := r.key(changes[k]); gains[k] >= -loss && !seen[key] && len(promising) < mostPromising {
					seen[key] = true
					promising = append(promising, changes[k])
				}
			}
			return promising, nil
		}
		finer, shorter := r.finer(plan, groups), r.shorter(plan, groups)
		looser, further := r.looser(plan, groups)
		promising, err := weigh(slices.Concat(finer, looser, further, shorter), mostLoss)
		if err != nil {
			return nil, err
		}
		if next == nil {
			if _, err := weigh(together(promising), 0); err != nil {
				return nil, err
			}
		}
		if next == nil {
			break
		}
		plan, scale = next, reached
	}
	return plan, nil
}

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

// mostTogether is how many changes are made together at the most, of mostPromising that bring most or lose
// least each alone.
const (
	mostTogether  = 3
	mostPromising = 5
	mostLoss      = 0.2 // what a change may lose alone
)

// together lists what two or more of some changes make together, of different shells.
func together(changes []map[int]laneCut) (out []map[int]laneCut) {
	for set := range 1 << len(changes) {
		if n := bits.OnesCount(uint(set)); n < 2 || n > mostTogether {
			continue
		}
		both, sum := map[int]laneCut{}, 0
		for k, c := range changes {
			if set>>k&1 == 1 {
				maps.Copy(both, c)
				sum += len(c)
			}
		}
		if len(both) == sum {
			out = append(out, both)
		}
	}
	return out
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

// How far tuning goes: until the sheet is so full, for some rounds, each of which tries
// a few plans; what a quick packing says is sure to a few hundredths.
const (
	wellFilled = 0.76
	tuneRounds = 4
	tuneTries  = 3
	tuneMore   = 4
	tuneNoise  = 0.01
)

// tuneShares are the lengths that are tried, in that of the longest shell, sheetShares those
// in the side of a sheet: as many lie side by side.
var (
	tuneShares  = []float64{0.85, 0.7}
	sheetShares = []float64{0.97, 0.65, 0.485, 0.32}
)

// groups lists shells with their repeats, which are divided alike.
func (r *ruling) groups() (out [][]int) {
	at := map[int]int{}
	for i, b := range r.bands {
		if b.still {
			continue
		}
		if k, ok := at[b.like]; ok {
			out[k] = append(out[k], i)
			continue
		}
		at[b.like] = len(out)
		out = append(out, []int{i})
	}
	return out
}

// divide plans to part each of some shells in n.
func (r *ruling) divide(plan map[int]laneCut, group []int, n int) {
	for _, i := range group {
		if c := r.cut(i, n); len(c.edges) > 0 {
			plan[i] = c
		}
	}
}

// piecesFor is the number of pieces that makes none of a shell longer than a limit, 0
// if it is short enough or cannot be divided so.
func (r *ruling) piecesFor(i int, limit float64) int {
	long := r.bands[i].long()
	if long <= limit*(1+1e-9) || !(long < mostLanes*limit) {
		return 0
	}
	least := int(math.Ceil(long/limit - 1e-9))
	for n := least; n <= min(2*least+1, mostLanes); n++ {
		c := r.cut(i, n)
		if len(c.edges) > 0 && !slices.ContainsFunc(c.sizes, func(s r2.Vec) bool { return longest(s) > 1.02*limit }) {
			return n
		}
	}
	return 0
}

// mostLanes bounds the pieces one shell is divided in.
const mostLanes = 24
