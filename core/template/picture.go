package template

import (
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"io"
	"math"
	"sync"

	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"
	"golang.org/x/image/vector"
	"gonum.org/v1/gonum/spatial/r2"
)

// PNG writes the template as a picture.
func PNG(w io.Writer, s Sheet, o Options) error {
	return png.Encode(w, Picture(s, o))
}

// Picture draws the template.
func Picture(s Sheet, o Options) *image.RGBA {
	img := blank(s, o)
	draw.Draw(img, img.Bounds(), image.NewUniform(paper), image.Point{}, draw.Src)
	p := &pen{img: img, size: float64(o.Size)}
	for _, l := range layers(s, o) {
		if !l.hidden {
			l.draw(p)
		}
	}
	return img
}

// blank is a picture of the size of a sheet that covers nothing.
func blank(s Sheet, o Options) *image.RGBA {
	return image.NewRGBA(image.Rect(0, 0, o.Size*s.across(), o.Size))
}

// pen is the canvas of a picture. It rasterises small shapes, each in a window of its own size.
type pen struct {
	img  *image.RGBA
	size float64
	r    vector.Rasterizer
	face map[float64]font.Face
}

func (p *pen) group(string) {}

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

func (p *pen) lines(lines []Line, c color.RGBA, width float64, round bool) {
	w := float32(width)
	for _, l := range lines {
		a, b := p.at(l.A), p.at(l.B)
		dx, dy := b[0]-a[0], b[1]-a[1]
		n := float32(math.Hypot(float64(dx), float64(dy)))
		if n == 0 {
			continue
		}
		ox, oy := -dy/n*w/2, dx/n*w/2
		p.polygons([][2]float32{{a[0] + ox, a[1] + oy}, {b[0] + ox, b[1] + oy}, {b[0] - ox, b[1] - oy}, {a[0] - ox, a[1] - oy}}, 4, c)
		if round {
			p.dot(a, w/2, c)
			p.dot(b, w/2, c)
		}
	}
}

// dotSides is how many sides a round end has.
const dotSides = 12

func (p *pen) dot(at [2]float32, radius float32, c color.RGBA) {
	var pts [dotSides][2]float32
	for i := range pts {
		s, k := math.Sincos(2 * math.Pi * float64(i) / dotSides)
		pts[i] = [2]float32{at[0] + radius*float32(k), at[1] + radius*float32(s)}
	}
	p.polygons(pts[:], dotSides, c)
}

// polygons fills consecutive polygons of k corners.
func (p *pen) polygons(pts [][2]float32, k int, c color.RGBA) {
	lo, hi := pts[0], pts[0]
	for _, q := range pts {
		lo = [2]float32{min(lo[0], q[0]), min(lo[1], q[1])}
		hi = [2]float32{max(hi[0], q[0]), max(hi[1], q[1])}
	}
	if !(hi[0]-lo[0] < 1e6 && hi[1]-lo[1] < 1e6) { // far outside the sheet
		return
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

func (p *pen) text(at r2.Vec, size float64, c color.RGBA, text string) {
	face := p.face[size]
	if face == nil {
		if p.face == nil {
			p.face = map[float64]font.Face{}
		}
		face = letters(size)
		p.face[size] = face
	}
	d := font.Drawer{Dst: p.img, Src: image.NewUniform(c), Face: face}
	q := p.at(at)
	d.Dot = fixed.Point26_6{X: fixed.Int26_6(64*q[0]) - d.MeasureString(text)/2, Y: fixed.Int26_6(64 * (q[1] + float32(size)/3))}
	d.DrawString(text)
}

// regular is the face that pictures are lettered in.
var regular = sync.OnceValue(func() *opentype.Font {
	f, err := opentype.Parse(goregular.TTF)
	if err != nil { // it is compiled in
		panic(err)
	}
	return f
})

// letters is the face in a size in pixels.
func letters(size float64) font.Face {
	f, err := opentype.NewFace(regular(), &opentype.FaceOptions{Size: size, DPI: 72})
	if err != nil {
		panic(err) // of a size that is none
	}
	return f
}

var (
	measuring sync.Mutex
	ruler     = sync.OnceValue(func() font.Face { return letters(100) })
)

// measured is how wide a text is, in its size.
func measured(text string) float64 {
	measuring.Lock()
	defer measuring.Unlock()
	return float64(font.MeasureString(ruler(), text)) / 64 / 100
}
