package document

import (
	"reflect"

	"morvek/core/atlas"
	"morvek/core/ids"
	"morvek/core/mesh"
)

// AwayChange is how a map changed that the state was not seen through.
type AwayChange struct {
	Map      MapID
	Old, New *AwayHead // nil: there is no such map
	Lays     []LayChange
	Marks    MarksChange
	On       atlas.Change // from or to a blank map, where there is none
}

// LayChange is the lay of a part that changed in a map.
type LayChange struct {
	Part PartID `json:"part"`
	Old  Lay    `json:"old,omitzero"`
	New  Lay    `json:"new,omitzero"`
}

// diffAway lists how the other maps of a state differ from those of an earlier one.
func diffAway(old, now *State) (out []AwayChange) {
	var all []MapID
	for _, s := range []*State{old, now} {
		for _, a := range s.others {
			all = append(all, a.ID)
		}
	}
	for _, id := range ids.Once(all) {
		if a, b := old.other(id), now.other(id); a != b {
			if c := changeOf(id, a, b, now.Map.Mesh()); !c.empty() {
				out = append(out, c)
			}
		}
	}
	return out
}

// changeOf is how one map became another, either of which may be nil.
func changeOf(id MapID, a, b *away, m *mesh.Mesh) AwayChange {
	c := AwayChange{Map: id, Old: a.head(), New: b.head()}
	if a == nil {
		a = &away{Map: blank(m)}
	}
	if b == nil {
		b = &away{Map: blank(m)}
	}
	for i := range max(len(a.Lays), len(b.Lays)) {
		if was, is := a.lay(i), b.lay(i); !was.same(is) {
			c.Lays = append(c.Lays, LayChange{PartID(i), was, is})
		}
	}
	c.Marks = diffMarks(a.Marks, b.Marks)
	c.On = atlas.Diff(a.Map, b.Map)
	return c
}

func (a *away) head() *AwayHead {
	if a == nil {
		return nil
	}
	h := a.AwayHead
	return &h
}

func (c AwayChange) empty() bool {
	return reflect.DeepEqual(c.Old, c.New) && len(c.Lays) == 0 && c.Marks.empty() && c.On.Empty()
}

// apply makes the change to the other maps of a state that is being changed, or takes it back.
func (c AwayChange) apply(tx *Tx, back bool) error {
	from, to := c.Old, c.New
	if back {
		from, to = to, from
	}
	was := tx.other(c.Map)
	if (was == nil) != (from == nil) || !c.Marks.fits(tx.Map.Mesh()) || to != nil && to.ID != c.Map || !c.On.Fits(tx.Map.Mesh()) || tx.Shown.ID == c.Map {
		return ErrCorrupt
	}
	others := without(tx.others, c.Map)
	if to == nil {
		tx.others = others
		return nil
	}
	if was == nil {
		was = &away{Map: blank(tx.Map.Mesh())}
	}
	lays := map[PartID]Lay{}
	for _, l := range c.Lays {
		if l.Part < 0 || int(l.Part) >= tx.Map.Mesh().NumFaces() { // a part has a face at least
			return ErrCorrupt
		}
		if lays[l.Part] = l.New; back {
			lays[l.Part] = l.Old
		}
	}
	is := was.with(lays)
	way := 1
	if back {
		way = 0
	}
	is.AwayHead, is.Marks = *to, c.Marks.on(was.Marks, way)
	draft := was.Map.Draft()
	draft.Apply(c.On, back)
	is.Map = draft.Freeze()
	tx.others = ordered(append(others, is))
	return nil
}

// fits tells whether the numbers of a change can be those of a mesh and its parts.
func (a *away) fits(m *mesh.Mesh, parts int) bool {
	return a.Marks.fits(m) && a.Check() == nil && len(a.Lays) <= parts
}
