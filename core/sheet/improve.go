package sheet

import (
	"context"
	"errors"
	"math"
	"math/rand/v2"
)

// What one round of improving may take, and the step of scale below which it is not worth it.
const (
	roundWords  = 15_000_000
	firstStep   = 1.012
	lastStep    = 1.0015
	mostImprove = 1500 // shells: pairs of them are weighed
)

// ErrTooMany is returned where there are more shells than can be moved apart in pairs.
var ErrTooMany = errors.New("there are more than 1500 shells, too many to be improved like this; pack them anew instead")

// Improve enlarges shells from where they lie: the triangles are in sheet units, tile n lies n to
// the right. In each round all are laid out a little larger and moved apart again, from another
// random start; after some in vain, two change places first (iterated local search, Lourenço,
// Martin & Stützle 2003). It gives the same for the same number of rounds. seen is told the
// best so far after each. What already lies as dense as it can stays as it is.
func Improve(ctx context.Context, shells []Shell, o Options, rounds int, seen func(round int, now []Placement)) ([]Placement, error) {
	if err := o.check(); err != nil {
		return nil, err
	}
	if len(shells) > mostImprove {
		return nil, ErrTooMany
	}
	p := newPacker(shells, o)
	best := make([]Placement, len(shells))
	for i := range best {
		best[i] = Placement{Scale: 1, Tile: max(0, min(p.o.Tiles-1, int(math.Floor(p.boxes[i].Middle().X))))}
	}
	step, vain := firstStep, 0
	for round := range rounds {
		random := rand.New(rand.NewPCG(uint64(round+1), uint64(len(shells))))
		from := best
		if vain > 2 {
			from = p.exchangedTwo(best, random)
		}
		larger, _, err := p.enlarged(ctx, from, best[0].Scale, attempt{best[0].Scale * step, lessCells, roundWords, random})
		if err != nil {
			return best, err
		}
		if larger != nil {
			best, vain = larger, 0
		} else {
			vain++
			step = max(lastStep, math.Sqrt(step))
		}
		if seen != nil {
			seen(round+1, best)
		}
	}
	return best, nil
}

// movedApart lays shells out at another scale and moves them apart with so much work, nil if they
// stay in each other's way. set changes how, before it begins. It tells how much work that was.
func (p *packer) movedApart(ctx context.Context, from []Placement, to float64, cells, words int, set func(*separator)) (apart []Placement, work int, err error) {
	if to > p.largest() {
		return nil, 0, nil
	}
	s := p.newSeparator(from, to, cells)
	if s == nil {
		return nil, 0, nil
	}
	set(s)
	ok, err := s.run(ctx, words+s.work)
	if work = s.work; err != nil || !ok {
		return nil, work, err
	}
	s.upright()
	return s.placements(to), work, nil
}

// exchangedTwo are placements where two shells of about the same size have changed places.
func (p *packer) exchangedTwo(list []Placement, random *rand.Rand) []Placement {
	out := append([]Placement{}, list...)
	for range 20 {
		i, j := random.IntN(len(list)), random.IntN(len(list))
		a, b := p.boxes[i].Size(), p.boxes[j].Size()
		if i == j || a.X == b.X && a.Y == b.Y || max(a.X, a.Y) > 2*max(b.X, b.Y) || max(b.X, b.Y) > 2*max(a.X, a.Y) {
			continue
		}
		mi, mj := list[i].Apply(p.boxes[i].Middle()), list[j].Apply(p.boxes[j].Middle())
		out[i].Shift.X, out[i].Shift.Y = out[i].Shift.X+mj.X-mi.X, out[i].Shift.Y+mj.Y-mi.Y
		out[j].Shift.X, out[j].Shift.Y = out[j].Shift.X+mi.X-mj.X, out[j].Shift.Y+mi.Y-mj.Y
		out[i].Tile, out[j].Tile = out[j].Tile, out[i].Tile
		break
	}
	return out
}
