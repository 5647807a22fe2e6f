package document

import (
	"reflect"

	"morvek/core/atlas"
	"morvek/core/ids"
	"morvek/core/mesh"
)

// Delta is what leads from one state to another and back: only what differs. Both are seen
// through the same map, and so is what differs.
type Delta struct {
	At       MapID        // the map
	Shown    *[2]MapHead  // which it is, old and new, nil if that is the same
	Others   []AwayChange // ascending
	Settings *[2]Settings // old and new, nil if they are the same
	Parts    []PartChange // ascending
	PartOf   []FacePartChange
	Wishes   WishChange
	Map      atlas.Change
}

// PartChange is a part that changed.
type PartChange struct {
	Part     PartID
	Old, New *Part // nil: there is no part of this number
	Pieces   bool  // its pieces changed too; otherwise Old and New need not have them
}

// FacePartChange is a face that went from one part to another.
type FacePartChange struct {
	Face     mesh.FaceID
	Old, New PartID
}

// WishChange is how wishes changed: what is in one of two lists only, and the rest, old and
// new, nil if it is the same.
type WishChange struct {
	Whole      []mesh.FaceID
	Held, Firm []mesh.EdgeID
	Marks      MarksChange
	Rest       *[2]Wishes
}

func (w WishChange) empty() bool {
	return len(w.Whole)+len(w.Held)+len(w.Firm) == 0 && w.Marks.empty() && w.Rest == nil
}

// Diff returns what leads from one state to another of the same mesh, which are seen through
// the same map. If the latter was made from the former it takes time in proportion to the
// change.
func Diff(old, now *State) Delta {
	d := Delta{At: now.Shown.ID, Others: diffAway(old, now)}
	if old.Shown.ID != now.Shown.ID {
		panic("document: compared through two maps")
	}
	if old.Shown != now.Shown {
		d.Shown = &[2]MapHead{old.Shown, now.Shown}
	}
	d.head(old, now)
	d.Map = atlas.Diff(old.Map, now.Map)
	for _, f := range now.movedSince(old) {
		if a, b := old.partOf[f], now.partOf[f]; a != b {
			d.PartOf = append(d.PartOf, FacePartChange{f, a, b})
		}
	}
	return d
}

// head notes how settings, wishes and parts differ.
func (d *Delta) head(old, now *State) {
	d.Wishes = diffWishes(old.Wishes, now.Wishes)
	if old.Settings != now.Settings {
		d.Settings = &[2]Settings{old.Settings, now.Settings}
	}
	for i := range max(len(old.Parts), len(now.Parts)) {
		c := PartChange{Part: PartID(i)}
		if i < len(old.Parts) {
			c.Old = old.Parts[i]
		}
		if i < len(now.Parts) {
			c.New = now.Parts[i]
		}
		if c.Old == c.New || c.Old != nil && c.New != nil && c.Old.same(c.New) {
			continue
		}
		c.Pieces = c.Old == nil || c.New == nil || !samePieces(c.Old.Pieces, c.New.Pieces)
		d.Parts = append(d.Parts, c)
	}
}

// movedSince lists the faces that may have gone to another part since an earlier state,
// ascending.
func (s *State) movedSince(old *State) (moved []mesh.FaceID) {
	for at := s; at != old; at = at.from.base {
		if at.from == nil { // it was not made from that one
			return ids.All[mesh.FaceID](s.Map.Mesh().NumFaces())
		}
		moved = append(moved, at.from.moved...)
	}
	return ids.Once(moved)
}

// Settle forgets what a state was made from, so that this can be freed. It is for whoever
// made the state and before others have it.
func (s *State) Settle() {
	if s.from != nil {
		s.from = nil
		s.Map.Settle()
	}
}

// same tells whether two parts are the same in every word.
func (p *Part) same(q *Part) bool {
	return samePieces(p.Pieces, q.Pieces) && reflect.DeepEqual(p.bare(), q.bare())
}

// bare is a part without its pieces.
func (p *Part) bare() *Part {
	if p == nil {
		return nil
	}
	q := *p
	q.Pieces = nil
	return &q
}

func diffWishes(old, now Wishes) WishChange {
	c := WishChange{Whole: ids.Either(old.Whole, now.Whole), Held: ids.Either(old.Held, now.Held), Firm: ids.Either(old.Firm, now.Firm), Marks: diffMarks(old.Marks, now.Marks)}
	a, b := old.rest(), now.rest()
	if !reflect.DeepEqual(a, b) {
		c.Rest = &[2]Wishes{a, b}
	}
	return c
}

// rest is all wishes but the long lists.
func (w Wishes) rest() Wishes {
	w.Whole, w.Held, w.Firm, w.Marks = nil, nil, nil, Marks{}
	return w
}

// Empty tells whether nothing changed.
func (d Delta) Empty() bool {
	return d.Settings == nil && d.Shown == nil && len(d.Parts)+len(d.PartOf)+len(d.Others) == 0 && d.Wishes.empty() && d.Map.Empty()
}

// Faces returns the faces whose part or map changed, ascending.
func (d Delta) Faces(m *mesh.Mesh) []mesh.FaceID {
	return d.withMoved(d.Map.Faces(m))
}

// Touched returns the faces whose part or map changed, and those beside what was cut or
// closed, ascending.
func (d Delta) Touched(m *mesh.Mesh) []mesh.FaceID {
	return d.withMoved(d.Map.Touched(m))
}

func (d Delta) withMoved(faces []mesh.FaceID) []mesh.FaceID {
	for _, c := range d.PartOf {
		faces = append(faces, c.Face)
	}
	return ids.Once(faces)
}

// Redo returns the state after the change, Undo the one before it; both are seen through the
// map of the change, whichever the given one is seen through. A state that the change is not
// one of gives ErrCorrupt.
func (d Delta) Redo(s *State) (*State, error) { return d.apply(s, 1) }

// Undo returns the state before the change.
func (d Delta) Undo(s *State) (*State, error) { return d.apply(s, 0) }

func (d Delta) apply(s *State, to int) (*State, error) {
	s, ok := s.Through(d.At)
	if !ok {
		return nil, ErrCorrupt
	}
	if err := d.fits(s); err != nil {
		return nil, err
	}
	tx := s.Begin()
	if d.Shown != nil {
		tx.Shown = d.Shown[to]
	}
	for _, c := range d.Others {
		if err := c.apply(tx, to == 0); err != nil {
			return nil, err
		}
	}
	if d.Settings != nil {
		tx.Settings = d.Settings[to]
	}
	for _, c := range d.Parts {
		next := [2]*Part{c.Old, c.New}[to]
		at := int(c.Part)
		switch {
		case next == nil:
			tx.Parts = tx.Parts[:min(at, len(tx.Parts))]
			continue
		case at > len(tx.Parts):
			return nil, ErrCorrupt
		case at == len(tx.Parts):
			tx.Parts = append(tx.Parts, nil)
		}
		p := *next
		if !c.Pieces && tx.Parts[at] != nil {
			p.Pieces = tx.Parts[at].Pieces
		}
		tx.Parts[at] = &p
	}
	for _, c := range d.PartOf {
		tx.SetPart(c.Face, [2]PartID{c.Old, c.New}[to])
	}
	w := &tx.Wishes
	if d.Wishes.Rest != nil {
		next := d.Wishes.Rest[to]
		w.Picks, w.Grains, w.Labels = next.Picks, next.Grains, next.Labels
	}
	w.Whole, w.Held = ids.Either(w.Whole, d.Wishes.Whole), ids.Either(w.Held, d.Wishes.Held)
	w.Firm, w.Marks = ids.Either(w.Firm, d.Wishes.Firm), d.Wishes.Marks.on(w.Marks, to)
	tx.Map.Apply(d.Map, to == 0)
	return tx.Done(), nil
}

// fits tells whether a change can be one of a state.
func (d Delta) fits(s *State) error {
	if !d.Map.Fits(s.Map.Mesh()) || !d.Wishes.Marks.fits(s.Map.Mesh()) {
		return ErrCorrupt
	}
	for _, c := range d.PartOf {
		if c.Face < 0 || int(c.Face) >= len(s.partOf) {
			return ErrCorrupt
		}
	}
	return nil
}

// Finite is what State.Finite says of the state a change leads to, if the one before was so.
func (d Delta) Finite() error {
	if err := finiteMoves(d.Map); err != nil {
		return err
	}
	for _, c := range d.Others {
		if err := finiteMoves(c.On); err != nil {
			return err
		}
	}
	return nil
}

func finiteMoves(c atlas.Change) error {
	for _, q := range c.Corners {
		if err := finite(q.New); err != nil {
			return err
		}
	}
	return nil
}
