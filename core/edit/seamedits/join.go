package seamedits

import (
	"context"
	"fmt"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/segment"
	"morvek/core/words"
)

// Join makes one shell of the two beside picked edges. The smaller moves to the
// larger, or the one with the face Stays is left where it is. Where the rims fit,
// the other shell only moves; else the two are flattened as one, and nothing besides.
// A union that has no room where it is waits on the rack.
type Join struct {
	Edges []mesh.EdgeID `json:"edges"`
	Stays *mesh.FaceID  `json:"stays,omitempty"` // a face of the shell that stays
	Chain bool          `json:"chain,omitempty"` // also along the rest of their common border
}

// Kind implements Edit.
func (*Join) Kind() string { return "join" }

// Describe implements Edit.
func (e *Join) Describe() string {
	if e.Chain {
		return "join along a border"
	}
	return "join along " + words.Count(len(e.Edges), "edge")
}

// Apply implements Edit.
func (e *Join) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	s, _, err := e.plan(ctx, d, progress)
	return s, err
}

// Cost returns the state after the join and what it costs.
func (e *Join) Cost(ctx context.Context, d *document.Document) (*document.State, segment.JoinCost, error) {
	return e.plan(ctx, d, nil)
}

func (e *Join) plan(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, segment.JoinCost, error) {
	var c segment.JoinCost
	if err := document.CheckEdges(d.Mesh, e.Edges); err != nil {
		return nil, c, err
	}
	if e.Stays != nil {
		if err := document.CheckFaces(d.Mesh, []mesh.FaceID{*e.Stays}); err != nil {
			return nil, c, err
		}
	}
	return segment.Join(ctx, d, segment.Joining{Edges: e.Edges, Stays: e.Stays, Chain: e.Chain}, progress)
}

// JoinGroup joins all shells that have a picked face, as far as the unions stretch
// no more than a limit and keep to the grain within 2°.
type JoinGroup struct {
	Faces []mesh.FaceID `json:"faces"`
	Limit float64       `json:"limit"` // L² of a union; 1 or 0: only what lies flat
}

// Kind implements Edit.
func (*JoinGroup) Kind() string { return "join-group" }

// Describe implements Edit.
func (e *JoinGroup) Describe() string {
	return fmt.Sprintf("join what stretches up to ×%.3g", max(1, e.Limit))
}

// Long implements edit.Long.
func (*JoinGroup) Long() bool { return true }

// Apply implements Edit.
func (e *JoinGroup) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	if err := document.CheckPick(d.Mesh, e.Faces); err != nil {
		return nil, err
	}
	if e.Limit != 0 && !(e.Limit >= 1 && e.Limit <= 3) {
		return nil, document.Refuse("a stretch limit of %g is not possible; choose 1 to 3", e.Limit)
	}
	return segment.JoinGroup(ctx, d, e.Faces, e.Limit, progress)
}
