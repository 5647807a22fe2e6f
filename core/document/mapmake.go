package document

import (
	"slices"

	"morvek/core/ids"
	"morvek/core/mesh"
)

// WithMap returns the state with one more map, seen through that: nothing is mapped, and it is
// cut where the shapes of parts ask for it. Its settings are those of the map it was seen through.
func (s *State) WithMap(name string, purpose Purpose) (*State, error) {
	h := MapHead{ID: s.Shown.ID, Name: name, Purpose: purpose}
	for _, o := range s.Maps() {
		h.ID = max(h.ID, o.ID+1)
	}
	if err := h.Check(); err != nil {
		return nil, err
	}
	if len(s.others) >= mostMaps-1 {
		return nil, Refuse("a document has at most %d maps; remove one first", mostMaps)
	}
	m := s.Map.Mesh()
	fresh := &away{AwayHead: AwayHead{h, s.Settings.OnSheet}, Map: blank(m)}
	tx := s.through(fresh, ordered(append(slices.Clone(s.others), s.away()))).Begin()
	tx.ResetCuts(m, ids.All[mesh.FaceID](m.NumFaces()))
	return tx.Done(), nil
}

// WithoutMap returns the state without a map it is not seen through.
func (s *State) WithoutMap(id MapID) (*State, error) {
	if s.Shown.ID == id {
		return nil, Refuse("the map that is shown cannot be removed; show another one first")
	}
	if s.other(id) == nil {
		return nil, Refuse("there is no map %d", id)
	}
	out := *s
	out.others = without(s.others, id)
	return &out, nil
}
