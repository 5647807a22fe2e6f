package sheetedits

import (
	"cmp"
	"context"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/lay"
	"morvek/core/mesh"
)

// Distribute shifts shells along an axis of the sheet until the gaps between their boxes are
// equal: the outer two stay, or, where the gap is given, the first.
type Distribute struct {
	Faces []mesh.FaceID `json:"faces"` // a face of each shell
	Along string        `json:"along"` // u or v
	GapPx *float64      `json:"gap_px,omitempty"`
}

// Kind implements Edit.
func (*Distribute) Kind() string { return "distribute" }

// Describe implements Edit.
func (e *Distribute) Describe() string {
	if e.GapPx != nil {
		return "put shells in a row"
	}
	return "make the gaps between shells equal"
}

// Apply implements Edit.
func (e *Distribute) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if e.Along != "u" && e.Along != "v" {
		return nil, document.Refuse("shells are distributed along u or v, not %q", e.Along)
	}
	list, err := lay.UnitsOf(d.State, e.Faces)
	if err != nil {
		return nil, err
	}
	least := 3
	if e.GapPx != nil {
		least = 2
		if size := float64(d.State.Settings.Sheet.Size); !(*e.GapPx >= -size && *e.GapPx <= size) {
			return nil, document.Refuse("a gap of %g px is out of reach", *e.GapPx)
		}
	}
	if len(list) < least {
		return nil, document.Refuse("pick %d shells at least", least)
	}
	along := func(q r2.Vec) float64 { return q.X }
	by := func(x float64) r2.Vec { return r2.Vec{X: x} }
	if e.Along == "v" {
		along = func(q r2.Vec) float64 { return q.Y }
		by = func(y float64) r2.Vec { return r2.Vec{Y: y} }
	}
	slices.SortStableFunc(list, func(a, b lay.Unit) int { return cmp.Compare(along(a.Box.Middle()), along(b.Box.Middle())) })
	last := list[len(list)-1]
	gap := along(last.Box.Max) - along(list[0].Box.Min)
	for _, u := range list {
		gap -= along(u.Box.Size())
	}
	gap /= float64(len(list) - 1)
	if e.GapPx != nil {
		gap = *e.GapPx / float64(d.State.Settings.Sheet.Size)
	}
	s := d.Begin()
	at := along(list[0].Box.Min)
	for i, u := range list {
		if stays := i == 0 || e.GapPx == nil && i == len(list)-1; !stays {
			shift(s, u, by(at-along(u.Box.Min)))
		}
		at += along(u.Box.Size()) + gap
	}
	return s.Done(), nil
}
