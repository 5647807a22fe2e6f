package proof

import (
	"math"
	"slices"
)

// grainSums gathers how far the parts of a shell lie off their grain. What is left however
// the shell is turned, since the grain bends within a part, is the floor.
type grainSums []*grainOfPart

type grainOfPart struct {
	part   int
	sense  bool
	off    []weightedValue // signed, radians
	re, im float64         // of the double angle, or the angle where the grain has a sense
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
	p.off = append(p.off, weightedValue{off, area})
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
		mean := math.Atan2(p.im, p.re) / p.fold()
		var sum, floor float64
		for _, o := range p.off {
			a, b := math.Remainder(o.value, period), math.Remainder(o.value-mean, period)
			sum += o.weight * a * a
			floor += o.weight * b * b
			area += o.weight
		}
		all += sum
		over += max(0, sum-floor)
	}
	return all, over, area
}
