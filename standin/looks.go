package standin

import (
	"context"
	"image"
	"image/color"
	"math"
	"runtime"
	"slices"
	"strings"

	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"

	"morvek/core/parallel"
)

// look is a material as it is painted: its colour at a pixel, 0 to 1, along the sheet.
type look struct {
	name string
	says []string // words in names of materials that stand for it
	at   func(x, y float64) [3]float64
	bare [3]float64 // what comes out where it is worn
}

// Looks are the names of all.
func Looks() (out []string) {
	for _, l := range looks {
		out = append(out, l.name)
	}
	return out
}

var looks = []look{
	{"brushed steel", []string{"brushed", "steel", "metal", "iron"}, brushed([3]float64{0.62, 0.64, 0.66}), [3]float64{0.78, 0.79, 0.8}},
	{"painted steel", []string{"paint", "enamelled"}, even([3]float64{0.16, 0.33, 0.3}, 0.03), [3]float64{0.6, 0.6, 0.6}},
	{"ash wood", []string{"wood", "ash", "board"}, wood, [3]float64{0.86, 0.76, 0.58}},
	{"rubber", []string{"rubber", "webbing", "strap"}, even([3]float64{0.12, 0.12, 0.13}, 0.05), [3]float64{0.24, 0.24, 0.25}},
	{"enamel", []string{"enamel", "sign", "label"}, even([3]float64{0.9, 0.87, 0.78}, 0.01), [3]float64{0.3, 0.22, 0.18}},
	{"glass", []string{"glass"}, even([3]float64{0.72, 0.83, 0.8}, 0.02), [3]float64{0.8, 0.88, 0.86}},
	{"brass", []string{"brass", "bronze"}, brushed([3]float64{0.66, 0.52, 0.24}), [3]float64{0.8, 0.68, 0.4}},
}

// lookOf is the look of a material, by what was chosen or by its name.
func lookOf(material, chosen string) look {
	for _, l := range looks {
		if l.name == chosen {
			return l
		}
	}
	small := strings.ToLower(material)
	for _, l := range slices.Concat(looks[1:], looks[:1]) { // steel may be painted
		if slices.ContainsFunc(l.says, func(w string) bool { return strings.Contains(small, w) }) {
			return l
		}
	}
	return look{"plain", nil, even([3]float64{0.55, 0.53, 0.5}, 0.02), [3]float64{0.7, 0.69, 0.66}}
}

// Suggested is the name of the look that the name of a material stands for.
func Suggested(material string) string { return lookOf(material, "").name }

// brushed has fine strokes along U.
func brushed(base [3]float64) func(x, y float64) [3]float64 {
	return func(x, y float64) [3]float64 {
		v := 0.12*(noise(x/90, y/1.1)-0.5) + 0.08*(noise(x/30+7, y/2.3)-0.5)
		return shifted(base, v)
	}
}

func even(base [3]float64, rough float64) func(x, y float64) [3]float64 {
	return func(x, y float64) [3]float64 { return shifted(base, rough*(noise(x/3, y/3)-0.5)) }
}

// wood has years along U, and boards that end in joints.
func wood(x, y float64) [3]float64 {
	const board, long = 96, 620
	row := math.Floor(y / board)
	along := x + 211*math.Mod(row*7, 5)
	k := math.Floor(along / long)
	in := math.Mod(y, board) / board
	rings := math.Sin(2*math.Pi*(6*in+1.6*noise(along/260+row*3, y/70+k)) + row)
	v := 0.09*rings + 0.1*(noise(along/120, y/2+row*11)-0.5) + 0.1*(noise(row*5.3, k*3.1)-0.5)
	if in < 0.03 || math.Mod(along, long) < 3 {
		v -= 0.3
	}
	return shifted([3]float64{0.72, 0.58, 0.38}, v)
}

func shifted(c [3]float64, by float64) [3]float64 {
	for i := range c {
		c[i] = max(0, min(1, c[i]+by))
	}
	return c
}

// noise is smooth and repeats nowhere near: value noise on a lattice, 0 to 1.
func noise(x, y float64) float64 {
	fx, fy := math.Floor(x), math.Floor(y)
	tx, ty := x-fx, y-fy
	tx, ty = tx*tx*(3-2*tx), ty*ty*(3-2*ty)
	at := func(i, j float64) float64 {
		h := uint64(int64(fx+i))*0x9E3779B97F4A7C15 ^ uint64(int64(fy+j))*0xC2B2AE3D27D4EB4F
		h ^= h >> 29
		h *= 0xBF58476D1CE4E5B9
		h ^= h >> 32
		return float64(h&0xffff) / 0xffff
	}
	mix := func(a, b, t float64) float64 { return a + (b-a)*t }
	return mix(mix(at(0, 0), at(1, 0), tx), mix(at(0, 1), at(1, 1), tx), ty)
}

// cloudy is noise of several sizes.
func cloudy(x, y float64) float64 {
	return 0.45*noise(x/60, y/60) + 0.3*noise(x/23+5, y/23) + 0.15*noise(x/9, y/9+3) + 0.1*noise(x/3.5, y/3.5)
}

// smooth goes from 0 at lo to 1 at hi.
func smooth(lo, hi, v float64) float64 {
	t := max(0, min(1, (v-lo)/(hi-lo)))
	return t * t * (3 - 2*t)
}

// paint paints a tile: each material in its look, darker where it is hidden, worn where it sticks out.
func (t tile) paint(ctx context.Context, r Recipe) (*image.NRGBA, error) {
	b := t.materials.Bounds()
	img := image.NewNRGBA(b)
	of := map[color.NRGBA]look{}
	for c, n := range t.material {
		of[c] = lookOf(n, r.Looks[n])
	}
	ground := lookOf("", "")
	row := func(y int) {
		for x := range b.Dx() {
			l, ok := of[t.materials.NRGBAAt(x, y)]
			if !ok {
				l = ground
			}
			fx, fy := float64(x), float64(y)
			c := l.at(fx, fy)
			if t.exposure != nil {
				if e := t.exposure.NRGBAAt(x, y); e.A > 0 {
					open := float64(e.R) / 255
					worn := r.Wear * smooth(0.6, 0.95, open+0.7*(cloudy(fx, fy)-0.5))
					for i := range c {
						c[i] = (c[i]*(1-worn) + l.bare[i]*worn) * (1 - 0.45*(1-smooth(0, 0.4, open)))
					}
				}
			}
			img.SetNRGBA(x, y, color.NRGBA{uint8(255*c[0] + 0.5), uint8(255*c[1] + 0.5), uint8(255*c[2] + 0.5), 255})
		}
	}
	const band = 32 // rows
	g, ctx := parallel.WithContext(ctx)
	g.SetLimit(runtime.GOMAXPROCS(0))
	for from := 0; from < b.Dy(); from += band {
		g.Go(func() error {
			for y := from; y < min(from+band, b.Dy()) && ctx.Err() == nil; y++ {
				row(y)
			}
			return ctx.Err()
		})
	}
	if err := g.Wait(); err != nil {
		return nil, err
	}
	if r.Letter && t.parts != nil {
		return img, t.letter(img)
	}
	return img, nil
}

// leastBox is how high a part must be on the sheet to carry its name, in pixels.
const leastBox = 40

// letter writes the names of parts in the middle of where they lie, those that have room.
func (t tile) letter(img *image.NRGBA) error {
	boxes := map[color.NRGBA]image.Rectangle{}
	b := t.parts.Bounds()
	for y := range b.Dy() {
		for x := range b.Dx() {
			if c := t.parts.NRGBAAt(x, y); c.A > 0 {
				boxes[c] = boxes[c].Union(image.Rect(x, y, x+1, y+1))
			}
		}
	}
	face, err := opentype.Parse(gobold.TTF)
	if err != nil {
		return err
	}
	for c, name := range t.part {
		box := boxes[c]
		mid := box.Min.Add(box.Size().Div(2))
		if box.Dy() < leastBox || t.parts.NRGBAAt(mid.X, mid.Y) != c { // its middle is not its own
			continue
		}
		size := min(float64(box.Dy())/5, 1.4*float64(box.Dx())/float64(len(name)+2))
		if size < 9 {
			continue
		}
		f, err := opentype.NewFace(face, &opentype.FaceOptions{Size: size, DPI: 72})
		if err != nil {
			return err
		}
		d := font.Drawer{Dst: img, Src: image.NewUniform(color.NRGBA{0xF4, 0xEC, 0xD8, 0xd0}), Face: f}
		d.Dot = fixed.Point26_6{X: fixed.I(mid.X) - d.MeasureString(name)/2, Y: fixed.I(mid.Y) + fixed.Int26_6(64*size/3)}
		d.DrawString(name)
	}
	return nil
}
