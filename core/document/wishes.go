package document

import (
	"morvek/core/flow"
	"morvek/core/mesh"
	"slices"
)

// Wishes are what people said about seams. Suggestions respect them: recognition,
// openings, corner cuts, darts, the dial and the division of what does not lie flat.
type Wishes struct {
	Whole []mesh.FaceID `json:"whole,omitempty"` // areas that stay whole: no cut between two of these faces
	Held  []mesh.EdgeID `json:"held,omitempty"`  // closed by hand: stay attached here
	Firm  []mesh.EdgeID `json:"firm,omitempty"`  // cut by hand: stay apart here
	Picks []PickSet     `json:"picks,omitempty"` // in order of name

	Pins []mesh.HalfedgeID `json:"pins,omitempty"` // corners whose points flattening leaves where they are

	Grains []MaterialGrain `json:"grains,omitempty"`
	Labels []flow.Label    `json:"labels,omitempty"`
}

// PickSet is a set of picked edges kept under a name.
type PickSet struct {
	Name  string        `json:"name"`
	Edges []mesh.EdgeID `json:"edges"`
}

func (w Wishes) fits(m *mesh.Mesh) error {
	edges := [][]mesh.EdgeID{w.Held, w.Firm}
	for _, p := range w.Picks {
		edges = append(edges, p.Edges)
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
	if CheckFaces(m, w.Whole) != nil || CheckCorners(m, w.Pins) != nil {
		return ErrCorrupt
	}
	return nil
}

// With adds to a sorted list, without takes away; both leave the old list alone.
func With[T ~int32](list, add []T) []T {
	out := slices.Sorted(slices.Values(slices.Concat(list, add)))
	return slices.Compact(out)
}

func Without[T ~int32](list, gone []T) []T {
	drop := Set(gone)
	return slices.DeleteFunc(slices.Clone(list), func(x T) bool { return drop[x] })
}

func Set[T comparable](list []T) map[T]bool {
	out := make(map[T]bool, len(list))
	for _, x := range list {
		out[x] = true
	}
	return out
}

// Spared returns the edges that suggestions may not cut. Where people cut there by
// hand all the same, that stands.
func (s *State) Spared(m *mesh.Mesh) func(mesh.EdgeID) bool {
	w := s.Wishes
	if len(w.Held)+len(w.Whole)+len(w.Labels) == 0 {
		return func(mesh.EdgeID) bool { return false }
	}
	held, whole := Set(w.Held), Set(w.Whole)
	label := map[mesh.FaceID]int{} // the number of its label, from 1
	for i, l := range w.Labels {
		for _, f := range l.Faces {
			label[f] = i + 1
		}
	}
	return func(e mesh.EdgeID) bool {
		if held[e] {
			return true
		}
		a, b := m.EdgeFaces(e)
		return b != mesh.None && (whole[a] && whole[b] || label[a] > 0 && label[a] == label[b])
	}
}

// heed brings the cuts at some faces in line with the wishes.
func (s *Tx) heed(m *mesh.Mesh, faces []mesh.FaceID) {
	w := s.Wishes
	if len(w.Held)+len(w.Whole)+len(w.Firm)+len(w.Labels) == 0 {
		return
	}
	spared, firm := s.Spared(m), Set(w.Firm)
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			e := m.Edge(h)
			if m.Twin(h) != mesh.None {
				s.Map.SetCut(e, firm[e] || s.Map.IsCut(e) && !spared(e))
			}
		}
	}
}
