package flowedits

import (
	"context"

	"morvek/core/document"
	"morvek/core/ids"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/parallel"
	"morvek/core/words"
)

// Fill flattens faces into the hole that they leave in the shell around them. What lies
// around keeps its place to the last bit, so that a painted picture still fits.
type Fill struct {
	Faces []mesh.FaceID `json:"faces"`
}

// Kind implements Edit.
func (*Fill) Kind() string { return "fill" }

// Describe implements Edit.
func (e *Fill) Describe() string {
	return "flatten " + words.Count(len(e.Faces), "face") + " into their hole"
}

// Apply implements Edit.
func (e *Fill) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	m := d.Mesh
	if err := document.CheckPick(m, e.Faces); err != nil {
		return nil, err
	}
	s := d.Begin()
	if err := s.Unstacked(s.Stacks(), e.Faces); err != nil {
		return nil, err
	}
	groups := m.Connected(ids.With(nil, e.Faces), s.Map.IsCut)
	for i, group := range groups {
		if err := lay.IntoHole(ctx, s, group, nil); err != nil {
			return nil, err
		}
		parallel.Report(progress, float64(i+1)/float64(len(groups)))
	}
	return s.Done(), nil
}

// Frees tells which faces of a sealed map may move: those that are to be filled.
func (e *Fill) Frees() []mesh.FaceID { return e.Faces }
