package document

import (
	"bytes"
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

	Shown  MapHead    `json:"map,omitzero"`
	Others []awayJSON `json:"others,omitempty"`
}

// awayJSON is the part of another map that is stored as JSON.
type awayJSON struct {
	AwayHead
	Marks
	Lays []Lay `json:"lays,omitempty"`
}

// stored is a state as it is stored, before it is known of which mesh.
type stored struct {
	head
	partOf []PartID
	maps   []storedMap // the one it is seen through, then the others
	lying  partsOn
}

// storedMap is a map as it is stored.
type storedMap struct {
	cut, mapped []bool
	uv          []r2.Vec
}

func (s storedMap) of(m *mesh.Mesh) (*atlas.Map, bool) { return atlas.Of(m, s.uv, s.mapped, s.cut) }

// MarshalBinary writes a whole state.
func (s *State) MarshalBinary() ([]byte, error) {
	top := head{Settings: s.Settings, Parts: s.Parts, Wishes: s.Wishes, Shown: s.Shown}
	for _, a := range s.others {
		top.Others = append(top.Others, awayJSON{*a.head(), a.Marks, a.Lays})
	}
	h, err := json.Marshal(top)
	if err != nil {
		return nil, err
	}
	w := blockWriter{[]byte(stateHead)}
	w.bytes(h)
	w.count(len(s.partOf))
	for _, p := range s.partOf {
		w.int(int32(p))
	}
	writeMap(&w, s.Map)
	for _, a := range s.others {
		writeMap(&w, a.Map)
	}
	return w.b, nil
}

func writeMap(w *blockWriter, c *atlas.Map) {
	m := c.Mesh()
	w.flags(m.NumEdges(), func(i int) bool { return c.IsCut(mesh.EdgeID(i)) })
	w.flags(m.NumFaces(), func(i int) bool { return c.IsMapped(mesh.FaceID(i)) })
	w.count(m.NumCorners())
	for h := range m.NumCorners() {
		w.vec(c.At(mesh.HalfedgeID(h)))
	}
}

// decodeState reads what MarshalBinary wrote, in this version or those before.
func decodeState(data []byte) (s stored, err error) {
	r := blockReader{b: data}
	_ = r.skip(stateHead) || r.skip(oneMapsState) // at first, it began with what follows
	h := r.bytes()
	if len(h) > 0 {
		err = json.Unmarshal(h, &s.head)
	}
	if err == nil && bytes.Contains(h, []byte(`"stacked_on"`)) {
		err = json.Unmarshal(h, &s.lying)
	}
	if err != nil {
		return s, fmt.Errorf("%w: settings and parts: %v", ErrCorrupt, err)
	}
	for range r.count(4) {
		s.partOf = append(s.partOf, PartID(r.int()))
	}
	if s.Shown == (MapHead{}) {
		s.Shown = firstMap
	}
	for range 1 + len(s.Others) {
		q := storedMap{cut: r.flags(), mapped: r.flags()}
		for range r.count(16) {
			q.uv = append(q.uv, r.vec())
		}
		s.maps = append(s.maps, q)
	}
	return s, r.end()
}

// on makes a state of a mesh of what was stored, or returns an error if that belongs to
// another one.
func (s stored) on(m *mesh.Mesh) (*State, error) {
	c, ok := s.maps[0].of(m)
	if !ok || len(s.partOf) != m.NumFaces() {
		return nil, ErrCorrupt
	}
	out := &State{Settings: s.Settings, Parts: s.Parts, partOf: s.partOf, groups: &groups{}, Map: c, Shown: s.Shown, Wishes: s.Wishes}
	out.Wishes.Stacks = append(out.Wishes.Stacks, stackedParts(c, s.partOf, s.lying.Parts)...)
	for i, o := range s.Others {
		if c, ok = s.maps[i+1].of(m); !ok || out.HasMap(o.ID) {
			return nil, ErrCorrupt
		}
		if i < len(s.lying.Others) {
			o.Stacks = append(o.Stacks, stackedParts(c, s.partOf, s.lying.Others[i].Lays)...)
		}
		out.others = append(out.others, &away{AwayHead: o.AwayHead, Marks: o.Marks, Lays: trimmed(o.Lays), Map: c})
	}
	ordered(out.others)
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
		if of := p.RepeatOf; of != nil && (*of < 0 || int(*of) >= len(s.Parts)) {
			return ErrCorrupt
		}
	}
	for _, a := range s.others {
		if !a.fits(s.Map.Mesh(), len(s.Parts)) {
			return ErrCorrupt
		}
	}
	return s.Wishes.fits(s.Map.Mesh())
}
