package partedits

import (
	"context"
	"slices"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/words"
)

// Merge makes one part of several; the first keeps its name.
type Merge struct {
	Parts []document.PartID `json:"parts"`
}

// Kind implements Edit.
func (*Merge) Kind() string { return "merge" }

// Describe implements Edit.
func (e *Merge) Describe() string { return "merge " + words.Count(len(e.Parts), "part") }

// Apply implements Edit.
func (e *Merge) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if err := d.State.CheckParts(e.Parts...); err != nil {
		return nil, err
	}
	list := slices.Compact(slices.Sorted(slices.Values(e.Parts)))
	if len(list) < 2 {
		return nil, document.Refuse("pick two parts or more to merge")
	}
	faces := d.State.PartFaces()
	var all []mesh.FaceID
	for _, p := range list {
		all = append(all, faces[p]...)
	}
	if pieces := d.Mesh.Connected(all, func(mesh.EdgeID) bool { return false }); len(pieces) > 1 {
		return nil, document.Refuse("these parts do not touch; a part hangs together")
	}
	s := d.Begin()
	s.Reassign(d.Mesh, all, e.Parts[0])
	return s.Done(), nil
}

// PartOff makes picked faces a part of their own.
type PartOff struct {
	Faces []mesh.FaceID `json:"faces"`
	Name  string        `json:"name,omitempty"`
}

// Kind implements Edit.
func (*PartOff) Kind() string { return "part-off" }

// Describe implements Edit.
func (e *PartOff) Describe() string { return "part off " + words.Count(len(e.Faces), "face") }

// Apply implements Edit.
func (e *PartOff) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if err := document.CheckPick(d.Mesh, e.Faces); err != nil {
		return nil, err
	}
	s := d.Begin()
	name := e.Name
	if name == "" {
		name = "part"
		if p := s.PartOf(e.Faces[0]); p >= 0 {
			name = s.Parts[p].Name + ", piece"
		}
	}
	s.Parts = append(s.Parts, &document.Part{Name: name})
	s.Reassign(d.Mesh, e.Faces, document.PartID(len(s.Parts)-1))
	return s.Done(), nil
}

// Assign moves picked faces to a part beside them.
type Assign struct {
	Faces []mesh.FaceID   `json:"faces"`
	To    document.PartID `json:"to"`
}

// Kind implements Edit.
func (*Assign) Kind() string { return "assign" }

// Describe implements Edit.
func (e *Assign) Describe() string {
	return "move " + words.Count(len(e.Faces), "face") + " to a neighbour"
}

// Apply implements Edit.
func (e *Assign) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if err := document.CheckPick(d.Mesh, e.Faces); err != nil {
		return nil, err
	}
	if err := d.State.CheckParts(e.To); err != nil {
		return nil, err
	}
	s := d.Begin()
	s.Reassign(d.Mesh, e.Faces, e.To)
	return s.Done(), nil
}
