// Package template draws the sheet for the painter, in layers: the room around shells that padding
// takes, fills by part and by material, inner edges, outlines, arrows that point up on the model, and
// names. As vector lines (SVG), as a picture (PNG), or as a picture in layers (OpenRaster).
package template

import (
	"fmt"
	"image/color"
	"io"
	"path/filepath"
	"slices"
	"strings"

	"gonum.org/v1/gonum/spatial/r2"
)

// Line is a line on the sheet.
type Line struct{ A, B r2.Vec }

// Patch is a triangle of a shell.
type Patch struct {
	P              [3]r2.Vec
	Part, Material int // which tint it has in the fills; -1 for none
}

// Shell is what is drawn of one shell.
type Shell struct {
	Name   string
	Fill   []Patch
	Border []Line
	Inner  []Line
	Up     r2.Vec // the way that is up on the model, as a unit vector; zero where it lies
	Copies int    // shells that lie on this place, itself included; 1 and 0 for itself alone
	Below  bool   // it lies below another one of a stack, which has its name
}

// Sheet is a whole template. Sheet units, V upwards.
type Sheet struct {
	Shells  []Shell
	Tiles   int
	Wide    bool    // one tile, twice as wide as high
	Padding float64 // sheet units around each shell that are not another one's
}

// across is the width of the sheet in its heights.
func (s Sheet) across() int {
	if s.Wide {
		return 2
	}
	return max(1, s.Tiles)
}

// Options are how a template is drawn.
type Options struct {
	Size int     // height in pixels
	Line float64 // width of outlines in pixels; 0 for a six-hundredth of the height, 1.2 at least
	Bare bool    // without names and arrows
}

// line is the width of outlines.
func (o Options) line() float64 {
	if o.Line > 0 {
		return o.Line
	}
	return max(1.2, float64(o.Size)/1600)
}

// MostLine bounds the width of lines, in pixels.
const MostLine = 64

// The colours besides the tints.
var (
	paper = color.RGBA{0xFD, 0xFC, 0xF8, 0xff}
	rule  = color.RGBA{0xD8, 0xD2, 0xC3, 0xff}
	ink   = color.RGBA{0x1F, 0x2A, 0x33, 0xff}
	band  = color.RGBA{0xEE, 0xEA, 0xE0, 0xff}
	brass = color.RGBA{0x8A, 0x63, 0x12, 0xff}
)

// tints are muted fills; parts take them in turn.
var tints = []color.RGBA{
	{0xD9, 0xC7, 0xA8, 0xff}, {0xB9, 0xC9, 0xC4, 0xff}, {0xC9, 0xBC, 0xD1, 0xff}, {0xB5, 0xC6, 0xD8, 0xff},
	{0xDB, 0xB8, 0xA6, 0xff}, {0xCE, 0xCB, 0xA0, 0xff}, {0xAF, 0xCB, 0xB5, 0xff}, {0xD6, 0xBF, 0xB4, 0xff},
	{0xC4, 0xC4, 0xC4, 0xff}, {0xBD, 0xCF, 0xA9, 0xff}, {0xD8, 0xB4, 0xBB, 0xff}, {0xA9, 0xC4, 0xC9, 0xff},
}

// Tint returns the fill of a part.
func Tint(part int) color.RGBA {
	if part < 0 {
		return band
	}
	return tints[part%len(tints)]
}

// Format is one that a template is written in.
type Format struct {
	Extension, Media string
	Says             string // how it is drawn, in words
	picture          bool
	write            func(w io.Writer, s Sheet, o Options) error
}

// Formats are all of them.
var Formats = []Format{
	{".svg", "image/svg+xml", "as lines", false, SVG},
	{".png", "image/png", "as picture", true, PNG},
	{".ora", "image/openraster", "in layers", true, OpenRaster},
}

func of(name string) (Format, bool) {
	ext := strings.ToLower(filepath.Ext(name))
	k := slices.IndexFunc(Formats, func(f Format) bool { return f.Extension == ext })
	if k < 0 {
		return Format{}, false
	}
	return Formats[k], true
}

// Known tells whether a template can be written under a file name.
func Known(name string) bool { _, ok := of(name); return ok }

// Media is the type of a template of a file name, for downloads.
func Media(name string) string { f, _ := of(name); return f.Media }

// Endings lists the endings of templates: ".svg, .png or .ora".
func Endings() string {
	var all []string
	for _, f := range Formats {
		all = append(all, f.Extension)
	}
	return strings.Join(all[:len(all)-1], ", ") + " or " + all[len(all)-1]
}

// most bounds the pixels of a picture: four bytes each are held in memory.
const most = 8192 * 8192

// Fits tells whether a picture of so many pixels height can be drawn.
func Fits(s Sheet, size int) bool {
	return size > 0 && size <= 1<<16 && size*size*s.across() <= most
}

// Write writes the template in the format of the file name.
func Write(w io.Writer, name string, s Sheet, o Options) error {
	f, ok := of(name)
	switch {
	case !ok:
		return fmt.Errorf("a template can be %s, not %q", Endings(), filepath.Ext(name))
	case !(o.Line >= 0 && o.Line <= MostLine):
		return fmt.Errorf("lines can be 0 to %d px wide, not %g", MostLine, o.Line)
	case f.picture && !Fits(s, o.Size):
		return fmt.Errorf("a picture of %d tiles of %d px is too large; choose a smaller size, or .svg", s.across(), o.Size)
	}
	return f.write(w, s, o)
}
