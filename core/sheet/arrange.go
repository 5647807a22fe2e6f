package sheet

import (
	"cmp"
	"context"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"
)

// What arranging tries: the share of the sheet that is filled at first, and by how much all becomes
// smaller until there is room, then larger again.
const (
	arrangeFill   = 0.8
	arrangeDown   = 0.94
	arrangeUp     = 1.02
	arrangeRounds = 40
	arrangeWords  = 25_000_000
)

// Arrange places all shells at one scale so that they lie to each other as some places do: what is
// left or above there is so on the sheet, about. The places are first spread so that the area of
// the shells is even along both axes, which keeps their order; then shells are moved apart, each
// no farther than it must be.
func Arrange(ctx context.Context, shells []Shell, at []r2.Vec, o Options, progress func(float64)) ([]Placement, error) {
	if err := o.check(); err != nil {
		return nil, err
	}
	if len(shells) > mostImprove {
		return nil, ErrTooMany
	}
	p := newPacker(shells, o)
	if p.total == 0 {
		return p.allAtMargin(), nil
	}
	u := p.evened(func(i int) float64 { return at[i].X })
	v := p.evened(func(i int) float64 { return at[i].Y })
	usable := 1 - 2*p.o.MarginPx/float64(p.o.SizePx)
	scale := min(usable*math.Sqrt(arrangeFill*p.o.area()/p.total), 0.98*p.largest())
	var best []Placement
	for round := range arrangeRounds {
		from := best
		if best == nil {
			from = p.atPlaces(u, v, scale)
		}
		found, _, err := p.movedApart(ctx, from, scale, p.fitting(searchCells), arrangeWords, func(s *separator) { s.local = true })
		if err != nil {
			return nil, err
		}
		if progress != nil {
			progress(float64(round+1) / arrangeRounds)
		}
		switch {
		case found == nil && best == nil:
			scale *= arrangeDown
		case found == nil:
			return best, nil
		default:
			best = found
			if scale = min(scale*arrangeUp, p.largest()); scale <= best[0].Scale {
				return best, nil
			}
		}
	}
	if best == nil {
		return nil, ErrNoRoom
	}
	return best, nil
}

// evened is where the middle of each shell comes to lie along an axis, 0 to 1, in the order of
// what by says: the share of all area before it.
func (p *packer) evened(by func(i int) float64) []float64 {
	order := make([]int, len(p.shells))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(float32(by(a)), float32(by(b))) })
	out := make([]float64, len(order))
	before := 0.
	for lo := 0; lo < len(order); { // those at one place lie at one
		hi, area := lo, 0.
		for ; hi < len(order) && float32(by(order[hi])) == float32(by(order[lo])); hi++ {
			area += p.areas[order[hi]]
		}
		for _, i := range order[lo:hi] {
			out[i] = (before + area/2) / p.total
		}
		before += area
		lo = hi
	}
	return out
}

// atPlaces lays shells with their middles at places of the sheet.
func (p *packer) atPlaces(u, v []float64, scale float64) []Placement {
	margin := p.o.MarginPx / float64(p.o.SizePx)
	out := make([]Placement, len(p.shells))
	for i := range out {
		tile := min(p.o.Tiles-1, int(u[i]*float64(p.o.Tiles)))
		within := u[i]*float64(p.o.Tiles) - float64(tile)
		to := r2.Vec{X: float64(tile) + margin + within*(p.o.width()-2*margin), Y: margin + v[i]*(1-2*margin)}
		out[i] = Placement{Scale: scale, Tile: tile, Shift: r2.Sub(to, r2.Scale(scale, p.boxes[i].Middle()))}
	}
	return out
}
