package sheetedits

import (
	"context"

	"morvek/core/document"
	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/words"
)

// Clear takes the map off faces; no faces means all.
type Clear struct {
	Faces []mesh.FaceID `json:"faces"`
}

// Kind implements Edit.
func (*Clear) Kind() string { return "clear" }

// Describe implements Edit.
func (c *Clear) Describe() string {
	if len(c.Faces) == 0 {
		return "clear the map"
	}
	return "clear the map of " + words.Count(len(c.Faces), "face")
}

// Apply implements Edit.
func (c *Clear) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if err := document.CheckFaces(d.Mesh, c.Faces); err != nil {
		return nil, err
	}
	s := d.Begin()
	if !s.Map.AnyMapped() {
		return nil, document.Refuse("nothing is mapped yet")
	}
	faces := c.Faces
	if len(faces) == 0 {
		faces = ids.All[mesh.FaceID](d.Mesh.NumFaces())
	}
	for _, f := range faces {
		s.Map.Unmap(f)
	}
	return s.Done(), nil
}
