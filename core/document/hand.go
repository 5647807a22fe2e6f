package document

import (
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
		w.Firm, w.Held = With(w.Firm, edges), Without(w.Held, edges)
	} else {
		w.Held, w.Firm = With(w.Held, edges), Without(w.Firm, edges)
	}
}

func (s *Tx) MarkHand(f mesh.FaceID) {
	if p := s.PartOf(f); p >= 0 {
		s.Part(p).ByHand = true
	}
}
