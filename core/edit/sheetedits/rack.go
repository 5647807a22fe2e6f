package sheetedits

import (
	"context"
	"slices"

	"morvek/core/document"
	"morvek/core/ids"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/words"
)

// ToRack puts shells at the end of the rack, in the order they are named; those that wait
// already come to its end too.
type ToRack struct {
	Faces []mesh.FaceID `json:"faces"` // a face of each shell
}

// Kind implements Edit.
func (*ToRack) Kind() string { return "to-rack" }

// Describe implements Edit.
func (e *ToRack) Describe() string {
	return "put " + words.Count(len(e.Faces), "shell") + " on the rack"
}

// Apply implements Edit.
func (e *ToRack) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	list, err := lay.UnitsOf(d.State, e.Faces)
	if err != nil {
		return nil, err
	}
	s := d.Begin()
	groups := make([][]mesh.FaceID, len(list))
	for i, u := range list {
		groups[i] = u.Faces
	}
	s.Map.ToRack(groups...)
	s.Wishes.Placed = ids.Without(s.Wishes.Placed, slices.Concat(groups...))
	return s.Done(), nil
}
