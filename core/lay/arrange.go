package lay

import (
	"context"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/sheet"
)

// View is a side that a model is looked at from.
type View string

// Views are all of them.
var Views = []View{"front", "back", "left", "right", "above", "below"}

// axes are the directions that go right and up in the picture from a side.
func (v View) axes(s document.Settings) (right, up r3.Vec, ok bool) {
	u, f := s.Up.Vec(), s.Up.Front()
	r := r3.Cross(u, f)
	switch v {
	case "front":
		return r, u, true
	case "back":
		return r3.Scale(-1, r), u, true
	case "left":
		return f, u, true
	case "right":
		return r3.Scale(-1, f), u, true
	case "above":
		return r, r3.Scale(-1, f), true
	case "below":
		return r, f, true
	}
	return r, u, false
}

// Arrange lays all shells on the sheet at one density so that they lie to each other as on the
// model, seen from a side.
func Arrange(ctx context.Context, d *document.Document, from View, progress func(float64)) (*document.State, error) {
	right, up, ok := from.axes(d.State.Settings)
	if !ok {
		return nil, document.Refuse("a model is seen from the front, back, left, right, above or below, not from %q", from)
	}
	s := d.Begin()
	locked := marked(s.Wishes.Locked)
	list := Units(s.State)
	at := make([]r2.Vec, len(list))
	for i, u := range list {
		if locked(u) {
			return nil, document.Refuse("%s is locked in place; let go of it first, all are laid anew", s.NameOf(u.Faces[0]))
		}
		c := centreOf(s.State, u)
		at[i] = r2.Vec{X: r3.Dot(c, right), Y: r3.Dot(c, up)}
	}
	if len(list) == 0 {
		return nil, document.Refuse("there are no shells to arrange; flatten something first")
	}
	in, size := packed(s.State, list, false)
	placed, err := sheet.Arrange(ctx, in, at, Packing(s.Settings), progress)
	if err != nil {
		return nil, refusal(ctx, err)
	}
	for i, u := range list {
		u.layAs(s, size[i], placed[i])
	}
	s.Wishes.Placed = nil
	return s.Done(), nil
}

// centreOf is the middle of a shell in space, by area.
func centreOf(s *document.State, u Unit) (c r3.Vec) {
	m := s.Map.Mesh()
	var area float64
	for _, f := range u.lowest {
		a := m.FaceAreas()[f]
		c = r3.Add(c, r3.Scale(a, m.FaceCentre(f)))
		area += a
	}
	if area > 0 {
		return r3.Scale(1/area, c)
	}
	return m.FaceCentre(u.lowest[0])
}
