// Package template draws the sheet for the painter: the outlines of the shells,
// their inner edges and the names of the parts, as vector lines (SVG) or as a
// picture (PNG) at a chosen size.
package template

import (
	"fmt"
	"image/color"
	"io"
	"path/filepath"
	"strings"

	"gonum.org/v1/gonum/spatial/r2"
)

// Line is a line on the sheet.
type Line struct{ A, B r2.Vec }

// Shell is what is drawn of one shell.
type Shell struct {
	Name   string
	Part   int         // chooses the tint
	Fill   [][3]r2.Vec // triangles
	Border []Line
	Inner  []Line
	Label  r2.Vec  // where the name goes
	Room   float64 // width of the shell, sheet units
}

// Sheet is a whole template. Sheet units, V upwards.
type Sheet struct {
	Shells []Shell
	Tiles  int
	Wide   bool // one tile, twice as wide as high
}

// across is the width of the sheet in its heights.
func (s Sheet) across() int {
	if s.Wide {
		return 2
	}
	return max(1, s.Tiles)
}

// tints are muted fills; parts take them in turn.
var tints = []color.RGBA{
	{0xD9, 0xC7, 0xA8, 0xff}, {0xB9, 0xC9, 0xC4, 0xff}, {0xC9, 0xBC, 0xD1, 0xff}, {0xB5, 0xC6, 0xD8, 0xff},
	{0xDB, 0xB8, 0xA6, 0xff}, {0xCE, 0xCB, 0xA0, 0xff}, {0xAF, 0xCB, 0xB5, 0xff}, {0xD6, 0xBF, 0xB4, 0xff},
	{0xC4, 0xC4, 0xC4, 0xff}, {0xBD, 0xCF, 0xA9, 0xff}, {0xD8, 0xB4, 0xBB, 0xff}, {0xA9, 0xC4, 0xC9, 0xff},
}

// Tint returns the fill of a part.
func Tint(part int) color.RGBA {
	if part < 0 {
		return color.RGBA{0xEE, 0xEA, 0xE0, 0xff}
	}
	return tints[part%len(tints)]
}

// Known tells whether a template can be written under a file name.
func Known(name string) bool {
	ext := strings.ToLower(filepath.Ext(name))
	return ext == ".svg" || ext == ".png"
}

// most bounds the pixels of a picture: four bytes each are held in memory.
const most = 8192 * 8192

// Fits tells whether a template of so many pixels height can be drawn.
func Fits(s Sheet, size int) bool {
	return size > 0 && size <= 1<<16 && size*size*s.across() <= most
}

// Write writes the template in the format of the file name, size pixels high.
func Write(w io.Writer, name string, s Sheet, size int) error {
	switch strings.ToLower(filepath.Ext(name)) {
	case ".svg":
		return SVG(w, s, size)
	case ".png":
		if !Fits(s, size) {
			return fmt.Errorf("a picture of %d tiles of %d px is too large; choose a smaller sheet, or .svg", s.Tiles, size)
		}
		return PNG(w, s, size)
	}
	return fmt.Errorf("a template can be .svg or .png, not %q", filepath.Ext(name))
}
