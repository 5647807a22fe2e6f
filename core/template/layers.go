package template

import (
	"image/color"
	"math"
	"sync"

	"gonum.org/v1/gonum/spatial/r2"
)

// canvas is what layers are drawn on: vectors or pixels. Places are in sheet units, widths and sizes
// in pixels.
type canvas interface {
	fill(tris [][3]r2.Vec, c color.RGBA)
	lines(lines []Line, c color.RGBA, width float64, round bool)
	text(at r2.Vec, size float64, c color.RGBA, text string)
	group(name string) // what follows belongs to a shell, as far as the canvas tells shells apart
}

// layer is one of the drawing, from below.
type layer struct {
	name   string
	hidden bool // is there, but not shown unless somebody wants it
	draw   func(c canvas)
}

// layers are all of them. What is shown together is the template.
func layers(s Sheet, o Options) []layer {
	where := sync.OnceValue(func() placed { return lay(s, o) })
	all := []layer{
		{"padding", false, func(c canvas) { padding(c, s, o) }},
		{"parts", false, func(c canvas) { fills(c, s, func(p Patch) int { return p.Part }) }},
		{"materials", true, func(c canvas) { fills(c, s, func(p Patch) int { return p.Material }) }},
		{"edges", false, func(c canvas) { edges(c, s, o) }},
		{"outlines", false, func(c canvas) { outlines(c, s, o) }},
	}
	if !o.Bare {
		all = append(all, layer{"up", false, func(c canvas) { arrows(c, where().arrows, o) }},
			layer{"names", false, func(c canvas) { names(c, where().names, o) }})
	}
	return all
}

// faint is a colour that covers a share of 255, its channels multiplied by that.
func faint(c color.RGBA, share uint16) color.RGBA {
	part := func(v uint8) uint8 { return uint8(uint16(v) * share / 255) }
	return color.RGBA{part(c.R), part(c.G), part(c.B), uint8(share)}
}

// padding is the band around shells that no other may enter: what is painted there bleeds.
func padding(c canvas, s Sheet, o Options) {
	width := 2 * s.Padding * float64(o.Size)
	if width <= 0 {
		return
	}
	for _, sh := range s.Shells {
		c.lines(sh.Border, band, width, true)
	}
}

// fills are the triangles of shells in the tint of what they belong to.
func fills(c canvas, s Sheet, by func(Patch) int) {
	for _, sh := range s.Shells {
		var order []int
		of := map[int][][3]r2.Vec{}
		for _, t := range sh.Fill {
			k := by(t)
			if of[k] == nil {
				order = append(order, k)
			}
			of[k] = append(of[k], t.P)
		}
		c.group(sh.Name)
		for _, k := range order {
			c.fill(of[k], Tint(k))
		}
	}
}

func edges(c canvas, s Sheet, o Options) {
	for _, sh := range s.Shells {
		c.lines(sh.Inner, faint(ink, 64), o.line()/2, false)
	}
}

func outlines(c canvas, s Sheet, o Options) {
	for i := 1; i < s.across(); i++ {
		if !s.Wide {
			c.lines([]Line{{r2.Vec{X: float64(i)}, r2.Vec{X: float64(i), Y: 1}}}, rule, 1, false)
		}
	}
	for _, sh := range s.Shells {
		c.group(sh.Name)
		c.lines(sh.Border, ink, o.line(), false)
	}
}

// arrows are drawn where something of that size lies within a shell; they point up on the model.
func arrows(c canvas, all []arrow, o Options) {
	for _, a := range all {
		side := r2.Vec{X: -a.way.Y, Y: a.way.X}
		tip := r2.Add(a.at, r2.Scale(a.size/2, a.way))
		back := func(along, across float64) r2.Vec {
			return r2.Add(tip, r2.Add(r2.Scale(-along*a.size, a.way), r2.Scale(across*a.size, side)))
		}
		c.lines([]Line{{tip, back(1, 0)}, {tip, back(0.35, 0.22)}, {tip, back(0.35, -0.22)}}, brass, max(1.5, o.line()), true)
	}
}

// names stand in their shells, or beside them with a line that leads there.
func names(c canvas, all []name, o Options) {
	for _, n := range all {
		if n.beside {
			c.lines([]Line{n.line}, faint(ink, 160), max(0.8, o.line()/2), false)
		}
		c.text(n.at, n.size, ink, n.text)
	}
}

// widthOf is about how wide a text is, in its size, before it is drawn: the face of pictures is
// measured, vectors are drawn by whatever face there is.
func widthOf(text string) float64 { return measured(text) * 1.08 }

// round2 keeps sizes of letters to tenths.
func round2(v float64) float64 { return math.Round(v*10) / 10 }
