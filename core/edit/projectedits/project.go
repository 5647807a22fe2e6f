package projectedits

import (
	"context"

	"morvek/core/document"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/unroll"
	"morvek/core/words"
)

// Project lays faces by a projection with its parameters. They become shells of their
// own, cut where the projection tears; a whole part keeps the parameters, to be changed
// later.
type Project struct {
	Faces      []mesh.FaceID     `json:"faces"`
	Projection unroll.Projection `json:"projection"`
	// InPlace leaves the map where the projection puts it, but for whole tiles, so that a
	// pattern meets that of other faces laid so; else the shells lie where they were or
	// wait on the rack.
	InPlace bool `json:"in_place,omitempty"`
	// EachFacet looks at every flat facet among the faces from its own front, planar only.
	EachFacet bool `json:"each_facet,omitempty"`
}

// Kind implements Edit.
func (*Project) Kind() string { return "project" }

// Describe implements Edit.
func (e *Project) Describe() string {
	return "lay " + words.Count(len(e.Faces), "face") + " " + string(e.Projection.Kind)
}

// Apply implements Edit.
func (e *Project) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	return lay.Project(ctx, d, lay.Projecting{Faces: e.Faces, Projection: e.Projection, InPlace: e.InPlace, EachFacet: e.EachFacet}, progress)
}
