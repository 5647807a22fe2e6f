package seamedits

import (
	"context"
	"fmt"
	"math"
	"morvek/core/document"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/parallel"
	"morvek/core/segment"
	"slices"
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
	return "join along " + document.EdgeCount(len(e.Edges))
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
	s := d.Begin()
	left := slices.Clone(e.Edges)
	for {
		j, rest, err := segment.NextJoin(s, d.Mesh, left, e.Stays)
		if err != nil {
			return nil, c, err
		}
		if j == nil {
			break
		}
		if e.Chain {
			j.Extend(d.Mesh)
		}
		if err := j.Do(ctx, d, s, &c); err != nil {
			return nil, c, err
		}
		left = rest
		parallel.Report(progress, 1-float64(len(left))/float64(len(e.Edges)))
	}
	if c.Joined == 0 {
		return nil, c, document.Refuse("no two shells meet at these edges; pick a seam between two flattened shells")
	}
	return s.Done(), c, nil
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

// Apply implements Edit.
func (e *JoinGroup) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	if err := document.CheckPick(d.Mesh, e.Faces); err != nil {
		return nil, err
	}
	if e.Limit != 0 && !(e.Limit >= 1 && e.Limit <= 3) {
		return nil, document.Refuse("a stretch limit of %g is not possible; choose 1 to 3", e.Limit)
	}
	s := d.Begin()
	picked := document.Set(e.Faces)
	a := segment.NewAttacher(ctx, d, s, func(p lay.Piece) bool {
		return slices.ContainsFunc(p.Faces, func(f mesh.FaceID) bool { return picked[f] })
	})
	a.Grain = 2 * math.Pi / 180
	a.Firm = nil // what was cut by hand may be joined when asked for
	if err := a.Round(parallel.Part(progress, 0, 0.4)); err != nil {
		return nil, err
	}
	if a.Stretch = e.Limit; a.Stretch > 1 {
		if err := a.Round(parallel.Part(progress, 0.4, 0.8)); err != nil {
			return nil, err
		}
	}
	var opened []mesh.EdgeID
	for i := range d.Mesh.NumEdges() {
		if e := mesh.EdgeID(i); d.State.Map.IsCut(e) && !s.Map.IsCut(e) {
			opened = append(opened, e)
		}
	}
	if len(opened) == 0 {
		return nil, document.Refuse("none of these shells can be joined within this stretch")
	}
	s.CutByHand(d.Mesh, opened, false)
	return lay.FlattenChanged(s.Done(), ctx, d, parallel.Part(progress, 0.8, 1))
}
