package document

import (
	"slices"

	"morvek/core/mesh"
)

// Tx is a state while it is being changed, by one goroutine. It shares with the state it
// began from what it has not changed, and knows what it has: what is stored of an edit, sent
// to the views and measured anew follows from that.
type Tx struct {
	*State
	base *State

	own   bool           // which part a face belongs to is its own list
	parts map[*Part]bool // that are its own
	moved []mesh.FaceID  // to another part, with repeats
}

// Begin begins to change a state.
func (s *State) Begin() *Tx {
	next := &State{Settings: s.Settings, Parts: slices.Clone(s.Parts), partOf: s.partOf, groups: s.groups, Map: s.Map.Draft(), Shown: s.Shown, Wishes: s.Wishes, others: s.others}
	return &Tx{State: next, base: s}
}

// Done ends the change: the state can be shared from now on. The transaction is over.
func (tx *Tx) Done() *State {
	s := tx.State
	s.Map = s.Map.Freeze()
	if s.groups == nil {
		s.groups = &groups{}
	}
	s.from = &origin{tx.base, tx.moved}
	tx.State = nil
	return s
}

// SetPart gives a face to a part.
func (tx *Tx) SetPart(f mesh.FaceID, p PartID) {
	if tx.partOf[f] == p {
		return
	}
	if !tx.own {
		tx.partOf, tx.own, tx.groups = slices.Clone(tx.partOf), true, nil
	}
	tx.partOf[f] = p
	tx.moved = append(tx.moved, f)
}

// Part returns a part to be changed. What Parts holds is shared and must not be.
func (tx *Tx) Part(p PartID) *Part {
	if tx.parts[tx.Parts[p]] {
		return tx.Parts[p]
	}
	own := *tx.Parts[p]
	tx.Parts[p] = &own
	if tx.parts == nil {
		tx.parts = map[*Part]bool{}
	}
	tx.parts[&own] = true
	return &own
}
