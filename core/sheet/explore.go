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
	searchCells = 768
	searchWords = 5_000_000
	patience    = 14 // tries at one scale

	rungRatio = 1.006 // of the scales that are tried
	wideStep  = 5     // rungs, until the first try fails

	// With many shells the small ones fill whatever is left, and one order on a
	// coarser raster has to do.
	manyShells = 600
	manyCells  = 512
	manyWords  = 1_500_000
)

// explore lets searchers loose from several orders and returns what each reached,
// the best first.
func (p *packer) explore(ctx context.Context, tell func(float64)) ([]*searcher, error) {
	from := p.searchFrom()
	results := make([]*searcher, len(from))
	g, ctx := parallel.WithContext(ctx)
	g.SetLimit(2)
	for k, w := range from {
		g.Go(func() error {
			s := &searcher{packer: p.copy()}
			s.o.Turns = w.turns
			s.sortBy(w.by)
			s.relate()
			results[k] = s
			tell(0.05 + 0.5*float64(k)/float64(len(from)))
			return s.run(ctx)
		})
	}
	if err := g.Wait(); err != nil {
		return nil, err
	}
	slices.SortStableFunc(results, func(a, b *searcher) int { return cmp.Compare(b.reached, a.reached) })
	if results[0].reached == 0 {
		return nil, ErrNoRoom
	}
	return slices.DeleteFunc(results, func(s *searcher) bool { return s.reached == 0 }), nil
}

// start is where a searcher begins: an order, and the turns it uses.
type start struct {
	by    weight
	turns Turns
}

// searchFrom lists the starts. More freedom is not always better used with the
// same work, so where more turns are allowed others search with fewer beside.
func (p *packer) searchFrom() []start {
	if len(p.shells) > manyShells {
		return []start{{longFirst, p.o.Turns}}
	}
	least := p.o.Turns
	if least == QuarterTurns || least == AnyTurns {
		least = HalfTurns
	}
	out := []start{{longFirst, least}, {largeFirst, least}, {boxFirst, least}, {highFirst, least}}
	if p.o.Turns == QuarterTurns || p.o.Turns == AnyTurns {
		out = append(out, start{longFirst, QuarterTurns}, start{boxFirst, QuarterTurns})
	}
	if p.o.Turns == AnyTurns {
		out = append(out, start{largeFirst, AnyTurns})
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
}

func (s *searcher) run(ctx context.Context) error {
	cells, words := searchCells, searchWords
	if len(s.shells) > manyShells {
		cells, words = manyCells, manyWords
	}
	usable := 1 - 2*s.o.MarginPx/float64(s.o.SizePx)
	base := min(usable*math.Sqrt(0.6*float64(s.o.Tiles)/s.total), s.largest())
	shrink, rung, step := 0.92, 0, wideStep
	for fails := 0; fails < patience && (s.tested < words || s.reached == 0); {
		scale := base * math.Pow(rungRatio, float64(rung)) // all searchers climb the same rungs
		if s.reached == 0 && scale*s.longest < s.smallest(cells) {
			return nil // all of them are specks by now: it is the padding that leaves no room
		}
		ok, err := s.place(ctx, scale, cells)
		switch {
		case err != nil:
			return err
		case ok:
			s.reached, s.kept, s.best = scale, slices.Clone(s.order), s.found
			rung += step
			fails = 0
		case s.reached == 0: // nothing fitted yet
			base *= shrink
			shrink = max(0.5, shrink*0.98)
		default:
			if step > 1 {
				rung += 1 - step
				step = 1
			}
			fails++
			s.promote(s.failed, fails)
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
