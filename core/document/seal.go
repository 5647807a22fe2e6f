package document

import (
	"errors"

	"morvek/core/atlas"
	"morvek/core/mesh"
)

// A sealed map is painted: nothing that lies on it moves any more.

// ErrSealed marks refusals of what would move a sealed map.
var ErrSealed = errors.New("sealed")

// Sealed is a refusal to move a sealed map, with what would move.
type Sealed struct {
	Map   MapHead
	Faces []mesh.FaceID // that would move or leave the sheet, ascending; all where the map would go
	What  string        // that was refused
}

func (e *Sealed) Error() string {
	n := "what lies on it"
	if len(e.Faces) == 1 {
		n = "a face of it"
	}
	return ErrRefused.Error() + ": " + e.Map.Name + " is sealed, and to " + e.What + " would move " + n + "; work on a copy of the map, or unseal it"
}

// Is tells that it is a refusal.
func (*Sealed) Is(target error) bool { return target == ErrRefused || target == ErrSealed }

// sealedMap is a map as seals see it.
type sealedMap struct {
	head MapHead
	on   *atlas.Map
	wide float64
}

// mapped lists the maps of a state.
func (s *State) mapped() []sealedMap {
	all := []sealedMap{{s.Shown, s.Map, s.Settings.Sheet.TileWidth()}}
	for _, a := range s.others {
		all = append(all, sealedMap{a.MapHead, a.Map, a.Sheet.TileWidth()})
	}
	return all
}

// AnySealed tells whether a map is sealed.
func (s *State) AnySealed() bool {
	for _, m := range s.mapped() {
		if m.head.Sealed {
			return true
		}
	}
	return false
}

// Heeds returns nil if a later state, made by what, leaves all that lies on sealed maps where it is,
// but for faces that may move: those of the map that is shown which are listed. Otherwise the error is
// a *Sealed. Where the later state was made from this one it takes time in proportion to the change.
func (s *State) Heeds(later *State, what string, may []mesh.FaceID) error {
	if !s.AnySealed() {
		return nil
	}
	free := map[mesh.FaceID]bool{}
	for _, f := range may {
		free[f] = true
	}
	after := map[MapID]sealedMap{}
	for _, m := range later.mapped() {
		after[m.head.ID] = m
	}
	for _, m := range s.mapped() {
		if !m.head.Sealed {
			continue
		}
		now, there := after[m.head.ID]
		var moved []mesh.FaceID
		switch {
		case !there || now.wide != m.wide:
			moved = m.lying(nil)
		case now.on != m.on:
			moved = m.movedTo(now.on)
		}
		if m.head.ID == s.Shown.ID {
			moved = notOf(moved, free)
		}
		if len(moved) > 0 || !there {
			return &Sealed{m.head, moved, what}
		}
	}
	return nil
}

func notOf(faces []mesh.FaceID, gone map[mesh.FaceID]bool) (out []mesh.FaceID) {
	for _, f := range faces {
		if !gone[f] {
			out = append(out, f)
		}
	}
	return out
}

// lying lists the faces of a map that lie on the sheet, of those that are asked about or of all.
func (m sealedMap) lying(asked map[mesh.FaceID]bool) (out []mesh.FaceID) {
	for f := range mesh.FaceID(m.on.Mesh().NumFaces()) {
		if (asked == nil || asked[f]) && m.on.IsMapped(f) {
			out = append(out, f)
		}
	}
	return out
}

// movedTo lists the faces that lie elsewhere on another map, or nowhere.
func (m sealedMap) movedTo(now *atlas.Map) []mesh.FaceID {
	c := atlas.Diff(m.on, now)
	if len(c.Mapped)+len(c.Corners) == 0 {
		return nil
	}
	touched := map[mesh.FaceID]bool{}
	for _, f := range c.Mapped {
		touched[f] = true
	}
	for _, k := range c.Corners {
		touched[m.on.Mesh().FaceOf(k.Corner)] = true
	}
	return m.lying(touched)
}
