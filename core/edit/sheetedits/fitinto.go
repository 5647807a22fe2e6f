package sheetedits

import (
	"context"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/planar"
)

// FitInto scales shells together, proportions kept, and shifts them until they just lie in a
// box about its middle: the usable part of their tile if none is given.
type FitInto struct {
	Faces []mesh.FaceID `json:"faces"` // a face of each shell
	Box   *planar.Box   `json:"box,omitempty"`
}

// Kind implements Edit.
func (*FitInto) Kind() string { return "fit-into" }

// Describe implements Edit.
func (e *FitInto) Describe() string {
	if e.Box == nil {
		return "fit shells to the sheet"
	}
	return "fit shells into a rectangle"
}

// Apply implements Edit.
func (e *FitInto) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	list, err := lay.UnitsOf(d.State, e.Faces)
	if err != nil {
		return nil, err
	}
	from := common(list)
	into := usable(d.State, from)
	if e.Box != nil {
		into = *e.Box
	}
	size, room := from.Size(), into.Size()
	if far := max(r2.Norm(into.Min), r2.Norm(into.Max)); !(room.X > 1e-6 && room.Y > 1e-6 && far < 1e4) {
		return nil, document.Refuse("this rectangle holds no shell; draw a larger one")
	}
	if !(max(size.X, size.Y) > 0) {
		return nil, document.Refuse("what is picked has no size on the sheet; flatten it first")
	}
	scale := min(room.X/max(size.X, 1e-12), room.Y/max(size.Y, 1e-12))
	s := d.Begin()
	for _, u := range list {
		put(s, u, func(q r2.Vec) r2.Vec {
			return r2.Add(r2.Scale(scale, r2.Sub(q, from.Middle())), into.Middle())
		})
	}
	return s.Done(), nil
}
