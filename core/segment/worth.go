package segment

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
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
