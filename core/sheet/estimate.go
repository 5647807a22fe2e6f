package sheet

import (
	"context"
	"math"
)

// What an estimate looks at: cells across, how high a strip may become, and how often that
// is tried.
const (
	estimateCells = 320
	estimateHigh  = 2
	estimateTries = 4
)

// Estimate returns about the scale at which Pack would lay shells, for comparing shells
// rather than laying them: with half turns on a square sheet, they are laid on a strip as wide
// as the sheet and as high as it takes, at the scale that should make it as high as the sheet.
// Where that is not above a bound, which takes less time to see, the scale is 0; ErrNoRoom is
// of what has no scale at all.
func Estimate(ctx context.Context, shells []Shell, o Options, above float64) (float64, error) {
	if err := o.check(); err != nil {
		return 0, err
	}
	if !o.Wide && (o.Turns == QuarterTurns || o.Turns == AnyTurns) { // packing finds little more, and late
		o.Turns = HalfTurns
	}
	p := newPacker(shells, o)
	if p.total == 0 {
		return 0, nil
	}
	usable := 1 - 2*o.MarginPx/float64(o.SizePx)
	high := float64(o.Tiles)
	best, lost := 0.0, false
	for _, w := range []start{{by: longFirst, taste: usual}, {by: boxFirst, taste: taste{8, 3}}} {
		q := p.copy()
		q.taste = w.taste
		q.sortBy(w.by)
		q.relate()
		q.stride = searchStride
		scale := min(usable*math.Sqrt(0.7*o.area()/p.total), p.largest())
		for range estimateTries {
			q.top = 0
			if bound := max(best, above); bound > 0 { // higher than that would not be better
				q.ceiling = int(high * estimateCells * (scale / bound) * (scale / bound))
			}
			strip := newOccupancy(int(o.width()*estimateCells), int(estimateHigh*high*estimateCells))
			ok, err := q.placeOn(ctx, scale, estimateCells, []*occupancy{strip})
			if err != nil {
				return 0, err
			}
			if ok {
				reached := float64(q.top) / estimateCells / high
				best = max(best, min(scale/math.Sqrt(reached), p.largest()))
			}
			if lost = lost || !ok && q.top > q.ceiling && q.ceiling > 0; lost || best > 0 {
				break
			}
			scale *= 0.85
		}
	}
	switch {
	case best > above:
		return best, nil
	case best > 0 || lost:
		return 0, nil
	}
	return 0, ErrNoRoom
}
