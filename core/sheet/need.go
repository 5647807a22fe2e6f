package sheet

import "math"

// Eye is from where a model is looked at.
type Eye struct {
	Distance float64 // model units
	ScreenPx float64 // height of the picture
	FieldDeg float64 // that the picture takes in upright
}

// Density is the texel density, px per model unit, at which no texel is seen larger than a pixel
// of the picture on a surface at this distance or farther, seen head-on: one pixel there spans
// 2·distance·tan(field/2)/height (similar triangles). It is 0 for an eye that sees nothing.
func (e Eye) Density() float64 {
	if !(e.Distance > 0 && e.ScreenPx > 0 && e.FieldDeg > 0 && e.FieldDeg < 180) {
		return 0
	}
	return e.ScreenPx / (2 * e.Distance * math.Tan(e.FieldDeg*math.Pi/360))
}

// Need is how many tiles of a size some surface takes.
type Need struct{ SizePx, Tiles int }

// Needs tells for the usual sizes of sheets how many tiles it takes to lay an area, in model units
// squared and times the squares of the weights, at a density, where shells fill a share of them.
func Needs(area, density, fill float64) (out []Need) {
	for size := 1024; size <= 8192; size *= 2 {
		n := math.Ceil(area * density * density / (fill * float64(size) * float64(size)))
		out = append(out, Need{size, int(max(1, min(n, 1e6)))})
	}
	return out
}
