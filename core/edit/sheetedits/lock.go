package sheetedits

import (
	"context"

	"morvek/core/document"
	"morvek/core/ids"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/words"
)

// Lock says of shells that packing neither moves nor scales them, or that it may.
type Lock struct {
	Faces  []mesh.FaceID `json:"faces"` // a face of each shell
	Locked bool          `json:"locked"`
}

// Kind implements Edit.
func (*Lock) Kind() string { return "lock-shells" }

// Describe implements Edit.
func (e *Lock) Describe() string {
	n := words.Count(len(e.Faces), "shell")
	if e.Locked {
		return "lock " + n + " in place"
	}
	return "let go of " + n
}

// Apply implements Edit.
func (e *Lock) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	list, err := lay.UnitsOf(d.State, e.Faces)
	if err != nil {
		return nil, err
	}
	s := d.Begin()
	for _, u := range list {
		s.Wishes.Locked = ids.Without(s.Wishes.Locked, u.Faces)
		if e.Locked {
			s.Wishes.Locked = ids.With(s.Wishes.Locked, u.Lowest()[:1])
		}
	}
	return s.Done(), nil
}
