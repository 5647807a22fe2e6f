package template

import (
	"bufio"
	"encoding/xml"
	"fmt"
	"image/color"
	"io"
	"math"
	"strings"

	"gonum.org/v1/gonum/spatial/r2"
)

// SVG writes the template as vector drawing, a group for each layer.
func SVG(w io.Writer, s Sheet, o Options) error {
	b := bufio.NewWriter(w)
	v := &vectors{w: b, size: float64(o.Size)}
	wide := o.Size * s.across()
	fmt.Fprintf(b, `<svg xmlns="http://www.w3.org/2000/svg" width="%d" height="%d" viewBox="0 0 %d %d">`+"\n", wide, o.Size, wide, o.Size)
	fmt.Fprintf(b, `<rect id="paper" width="100%%" height="100%%" fill="%s"/>`+"\n", hex(paper))
	for _, l := range layers(s, o) {
		hidden := ""
		if l.hidden {
			hidden = ` display="none"`
		}
		fmt.Fprintf(b, `<g id="%s"%s>`+"\n", l.name, hidden)
		l.draw(v)
		v.group("")
		fmt.Fprint(b, "</g>\n")
	}
	fmt.Fprint(b, "</svg>\n")
	return b.Flush()
}

// vectors is the canvas of a vector drawing.
type vectors struct {
	w    *bufio.Writer
	size float64
	open bool // a group of a shell
}

func hex(c color.RGBA) string { return fmt.Sprintf("#%02X%02X%02X", c.R, c.G, c.B) }

// stroke is a colour with how much it covers.
func stroke(c color.RGBA) string {
	if c.A == 0xff {
		return fmt.Sprintf(`stroke="%s"`, hex(c))
	}
	whole := func(v uint8) uint8 { return uint8(min(255, int(v)*255/max(1, int(c.A)))) }
	return fmt.Sprintf(`stroke="%s" stroke-opacity="%.2f"`, hex(color.RGBA{whole(c.R), whole(c.G), whole(c.B), 0xff}), float64(c.A)/255)
}

func (v *vectors) at(q r2.Vec) string {
	px := func(x float64) float64 { return math.Round(x*v.size*1000) / 1000 }
	return fmt.Sprintf("%g %g", px(q.X), px(1-q.Y))
}

func (v *vectors) group(name string) {
	if v.open {
		fmt.Fprint(v.w, "</g>\n")
	}
	if v.open = name != ""; v.open {
		fmt.Fprintf(v.w, "<g><title>%s</title>", escaped(name))
	}
}

func escaped(text string) string {
	var b strings.Builder
	_ = xml.EscapeText(&b, []byte(text)) // into memory
	return b.String()
}

func (v *vectors) fill(tris [][3]r2.Vec, c color.RGBA) {
	fmt.Fprint(v.w, `<path d="`)
	for _, t := range tris {
		fmt.Fprintf(v.w, "M%sL%sL%sZ", v.at(t[0]), v.at(t[1]), v.at(t[2]))
	}
	fmt.Fprintf(v.w, `" fill="%s" stroke="%s" stroke-width="0.5"/>`, hex(c), hex(c))
}

func (v *vectors) lines(lines []Line, c color.RGBA, width float64, round bool) {
	if len(lines) == 0 {
		return
	}
	fmt.Fprint(v.w, `<path d="`)
	var last r2.Vec
	for i, l := range lines {
		if i == 0 || l.A != last {
			fmt.Fprintf(v.w, "M%s", v.at(l.A))
		}
		fmt.Fprintf(v.w, "L%s", v.at(l.B))
		last = l.B
	}
	ends := ""
	if round {
		ends = ` stroke-linecap="round" stroke-linejoin="round"`
	}
	fmt.Fprintf(v.w, `" %s stroke-width="%.4g"%s fill="none"/>`, stroke(c), width, ends)
}

func (v *vectors) text(at r2.Vec, size float64, c color.RGBA, text string) {
	fmt.Fprintf(v.w, `<text x="%g" y="%g" font-family="sans-serif" font-size="%g" text-anchor="middle" fill="%s">%s</text>`+"\n",
		math.Round(at.X*v.size*10)/10, math.Round(((1-at.Y)*v.size+size/3)*10)/10, size, hex(c), escaped(text))
}
