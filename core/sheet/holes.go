package sheet

import (
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// fillHoles takes holes out of outlines in which nothing lies: nothing will come to lie there either, for
// the outline around them is not crossed.
func (c *compactor) fillHoles() {
	firsts := make([]r2.Vec, 0, len(c.rims)+len(c.stays)) // a place of all that may lie in holes
	for i, rim := range c.rims {
		if len(rim) > 0 {
			firsts = append(firsts, r2.Add(c.mid[i], r2.Scale(c.scale, rim[0].a)))
		}
	}
	for _, e := range c.stays {
		firsts = append(firsts, e.a)
	}
	for i, rim := range c.rims {
		if c.shells[i].rim == nil {
			continue
		}
		var kept []rimEdge
		whole := twiceArea(rim) // negative where the triangles are turned over
		for loop := range loopsOf(rim) {
			if whole*twiceArea(loop) >= 0 {
				kept = append(kept, loop...)
				continue
			}
			box := planar.Bounds(loop[0].a)
			for _, e := range loop {
				box = planar.Bounds(box.Min, box.Max, e.a)
			}
			holds := func(q r2.Vec) bool {
				q = r2.Scale(1/c.scale, r2.Sub(q, c.mid[i]))
				return box.Within(planar.Bounds(q), 0) && within(loop, q)
			}
			if slices.ContainsFunc(firsts, holds) {
				kept = append(kept, loop...)
			}
		}
		c.rims[i] = kept
	}
}

func twiceArea(rim []rimEdge) (sum float64) {
	for _, e := range rim {
		sum += r2.Cross(e.a, e.b)
	}
	return sum
}

// loopsOf goes through the loops of an outline, each a run of edges that begin where the one before ends.
func loopsOf(rim []rimEdge) func(yield func([]rimEdge) bool) {
	return func(yield func([]rimEdge) bool) {
		from := 0
		for k := range rim {
			if k+1 < len(rim) && rim[k+1].a == rim[k].b {
				continue
			}
			if !yield(rim[from : k+1]) {
				return
			}
			from = k + 1
		}
	}
}
