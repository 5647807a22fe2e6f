package sheet

import (
	"cmp"
	"context"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/parallel"
)

// weight orders the shells to be placed, the largest first.
type weight func(size r2.Vec, area float64) float64

func longFirst(s r2.Vec, _ float64) float64 {
	return max(s.X, s.Y) * (max(s.X, s.Y) + 2*min(s.X, s.Y))
}
func largeFirst(_ r2.Vec, area float64) float64 { return area }
func boxFirst(s r2.Vec, _ float64) float64      { return s.X * s.Y }
func highFirst(s r2.Vec, _ float64) float64     { return s.Y + 0.1*s.X }

func (p *packer) sortBy(w weight) {
	weights := make([]float64, len(p.shells))
	for i, b := range p.boxes {
		weights[i] = w(b.Size(), p.areas[i])
	}
	slices.SortStableFunc(p.order, func(a, b int) int {
		return cmp.Or(cmp.Compare(float32(weights[b]), float32(weights[a])), cmp.Compare(a, b))
	})
}

// Searchers look for an order that fits at a larger scale: the shell that found
// no room is moved up in the order, and all are placed again (squeaky wheel
// optimization, Joslin & Clements 1999). The work is bounded by counting words of
// the raster, not by the clock, so the result is always the same.
const (
	searchCells  = 384
	searchWords  = 6_000_000
	searchStride = 2  // rows passed over at a time
	patience     = 40 // tries at one scale, more where few shells make them cheap
	fewShells    = 75

	firstLook = 5 // part of the work that is spent on a first look; who gets furthest goes on

	rungRatio = 1.006 // of the scales that are tried
	wideStep  = 5     // rungs, until the first try fails

	// With many shells the small ones fill whatever is left, and one order has to do;
	// they need finer cells.
	manyShells = 600
	manyCells  = 512
	manyWords  = 1_500_000
)

// explore lets searchers loose from several starts and returns the one that reached most.
// After a first look only the one that got furthest goes on.
func (p *packer) explore(ctx context.Context, tell func(float64)) (*searcher, error) {
	var all []*searcher
	var across *packer
	for _, w := range p.searchFrom() {
		from := p
		if w.across {
			if across == nil {
				across = p.exchanged()
			}
			from = across
		}
		s := from.searcher()
		s.o.Turns, s.taste = w.turns, w.taste
		s.sortBy(w.by)
		s.relate()
		all = append(all, s)
	}
	most := searchWords
	if len(p.shells) > manyShells {
		most = manyWords
	}
	for round, going := range [][]*searcher{all, all[:1]} {
		words := most
		if round == 0 {
			words = most / firstLook
		}
		g, ctx := parallel.WithContext(ctx)
		g.SetLimit(2)
		for k, s := range going {
			g.Go(func() error {
				tell(0.05 + 0.25*(float64(round)+float64(k)/float64(len(going))))
				return s.run(ctx, words)
			})
		}
		if err := g.Wait(); err != nil {
			return nil, err
		}
		slices.SortStableFunc(all, func(a, b *searcher) int { return cmp.Compare(b.reached, a.reached) })
	}
	if all[0].reached == 0 {
		return nil, ErrNoRoom
	}
	return all[0], nil
}

// exchanged packs the same shells with their axes exchanged.
func (p *packer) exchanged() *packer {
	shells := make([]Shell, len(p.shells))
	for i, s := range p.shells {
		shells[i] = s.across()
	}
	q := newPacker(shells, p.o)
	q.across, q.ground = true, p.ground.across()
	return q
}

// start is where a searcher begins: an order, the turns it uses, what it likes, and whether
// it fills the sheet from the left rather than from below.
type start struct {
	by     weight
	turns  Turns
	taste  taste
	across bool
}

// searchFrom lists the starts: which does best differs from sheet to sheet. More freedom is
// not always better used with the same work, so where more turns are allowed others search
// with fewer beside.
func (p *packer) searchFrom() []start {
	if len(p.shells) > manyShells {
		return []start{{longFirst, p.o.Turns, usual, false}}
	}
	least := p.o.Turns
	if least == QuarterTurns || least == AnyTurns {
		least = HalfTurns
	}
	out := []start{
		{longFirst, least, usual, false}, {largeFirst, least, taste{16, 1.5}, false},
		{boxFirst, least, taste{8, 3}, false}, {highFirst, least, usual, false},
		{longFirst, least, taste{32, 3}, false}, {longFirst, least, taste{8, 3}, true},
	}
	if p.o.Turns == QuarterTurns || p.o.Turns == AnyTurns {
		out = append(out, start{longFirst, QuarterTurns, usual, false}, start{boxFirst, QuarterTurns, usual, false})
	}
	if p.o.Turns == AnyTurns {
		out = append(out, start{largeFirst, AnyTurns, usual, false})
	}
	return out
}

// copy returns a packer of the same shells with an order of its own.
func (p *packer) copy() *packer {
	q := *p
	q.order, q.alike = slices.Clone(p.order), slices.Clone(p.alike)
	return &q
}

type searcher struct {
	*packer
	kept    []int // the order of the last success
	reached float64

	cells, rung, step, fails int
	base, shrink             float64 // scale of rung 0, and what it is made smaller by while nothing fits
}

func (p *packer) searcher() *searcher {
	usable := 1 - 2*p.o.MarginPx/float64(p.o.SizePx)
	s := &searcher{packer: p.copy(), cells: searchCells, step: wideStep, shrink: 0.92,
		base: min(usable*math.Sqrt(0.6*p.o.area()/p.total), p.largest())}
	if len(p.shells) > manyShells {
		s.cells = p.fitting(manyCells)
	}
	s.stride = searchStride
	return s
}

// run goes on searching until so many words were looked at in all.
func (s *searcher) run(ctx context.Context, words int) error {
	patience := patience * max(1, fewShells/max(1, len(s.shells)))
	orders := 1
	for n := 2; n <= len(s.shells) && orders < patience; n++ {
		orders *= n
	}
	patience = min(patience, orders) // there are no more orders than these
	for s.fails < patience && (s.tested < words || s.reached == 0) {
		scale := s.base * math.Pow(rungRatio, float64(s.rung)) // all searchers climb the same rungs
		if s.reached == 0 && scale*s.longest < s.smallest(s.cells) {
			return nil // all of them are specks by now: it is the padding that leaves no room
		}
		ok, err := s.place(ctx, scale, s.cells)
		switch {
		case err != nil:
			return err
		case ok:
			s.reached, s.kept, s.best = scale, slices.Clone(s.order), s.found
			s.rung += s.step
			s.fails = 0
		case s.reached == 0: // nothing fitted yet
			s.base *= s.shrink
			s.shrink = max(0.5, s.shrink*0.98)
		default:
			if s.step > 1 {
				s.rung += 1 - s.step
				s.step = 1
			}
			s.fails++
			s.promote(s.failed, s.fails)
		}
	}
	return nil
}

// smallest is the size below which a shell takes one cell whatever its scale.
func (s *searcher) smallest(cells int) float64 {
	_, cell, _ := s.raster(cells)
	return cell / 4
}

// promote moves a shell up in the order: the more often something fails, the
// further.
func (s *searcher) promote(shell, times int) {
	at := slices.Index(s.order, shell)
	to := max(0, at-1-len(s.order)*times/(2*patience))
	if at > 8 && times < patience/2 {
		to = max(to, at/3)
	}
	s.order = slices.Insert(slices.Delete(s.order, at, at+1), to, shell)
	s.relate()
}

// relate notes for each shell an earlier one of the same form in the order.
func (p *packer) relate() {
	type like struct {
		w, h, area float32
		still      bool
	}
	last := map[like]int{}
	for _, i := range p.order {
		s := p.boxes[i].Size()
		k := like{float32(s.X), float32(s.Y), float32(p.areas[i]), p.shells[i].Still}
		p.alike[i] = -1
		if j, ok := last[k]; ok && len(p.shells[i].Tris) == len(p.shells[j].Tris) {
			p.alike[i] = j
		}
		last[k] = i
	}
}
