// Package planar answers exact-enough questions about triangles and segments
// on the sheet: do they overlap, how close do they come. A uniform grid finds
// the candidates.
package planar

import "gonum.org/v1/gonum/spatial/r2"

// Triangle is a triangle on the sheet.
type Triangle [3]r2.Vec

// Area returns the signed area, positive when counter-clockwise.
func (t Triangle) Area() float64 {
	return r2.Cross(r2.Sub(t[1], t[0]), r2.Sub(t[2], t[0])) / 2
}

// Box is an axis-parallel rectangle.
type Box struct{ Min, Max r2.Vec }

// Bounds returns the box around points.
func Bounds(p ...r2.Vec) Box {
	if len(p) == 0 {
		return Box{}
	}
	b := Box{p[0], p[0]}
	for _, q := range p[1:] {
		b.Min.X, b.Min.Y = min(b.Min.X, q.X), min(b.Min.Y, q.Y)
		b.Max.X, b.Max.Y = max(b.Max.X, q.X), max(b.Max.Y, q.Y)
	}
	return b
}

// Size returns width and height.
func (b Box) Size() r2.Vec { return r2.Sub(b.Max, b.Min) }

// Middle returns the point in the middle.
func (b Box) Middle() r2.Vec { return r2.Scale(0.5, r2.Add(b.Min, b.Max)) }

func (b Box) grown(by float64) Box {
	return Box{r2.Vec{X: b.Min.X - by, Y: b.Min.Y - by}, r2.Vec{X: b.Max.X + by, Y: b.Max.Y + by}}
}

func (b Box) meets(o Box) bool { return b.Within(o, 0) }

// Within tells whether two boxes come as near to each other as d along both axes; with 0 they
// touch or overlap.
func (b Box) Within(o Box, d float64) bool {
	return b.Min.X <= o.Max.X+d && o.Min.X <= b.Max.X+d && b.Min.Y <= o.Max.Y+d && o.Min.Y <= b.Max.Y+d
}

// Quarter turns a point by n quarter turns about the origin, counter-clockwise and exact.
func Quarter(q r2.Vec, n int) r2.Vec {
	switch n & 3 {
	case 1:
		return r2.Vec{X: -q.Y, Y: q.X}
	case 2:
		return r2.Vec{X: -q.X, Y: -q.Y}
	case 3:
		return r2.Vec{X: q.Y, Y: -q.X}
	}
	return q
}
