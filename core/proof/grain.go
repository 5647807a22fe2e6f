package proof

import (
	"math"
	"slices"

	"morvek/core/flow"
)

// grainSums gathers how far the parts of a shell lie off their grain. What is left with
// the straights of a part on the axis, or its mean where it has none, is the floor: there
// the grain bends within the part.
type grainSums []*grainOfPart

type grainOfPart struct {
	part   int
	sense  bool
	off    []flow.Direction // signed
	re, im float64          // of the double angle, or the angle where the grain has a sense
}

func (g *grainSums) add(part int, sense bool, off, area float64) {
	at := slices.IndexFunc(*g, func(p *grainOfPart) bool { return p.part == part })
	if at < 0 {
		at = len(*g)
		*g = append(*g, &grainOfPart{part: part, sense: sense})
	}
	p := (*g)[at]
	s, c := math.Sincos(p.fold() * off)
	p.re, p.im = p.re+area*c, p.im+area*s
	p.off = append(p.off, flow.Direction{Angle: off, Weight: area})
}

// fold is 2 for lines, which look the same after a half turn.
func (p *grainOfPart) fold() float64 {
	if p.sense {
		return 1
	}
	return 2
}

// squares returns the area-weighted squares of the angles off the grain, those that turning
// could take away, and the area.
func (g grainSums) squares() (all, over, area float64) {
	for _, p := range g {
		period := 2 * math.Pi / p.fold()
		best, share := flow.Prevailing(p.off, period)
		if share < flow.StraightEnough {
			best = math.Atan2(p.im, p.re) / p.fold()
		}
		var sum, floor float64
		for _, o := range p.off {
			a, b := math.Remainder(o.Angle, period), math.Remainder(o.Angle-best, period)
			sum += o.Weight * a * a
			floor += o.Weight * b * b
			area += o.Weight
		}
		all += sum
		over += max(0, sum-floor)
	}
	return all, over, area
}
