package document

import (
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flow"
	"morvek/core/mesh"
)

// Wishes are what people said about seams. Suggestions respect them: recognition,
// openings, corner cuts, darts, the dial and the division of what does not lie flat.
type Wishes struct {
	Whole []mesh.FaceID `json:"whole,omitempty"` // areas that stay whole: no cut between two of these faces
	Held  []mesh.EdgeID `json:"held,omitempty"`  // closed by hand: stay attached here
	Firm  []mesh.EdgeID `json:"firm,omitempty"`  // cut by hand: stay apart here
	Picks []PickSet     `json:"picks,omitempty"` // in order of name

	Marks // of the map that is shown

	Grains []MaterialGrain `json:"grains,omitempty"`
	Labels []flow.Label    `json:"labels,omitempty"`
}

// PickSet is a set of picked edges, faces or both kept under a name.
type PickSet struct {
	Name  string        `json:"name"`
	Edges []mesh.EdgeID `json:"edges,omitempty"`
	Faces []mesh.FaceID `json:"faces,omitempty"`
}

func (w Wishes) fits(m *mesh.Mesh) error {
	edges := [][]mesh.EdgeID{w.Held, w.Firm}
	for _, p := range w.Picks {
		edges = append(edges, p.Edges)
		if CheckFaces(m, p.Faces) != nil {
			return ErrCorrupt
		}
	}
	for _, g := range w.Grains {
		edges = append(edges, g.Edges)
	}
	for _, list := range edges {
		for _, e := range list {
			if e < 0 || int(e) >= m.NumEdges() {
				return ErrCorrupt
			}
		}
	}
	for _, l := range w.Labels {
		if CheckFaces(m, l.Faces) != nil {
			return ErrCorrupt
		}
	}
	if CheckFaces(m, w.Whole) != nil || !w.Marks.fits(m) {
		return ErrCorrupt
	}
	return nil
}

// GrainOf says where a grain comes from.
type GrainOf string

// The ways to choose a grain.
const (
	GrainByShape GrainOf = "shape"  // what suits the material if it has a wish, else the shape of the part
	GrainNone    GrainOf = "none"   // no direction
	GrainAlong   GrainOf = "along"  // along the axis of its shape
	GrainAround  GrainOf = "around" // around the axis
	GrainLoops   GrainOf = "loops"  // along its longest loops
	GrainToward  GrainOf = "toward" // toward a direction in space
	GrainChain   GrainOf = "chain"  // along picked edges, bending with them where they are one chain
)

// GrainWish is a grain as people ask for it, before it is known for which part.
type GrainWish struct {
	Of        GrainOf `json:"of"`
	Direction r3.Vec  `json:"direction,omitzero"` // toward: any length
	Sense     bool    `json:"sense,omitempty"`    // it goes one way only

	Edges []mesh.EdgeID `json:"edges,omitempty"` // chain
}

// MaterialGrain is the grain of all parts of a material that have no wish of their own,
// those that are recognised later too.
type MaterialGrain struct {
	Material string `json:"material"`
	GrainWish
}
