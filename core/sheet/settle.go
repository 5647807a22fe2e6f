package sheet

import (
	"context"
	"math/rand/v2"
)

// How shells are settled: moved apart on so many cells, in steps of the scale that get shorter
// each time nothing came of one, until that was so often, or so much work was done.
const (
	coarseCells = 512
	lessCells   = 1.2 // of the padding that is left to exact geometry
	lessChange  = 0.5 // by which that is changed when nothing comes of it
	settleStep  = 0.01
	settleSteps = 3
	mostVain    = 2 * settleSteps
	settleWords = 40_000_000
	onceWords   = 5_000_000 // for one attempt
	manyPairs   = 40        // shells, from which on moving them apart takes longer
	leastStep   = 1.002     // of the scale, that is worth while
	yieldStep   = 1.003     // by which what was moved apart may have to become smaller again
)

// settle enlarges what was packed as far as its shells make way for each other, around what stays.
func (p *packer) settle(ctx context.Context, tell func(float64)) error {
	if _, ok := p.ground.outline(); !ok || len(p.shells) > mostImprove {
		return nil
	}
	c := p.newCompactor(p.best)
	if err := c.grow(ctx); err != nil {
		return err
	}
	p.best = c.placements()
	if len(p.shells) > manyShells { // moving them apart takes longer than it brings
		return nil
	}
	once := onceWords * max(1, len(p.shells)/manyPairs)
	for try, vain, words := 0, 0, settleWords; vain < mostVain && words > 0; try++ {
		tell(1 - float64(words)/settleWords)
		was := p.best[0].Scale
		a := attempt{was * (1 + settleStep/float64(int(1)<<(vain%settleSteps))), lessCells, min(words, once), rand.New(rand.NewPCG(uint64(try+1), uint64(len(p.shells))))}
		if vain >= settleSteps {
			a.less -= lessChange
		}
		if a.to = min(a.to, p.largest()); a.to < was*leastStep {
			break
		}
		larger, work, err := p.enlarged(ctx, p.best, was, a)
		if err != nil {
			return err
		}
		if words -= work; larger != nil {
			p.best = larger
		}
		if vain++; p.best[0].Scale >= was*leastStep {
			vain = 0
		}
	}
	return nil
}

// attempt is one way of enlarging what lies on the sheet: to a scale, with so many cells of the
// padding left to exact geometry, so much work, and places at random.
type attempt struct {
	to     float64
	less   float64
	words  int
	random *rand.Rand
}

// enlarged lays shells out at a larger scale, moves them apart on coarse cells, mends what that
// leaves to be desired in exact geometry, and enlarges them there as far as it goes; nil if they
// do not become larger than they were. It tells how much work that was.
func (p *packer) enlarged(ctx context.Context, from []Placement, was float64, a attempt) (larger []Placement, work int, err error) {
	apart, work, err := p.leaving(a.less).movedApart(ctx, from, a.to, p.fitting(coarseCells), a.words, func(s *separator) { s.random = a.random })
	if err != nil || apart == nil {
		return nil, work, err
	}
	c := p.newCompactor(apart)
	for to := a.to; !c.fit(to); {
		if to /= yieldStep; to <= was || ctx.Err() != nil {
			return nil, work, ctx.Err()
		}
	}
	err = c.grow(ctx)
	return c.placements(), work, err
}
