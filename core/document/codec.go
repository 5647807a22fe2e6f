package document

import (
	"encoding/json"
	"fmt"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/mesh"
)

// head is the part of a state that is stored as JSON.
type head struct {
	Settings Settings `json:"settings"`
	Parts    []*Part  `json:"parts"`
	Wishes   Wishes   `json:"wishes,omitzero"`
}

// stored is a state as it is stored, before it is known of which mesh.
type stored struct {
	head
	partOf      []PartID
	mapped, cut []bool
	uv          []r2.Vec
}

// MarshalBinary writes a whole state.
func (s *State) MarshalBinary() ([]byte, error) {
	h, err := json.Marshal(head{s.Settings, s.Parts, s.Wishes})
	if err != nil {
		return nil, err
	}
	m := s.Map.Mesh()
	w := blockWriter{[]byte(stateHead)}
	w.bytes(h)
	w.count(len(s.partOf))
	for _, p := range s.partOf {
		w.int(int32(p))
	}
	w.flags(m.NumEdges(), func(i int) bool { return s.Map.IsCut(mesh.EdgeID(i)) })
	w.flags(m.NumFaces(), func(i int) bool { return s.Map.IsMapped(mesh.FaceID(i)) })
	w.count(m.NumCorners())
	for h := range m.NumCorners() {
		w.vec(s.Map.At(mesh.HalfedgeID(h)))
	}
	return w.b, nil
}

// decodeState reads what MarshalBinary wrote, in this version or the one before.
func decodeState(data []byte) (s stored, err error) {
	r := blockReader{b: data}
	r.skip(stateHead) // before, it began with what follows
	if err := r.json(&s.head); err != nil {
		return s, fmt.Errorf("%w: settings and parts: %v", ErrCorrupt, err)
	}
	for range r.count(4) {
		s.partOf = append(s.partOf, PartID(r.int()))
	}
	s.cut = r.flags()
	s.mapped = r.flags()
	for range r.count(16) {
		s.uv = append(s.uv, r.vec())
	}
	return s, r.end()
}

// on makes a state of a mesh of what was stored, or returns an error if that belongs to
// another one.
func (s stored) on(m *mesh.Mesh) (*State, error) {
	c, ok := atlas.Of(m, s.uv, s.mapped, s.cut)
	if !ok || len(s.partOf) != m.NumFaces() {
		return nil, ErrCorrupt
	}
	out := &State{Settings: s.Settings, Parts: s.Parts, partOf: s.partOf, groups: &groups{}, Map: c, Wishes: s.Wishes}
	return out, out.Fits()
}

// Fits returns ErrCorrupt for a state whose numbers point at nothing.
func (s *State) Fits() error {
	for _, p := range s.partOf {
		if p < NoPart || int(p) >= len(s.Parts) {
			return ErrCorrupt
		}
	}
	for _, p := range s.Parts {
		if p == nil {
			return ErrCorrupt
		}
		for _, of := range []*PartID{p.RepeatOf, p.StackedOn} {
			if of != nil && (*of < 0 || int(*of) >= len(s.Parts)) {
				return ErrCorrupt
			}
		}
	}
	return s.Wishes.fits(s.Map.Mesh())
}
