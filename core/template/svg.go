package template

import (
	"bufio"
	"encoding/xml"
	"fmt"
	"io"
	"math"
	"strings"
)

// SVG writes the template as vector drawing: a group for each shell with its
// fill, inner lines, border and name.
func SVG(w io.Writer, s Sheet, size int) error {
	b := bufio.NewWriter(w)
	across := s.across()
	px := func(v float64) float64 { return math.Round(v*float64(size)*1000) / 1000 }
	y := func(v float64) float64 { return px(1 - v) }
	fmt.Fprintf(b, `<svg xmlns="http://www.w3.org/2000/svg" width="%d" height="%d" viewBox="0 0 %d %d">`+"\n", size*across, size, size*across, size)
	fmt.Fprintf(b, `<rect width="100%%" height="100%%" fill="#FDFCF8"/>`+"\n")
	for i := 1; i < s.Tiles; i++ {
		fmt.Fprintf(b, `<path d="M%d 0V%d" stroke="#D8D2C3"/>`+"\n", i*size, size)
	}
	path := func(lines []Line) string {
		var p strings.Builder
		for _, l := range lines {
			fmt.Fprintf(&p, "M%g %gL%g %g", px(l.A.X), y(l.A.Y), px(l.B.X), y(l.B.Y))
		}
		return p.String()
	}
	for i, sh := range s.Shells {
		var fill strings.Builder
		for _, t := range sh.Fill {
			fmt.Fprintf(&fill, "M%g %gL%g %gL%g %gZ", px(t[0].X), y(t[0].Y), px(t[1].X), y(t[1].Y), px(t[2].X), y(t[2].Y))
		}
		c := Tint(sh.Part)
		var name strings.Builder
		if err := xml.EscapeText(&name, []byte(sh.Name)); err != nil {
			return err
		}
		hex := fmt.Sprintf("#%02X%02X%02X", c.R, c.G, c.B)
		fmt.Fprintf(b, `<g id="shell-%d"><title>%s</title>`, i+1, name.String())
		fmt.Fprintf(b, `<path d="%s" fill="%s" stroke="%s" stroke-width="0.5"/>`, fill.String(), hex, hex)
		fmt.Fprintf(b, `<path d="%s" stroke="#1F2A33" stroke-opacity="0.25" stroke-width="0.6" fill="none"/>`, path(sh.Inner))
		fmt.Fprintf(b, `<path d="%s" stroke="#1F2A33" stroke-width="1.2" fill="none"/>`, path(sh.Border))
		if font := labelSize(sh, size); font > 0 {
			fmt.Fprintf(b, `<text x="%g" y="%g" font-family="sans-serif" font-size="%g" text-anchor="middle" fill="#1F2A33">%s</text>`,
				px(sh.Label.X), y(sh.Label.Y)+font/3, font, name.String())
		}
		fmt.Fprint(b, "</g>\n")
	}
	fmt.Fprint(b, "</svg>\n")
	return b.Flush()
}

// labelSize returns the font size at which a name fits its shell, 0 for none.
func labelSize(s Shell, size int) float64 {
	font := min(float64(size)/100, s.Room*float64(size)*1.6/float64(max(1, len(s.Name))))
	if font < 6 {
		return 0
	}
	return math.Round(font*10) / 10
}
