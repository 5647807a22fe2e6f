package segment

import (
	"cmp"
	"context"
	"maps"
	"slices"

	"morvek/core/parallel"
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
