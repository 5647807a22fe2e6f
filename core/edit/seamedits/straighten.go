package seamedits

import (
	"context"
	"slices"

	"morvek/core/document"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/parallel"
	"morvek/core/proof"
	"morvek/core/segment"
)

// Straighten cuts the parts of some shells anew where their seams are crooked: what was cut
// in them gives way to openings that run straight, and the parts are flattened again. What
// people cut or hold, and all other parts, stay.
type Straighten struct {
	Faces []mesh.FaceID `json:"faces"` // of the shells
}

// Kind implements Edit.
func (*Straighten) Kind() string { return "straighten" }

// Describe implements Edit.
func (*Straighten) Describe() string { return "straighten crooked seams" }

// Apply implements Edit.
func (e *Straighten) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	m := d.Mesh
	if err := document.CheckFaces(m, e.Faces); err != nil {
		return nil, err
	}
	if len(e.Faces) == 0 {
		return nil, document.Refuse("pick a face of the shell with the crooked seam first")
	}
	s := d.Begin()
	shells := s.Map.ShellsOf(e.Faces)
	if len(s.PartsOf(shells)) == 0 {
		shells = e.Faces
	}
	if err := s.Unstacked(s.Stacks(), shells); err != nil {
		return nil, err
	}
	all := s.PartFaces()
	var faces []mesh.FaceID
	for _, p := range s.PartsOf(shells) {
		faces = append(faces, all[p]...)
	}
	slices.Sort(faces)
	was := proof.Jogs(d.ProofInput())
	s.ResetCuts(m, faces)
	now, err := segment.Open(ctx, d.With(s.Done()), nil, parallel.Part(progress, 0, 0.4))
	if err != nil {
		return nil, err
	}
	if now, err = lay.FlattenChanged(ctx, d, now, parallel.Part(progress, 0.4, 0.9)); err != nil {
		return nil, err
	}
	if proof.Jogs(d.With(now).ProofInput()) >= was {
		return nil, document.Refuse("these seams are as straight as the edges allow; cut where you want them")
	}
	return now, nil
}
