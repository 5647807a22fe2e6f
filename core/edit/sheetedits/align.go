package sheetedits

import (
	"context"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/planar"
)

// Side is a side of a box on the sheet, or a line through its middle.
type Side string

// What shells can be aligned by: the name says which of their coordinates become equal.
const (
	Left, Right, MiddleU Side = "left", "right", "middle-u"
	Bottom, Top, MiddleV Side = "bottom", "top", "middle-v"
)

// Align shifts shells until one side of their boxes, or the middle, lies on a line: that of
// the box around all of them, or of the usable part of the sheet where there is one only.
type Align struct {
	Faces []mesh.FaceID `json:"faces"` // a face of each shell
	By    Side          `json:"by"`
}

// Kind implements Edit.
func (*Align) Kind() string { return "align" }

// Describe implements Edit.
func (e *Align) Describe() string { return "align shells by " + sideWords[e.By] }

var sideWords = map[Side]string{Left: "their left sides", Right: "their right sides", MiddleU: "their middles, upright",
	Bottom: "their lower sides", Top: "their upper sides", MiddleV: "their middles, level"}

// Apply implements Edit.
func (e *Align) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if sideWords[e.By] == "" {
		return nil, document.Refuse("shells cannot be aligned by %q; choose left, middle-u, right, bottom, middle-v or top", e.By)
	}
	list, err := lay.UnitsOf(d.State, e.Faces)
	if err != nil {
		return nil, err
	}
	to := common(list)
	if len(list) == 1 {
		to = usable(d.State, to)
	}
	s := d.Begin()
	for _, u := range list {
		shift(s, u, e.By.from(u.Box, to))
	}
	return s.Done(), nil
}

// from is the way from a side of one box to that of another.
func (side Side) from(a, b planar.Box) r2.Vec {
	switch side {
	case Left:
		return r2.Vec{X: b.Min.X - a.Min.X}
	case Right:
		return r2.Vec{X: b.Max.X - a.Max.X}
	case MiddleU:
		return r2.Vec{X: b.Middle().X - a.Middle().X}
	case Bottom:
		return r2.Vec{Y: b.Min.Y - a.Min.Y}
	case Top:
		return r2.Vec{Y: b.Max.Y - a.Max.Y}
	default:
		return r2.Vec{Y: b.Middle().Y - a.Middle().Y}
	}
}
