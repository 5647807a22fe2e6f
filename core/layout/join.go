package layout

import (
	"context"
	"slices"

	"morvek/core/mesh"
	"morvek/core/parallel"
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
	return "join along " + edgeCount(len(e.Edges))
}

// Apply implements Edit.
func (e *Join) Apply(ctx context.Context, d *Document, progress func(float64)) (*State, error) {
	s, _, err := e.plan(ctx, d, progress)
	return s, err
}

// JoinCost says what a join would do.
type JoinCost struct {
	Stays, Moves  mesh.FaceID // a face of each shell of the last pair
	Length        float64     // of the rim, model units
	RimDifference float64     // share by which the rims differ in length on the sheet
	TurnDeg       [2]float64  // by which the rims bend on the sheet, those that bulge positive
	Opposite      bool        // the rims bend so that they cannot meet without stretch
	Rigid         bool        // the moving shell fits as it is
	Before, After float64     // worst angular stretch (p95 of a shell)
	OnRack        bool        // there is no room; the union waits on the rack
	Joined        int         // shells that are part of another afterwards
}

// Cost returns the state after the join and what it costs.
func (e *Join) Cost(ctx context.Context, d *Document) (*State, JoinCost, error) {
	return e.plan(ctx, d, nil)
}

func (e *Join) plan(ctx context.Context, d *Document, progress func(float64)) (*State, JoinCost, error) {
	var c JoinCost
	if err := checkEdges(d.Mesh, e.Edges); err != nil {
		return nil, c, err
	}
	if e.Stays != nil {
		if err := checkFaces(d.Mesh, []mesh.FaceID{*e.Stays}); err != nil {
			return nil, c, err
		}
	}
	s := d.Begin()
	left := slices.Clone(e.Edges)
	for {
		j, rest, err := s.nextJoin(d.Mesh, left, e.Stays)
		if err != nil {
			return nil, c, err
		}
		if j == nil {
			break
		}
		if e.Chain {
			j.extend(d.Mesh)
		}
		if err := j.do(ctx, d, s, &c); err != nil {
			return nil, c, err
		}
		left = rest
		parallel.Report(progress, 1-float64(len(left))/float64(len(e.Edges)))
	}
	if c.Joined == 0 {
		return nil, c, refuse("no two shells meet at these edges; pick a seam between two flattened shells")
	}
	return s.Done(), c, nil
}
