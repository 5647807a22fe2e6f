package flowedits

import (
	"context"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/segment"
	"morvek/core/words"
)

// CarryOver lays shells so that a tiling pattern goes on over the picked seams without
// joining them: from the shell with the face From outwards, each is turned by quarters
// and shifted, by less than a tile, until twins agree but for whole tiles. Where shells
// meet in a ring it goes on over the longest seams, along a spanning tree. They may lie on
// others, as shells of a tiling texture do.
type CarryOver struct {
	Edges []mesh.EdgeID `json:"edges,omitempty"`
	From  *mesh.FaceID  `json:"from,omitempty"` // a face of the shell that stays; none: the largest
	// Material: all seams between shells of the material of From, in place of Edges; pieces
	// of it that hang together apart from From go out from their largest shell.
	Material bool `json:"material,omitempty"`
}

// Kind implements Edit.
func (*CarryOver) Kind() string { return "carry-over" }

// Describe implements Edit.
func (e *CarryOver) Describe() string {
	if e.Material {
		return "carry the pattern over a material"
	}
	return "carry the pattern over " + words.Count(len(e.Edges), "edge")
}

// Apply implements Edit.
func (e *CarryOver) Apply(ctx context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	s, _, err := e.Plan(ctx, d)
	return s, err
}

// Plan returns the state after carrying over and what is left at each seam.
func (e *CarryOver) Plan(_ context.Context, d *document.Document) (*document.State, []segment.Carried, error) {
	return segment.CarryOver(d, segment.Carrying{Edges: e.Edges, From: e.From, Material: e.Material})
}
