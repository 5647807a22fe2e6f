package planar

import "math"

// Span is where a horizontal line is inside a triangle, from greater than to if nowhere.
func (t Triangle) Span(y float64) (from, to float64) {
	from, to = math.Inf(1), math.Inf(-1)
	for k := range 3 {
		a, b := t[k], t[(k+1)%3]
		if (a.Y <= y) == (b.Y <= y) {
			continue
		}
		x := a.X + (y-a.Y)/(b.Y-a.Y)*(b.X-a.X)
		from, to = min(from, x), max(to, x)
	}
	return from, to
}

// Runs calls do for each row of cells of size 1, of a grid so many cells wide and high from the origin
// on, that have their middles in a triangle: those from the first to the last.
func (t Triangle) Runs(width, height int, do func(row, first, last int)) {
	lo, hi := min(t[0].Y, t[1].Y, t[2].Y), max(t[0].Y, t[1].Y, t[2].Y)
	for y := math.Ceil(max(0.5, lo) - 0.5); y < float64(height) && y+0.5 <= hi; y++ {
		from, to := t.Span(y + 0.5)
		a, b := max(0, math.Ceil(from-0.5)), min(float64(width-1), math.Floor(to-0.5))
		if a <= b { // nowhere is infinity
			do(int(y), int(a), int(b))
		}
	}
}
