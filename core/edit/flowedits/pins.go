package flowedits

import (
	"context"

	"morvek/core/document"
	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/words"
)

// Pin holds points of the sheet where they are when their shell is flattened or
// relaxed, or lets them go. A point is named by one of its corners.
type Pin struct {
	Corners []mesh.HalfedgeID `json:"corners"`
	Pinned  bool              `json:"pinned"`
}

// Kind implements Edit.
func (*Pin) Kind() string { return "pin" }

// Describe implements Edit.
func (e *Pin) Describe() string {
	if e.Pinned {
		return "pin " + words.Count(len(e.Corners), "point")
	}
	return "let " + words.Count(len(e.Corners), "point") + " go"
}

// Apply implements Edit.
func (e *Pin) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if err := document.CheckCorners(d.Mesh, e.Corners); err != nil {
		return nil, err
	}
	if len(e.Corners) == 0 {
		return nil, document.Refuse("no points are picked")
	}
	s := d.Begin()
	for _, c := range e.Corners {
		f := d.Mesh.FaceOf(c)
		if !s.Map.IsMapped(f) {
			return nil, document.Refuse("a point of face %d does not lie on the sheet yet; flatten it first", f)
		}
		// All corners of the point on this shell count as one: the lowest names it.
		at := s.Map.PointAt(c)
		s.Wishes.Pins = ids.Without(s.Wishes.Pins, at)
		if e.Pinned {
			s.Wishes.Pins = ids.With(s.Wishes.Pins, at[:1])
		}
	}
	return s.Done(), nil
}
