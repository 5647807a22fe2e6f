package mapedits

import (
	"context"
	"fmt"

	"morvek/core/document"
	"morvek/core/mesh"
)

// Copy copies the shells of faces, as they lie in the map that is shown, to another.
type Copy struct {
	Faces []mesh.FaceID  `json:"faces"`
	To    document.MapID `json:"to"`
}

// Kind implements Edit.
func (*Copy) Kind() string { return "copy-shells" }

// Describe implements Edit.
func (e *Copy) Describe() string { return fmt.Sprintf("copy shells to map %d", e.To) }

// Apply implements Edit.
func (e *Copy) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	return d.State.CopyShells(e.Faces, e.To)
}
