package partedits

import (
	"context"
	"slices"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/parts"
	"morvek/core/words"
)

// Recognise splits the mesh, or chosen parts of it, into parts by shape. The map
// of the faces is cleared and cuts are put along the borders of the new parts.
// Locked parts stay as they are.
type Recognise struct {
	document.Reading
	Parts []document.PartID `json:"parts,omitempty"` // none: all
}

// Kind implements Edit.
func (*Recognise) Kind() string { return "recognise" }

// Describe implements Edit.
func (r *Recognise) Describe() string {
	if len(r.Parts) > 0 {
		return "recognise " + words.Count(len(r.Parts), "part") + " again"
	}
	return "recognise parts"
}

// Long implements edit.Long.
func (*Recognise) Long() bool { return true }

// Apply implements Edit.
func (r *Recognise) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	o, err := r.Options(d)
	if err != nil {
		return nil, err
	}
	s := d.Begin()
	if len(r.Parts) > 0 {
		if err := s.CheckParts(r.Parts...); err != nil {
			return nil, err
		}
	}
	open := func(p document.PartID) bool {
		return p == document.NoPart || !s.Parts[p].Locked && (len(r.Parts) == 0 || slices.Contains(r.Parts, p))
	}
	for f, p := range s.FaceParts() {
		if open(p) {
			o.Faces = append(o.Faces, mesh.FaceID(f))
		}
	}
	if len(o.Faces) == 0 {
		return nil, document.Refuse("all of these parts are locked; unlock one first")
	}
	var t parts.Tree
	if len(o.Faces) == len(s.FaceParts()) {
		t, err = d.Tree(ctx, o, progress)
		s.Settings.Finer = o.Detail - parts.Default().Detail
	} else {
		t, err = d.Read(ctx, o, progress)
	}
	if err != nil {
		return nil, err
	}
	found := t.Cut(d.Mesh, o.Detail)
	s.Place(d.Mesh, o.Faces, found)
	s.FindRepeats(d.Mesh)
	return s.Done(), nil
}
