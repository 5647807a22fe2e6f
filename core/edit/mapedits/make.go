package mapedits

import (
	"context"

	"morvek/core/document"
	"morvek/core/mesh"
)

// Make makes a map, with copies of shells of the map that is shown if any are asked for. The
// new one has the greatest number of all.
type Make struct {
	Name    string           `json:"name"`
	Purpose document.Purpose `json:"purpose"`
	All     bool             `json:"all,omitempty"`   // all shells come along
	Faces   []mesh.FaceID    `json:"faces,omitempty"` // the shells of these do
}

// Kind implements Edit.
func (*Make) Kind() string { return "make-map" }

// Describe implements Edit.
func (e *Make) Describe() string { return "make the map " + e.Name }

// Apply implements Edit.
func (e *Make) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	fresh, err := d.State.WithMap(e.Name, e.Purpose)
	if err != nil {
		return nil, err
	}
	s, ok := fresh.Through(d.State.Shown.ID)
	if !ok {
		return nil, document.ErrCorrupt
	}
	faces := e.Faces
	if e.All {
		for f, mapped := range d.State.Map.Mapped() {
			if mapped {
				faces = append(faces, mesh.FaceID(f))
			}
		}
	}
	if len(faces) == 0 {
		return s, nil
	}
	return s.CopyShells(faces, fresh.Shown.ID)
}
