package document

import (
	"morvek/core/ids"
	"morvek/core/mesh"
)

// Spared returns the edges that suggestions may not cut. Where people cut there by
// hand all the same, that stands.
func (s *State) Spared(m *mesh.Mesh) func(mesh.EdgeID) bool {
	w := s.Wishes
	if len(w.Held)+len(w.Whole)+len(w.Labels) == 0 {
		return func(mesh.EdgeID) bool { return false }
	}
	held, whole := ids.Set(w.Held), ids.Set(w.Whole)
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
	spared, firm := s.Spared(m), ids.Set(w.Firm)
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
