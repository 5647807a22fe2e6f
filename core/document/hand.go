package document

import (
	"morvek/core/ids"
	"morvek/core/mesh"
)

// CutByHand cuts edges or closes them, and remembers that people wanted it so.
func (s *Tx) CutByHand(m *mesh.Mesh, edges []mesh.EdgeID, to bool) {
	for _, e := range edges {
		s.Map.SetCut(e, to)
		a, b := m.EdgeFaces(e)
		s.MarkHand(a)
		s.MarkHand(b)
	}
	w := &s.Wishes
	if to {
		w.Firm, w.Held = ids.With(w.Firm, edges), ids.Without(w.Held, edges)
	} else {
		w.Held, w.Firm = ids.With(w.Held, edges), ids.Without(w.Firm, edges)
	}
}

// MarkHand notes that somebody changed the part of a face.
func (s *Tx) MarkHand(f mesh.FaceID) {
	if p := s.PartOf(f); p >= 0 {
		s.Part(p).ByHand = true
	}
}
