package template

import (
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"io"

	"golang.org/x/image/font"
	"golang.org/x/image/font/basicfont"
	"golang.org/x/image/math/fixed"
	"golang.org/x/image/vector"
	"gonum.org/v1/gonum/spatial/r2"
)

// PNG writes the template as a picture.
func PNG(w io.Writer, s Sheet, size int) error {
	return png.Encode(w, Picture(s, size))
}

// Picture draws the template, size pixels high.
func Picture(s Sheet, size int) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, size*s.across(), size))
	draw.Draw(img, img.Bounds(), image.NewUniform(color.RGBA{0xFD, 0xFC, 0xF8, 0xff}), image.Point{}, draw.Src)
	p := pen{img: img, size: float64(size)}
	ink := color.RGBA{0x1F, 0x2A, 0x33, 0xff}
	thin := color.RGBA{0x1F * 64 / 255, 0x2A * 64 / 255, 0x33 * 64 / 255, 64} // premultiplied
	for _, sh := range s.Shells {
		p.fill(sh.Fill, Tint(sh.Part))
		p.lines(sh.Inner, thin, 0.8)
		p.lines(sh.Border, ink, 1.2)
		if labelSize(sh, size) > 0 {
			d := font.Drawer{Dst: img, Src: image.NewUniform(ink), Face: basicfont.Face7x13}
			width := d.MeasureString(sh.Name)
			if float64(width.Ceil()) < sh.Room*p.size {
				at := p.at(sh.Label)
				d.Dot = fixed.Point26_6{X: fixed.I(int(at[0])) - width/2, Y: fixed.I(int(at[1]) + 4)}
				d.DrawString(sh.Name)
			}
		}
	}
	return img
}

// pen rasterises small shapes, each in a window of its own size.
type pen struct {
	img  *image.RGBA
	size float64
	r    vector.Rasterizer
}

func (p *pen) at(q r2.Vec) [2]float32 {
	return [2]float32{float32(q.X * p.size), float32((1 - q.Y) * p.size)}
}

func (p *pen) fill(tris [][3]r2.Vec, c color.RGBA) {
	if len(tris) == 0 {
		return
	}
	// One path for all triangles of a shell, so that no seams show between them.
	var pts [][2]float32
	for _, t := range tris {
		a, b, d := p.at(t[0]), p.at(t[1]), p.at(t[2])
		if (b[0]-a[0])*(d[1]-a[1])-(b[1]-a[1])*(d[0]-a[0]) < 0 {
			b, d = d, b
		}
		pts = append(pts, a, b, d)
	}
	p.polygons(pts, 3, c)
}

func (p *pen) lines(lines []Line, c color.RGBA, width float32) {
	for _, l := range lines {
		a, b := p.at(l.A), p.at(l.B)
		dx, dy := b[0]-a[0], b[1]-a[1]
		n := float32(r2.Norm(r2.Vec{X: float64(dx), Y: float64(dy)}))
		if n == 0 {
			continue
		}
		ox, oy := -dy/n*width/2, dx/n*width/2
		p.polygons([][2]float32{{a[0] + ox, a[1] + oy}, {b[0] + ox, b[1] + oy}, {b[0] - ox, b[1] - oy}, {a[0] - ox, a[1] - oy}}, 4, c)
	}
}

// polygons fills consecutive polygons of k corners.
func (p *pen) polygons(pts [][2]float32, k int, c color.RGBA) {
	lo, hi := pts[0], pts[0]
	for _, q := range pts {
		lo = [2]float32{min(lo[0], q[0]), min(lo[1], q[1])}
		hi = [2]float32{max(hi[0], q[0]), max(hi[1], q[1])}
	}
	box := image.Rect(int(lo[0])-1, int(lo[1])-1, int(hi[0])+2, int(hi[1])+2).Intersect(p.img.Bounds())
	if box.Empty() {
		return
	}
	p.r.Reset(box.Dx(), box.Dy())
	x0, y0 := float32(box.Min.X), float32(box.Min.Y)
	for i := 0; i+k <= len(pts); i += k {
		p.r.MoveTo(pts[i][0]-x0, pts[i][1]-y0)
		for _, q := range pts[i+1 : i+k] {
			p.r.LineTo(q[0]-x0, q[1]-y0)
		}
		p.r.ClosePath()
	}
	p.r.Draw(p.img, box, image.NewUniform(c), image.Point{})
}
