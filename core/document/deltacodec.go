package document

import (
	"encoding/json"
	"fmt"
	"slices"

	"morvek/core/atlas"
	"morvek/core/mesh"
)

// wishRest is the part of changed wishes that is stored as JSON, old and new.
type wishRest *[2]Wishes

// partJSON is a changed part as it is stored: without its pieces where these stay.
type partJSON struct {
	Part   PartID `json:"part"`
	Old    *Part  `json:"old,omitempty"`
	New    *Part  `json:"new,omitempty"`
	Pieces bool   `json:"pieces,omitempty"`
}

// MarshalBinary writes a delta in little-endian blocks, each with its length.
func (d Delta) MarshalBinary() ([]byte, error) {
	w := blockWriter{[]byte(deltaHead)}
	w.int(int32(d.At))
	parts := make([]partJSON, len(d.Parts))
	for i, c := range d.Parts {
		parts[i] = partJSON(c)
		if !c.Pieces {
			parts[i].Old, parts[i].New = c.Old.bare(), c.New.bare()
		}
	}
	for _, v := range []any{d.Settings, parts, wishRest(d.Wishes.Rest)} {
		if err := w.json(v); err != nil {
			return nil, err
		}
	}
	writeIDs(&w, d.Wishes.Whole)
	writeIDs(&w, d.Wishes.Held)
	writeIDs(&w, d.Wishes.Firm)
	if err := writeMarks(&w, d.Wishes.Marks); err != nil {
		return nil, err
	}
	w.count(len(d.PartOf))
	for _, c := range d.PartOf {
		w.int(int32(c.Face), int32(c.Old), int32(c.New))
	}
	writeChange(&w, d.Map)
	if err := w.json(d.Shown); err != nil {
		return nil, err
	}
	w.count(len(d.Others))
	for _, c := range d.Others {
		if err := w.json(awayChangeJSON{c.Map, c.Old, c.New, c.Lays}); err != nil {
			return nil, err
		}
		if err := writeMarks(&w, c.Marks); err != nil {
			return nil, err
		}
		writeChange(&w, c.On)
	}
	return w.b, nil
}

// awayChangeJSON is the part of how another map changed that is stored as JSON.
type awayChangeJSON struct {
	Map  MapID       `json:"map"`
	Old  *AwayHead   `json:"old,omitempty"`
	New  *AwayHead   `json:"new,omitempty"`
	Lays []LayChange `json:"lays,omitempty"`
}

// UnmarshalBinary reads what MarshalBinary wrote, in this version or those before.
func (d *Delta) UnmarshalBinary(data []byte) error {
	r := blockReader{b: data}
	*d = Delta{At: firstMap.ID}
	marked := r.skip(deltaHead)
	several := marked || r.skip(pinsDelta)
	if several {
		d.At = MapID(r.int())
	}
	if several || r.skip(oneMapsDelta) {
		if err := d.readHead(&r, marked); err != nil {
			return fmt.Errorf("%w: %v", ErrCorrupt, err)
		}
	} else if err := d.readWhole(&r); err != nil {
		return fmt.Errorf("%w: %v", ErrCorrupt, err)
	}
	for range r.count(12) {
		d.PartOf = append(d.PartOf, FacePartChange{mesh.FaceID(r.int()), PartID(r.int()), PartID(r.int())})
	}
	d.Map = readChange(&r)
	if several {
		if err := d.readOthers(&r, marked); err != nil {
			return fmt.Errorf("%w: %v", ErrCorrupt, err)
		}
	}
	return r.end()
}

func (d *Delta) readOthers(r *blockReader, marked bool) error {
	if err := r.json(&d.Shown); err != nil {
		return err
	}
	for range r.count(20) { // four lengths of lists and one of a text, at least
		var j awayChangeJSON
		if err := r.json(&j); err != nil {
			return err
		}
		marks, err := readMarks(r, marked)
		if err != nil {
			return err
		}
		d.Others = append(d.Others, AwayChange{j.Map, j.Old, j.New, j.Lays, marks, readChange(r)})
	}
	return nil
}

func writeChange(w *blockWriter, c atlas.Change) {
	writeIDs(w, c.Cut)
	writeIDs(w, c.Mapped)
	w.count(len(c.Corners))
	w.b = slices.Grow(w.b, 36*len(c.Corners))
	for _, q := range c.Corners {
		w.int(int32(q.Corner))
		w.vec(q.Old)
		w.vec(q.New)
	}
}

func readChange(r *blockReader) (c atlas.Change) {
	c.Cut, c.Mapped = readIDs[mesh.EdgeID](r), readIDs[mesh.FaceID](r)
	for range r.count(36) {
		c.Corners = append(c.Corners, atlas.Moved{Corner: mesh.HalfedgeID(r.int()), Old: r.vec(), New: r.vec()})
	}
	return c
}

func (d *Delta) readHead(r *blockReader, marked bool) error {
	var parts []partJSON
	for _, v := range []any{&d.Settings, &parts, &d.Wishes.Rest} {
		if err := r.json(v); err != nil {
			return err
		}
	}
	for _, c := range parts {
		d.Parts = append(d.Parts, PartChange(c))
	}
	d.Wishes.Whole, d.Wishes.Held = readIDs[mesh.FaceID](r), readIDs[mesh.EdgeID](r)
	d.Wishes.Firm = readIDs[mesh.EdgeID](r)
	var err error
	d.Wishes.Marks, err = readMarks(r, marked)
	return err
}

func writeMarks(w *blockWriter, c MarksChange) error {
	writeIDs(w, c.Pins)
	if len(c.Placed)+len(c.Locked) == 0 && c.Rest == nil { // as with most edits
		w.int(0)
		return nil
	}
	w.int(1)
	writeIDs(w, c.Placed)
	writeIDs(w, c.Locked)
	return w.json(c.Rest)
}

// readMarks reads how marks changed, where nothing else than pins was known only these.
func readMarks(r *blockReader, all bool) (c MarksChange, err error) {
	if c.Pins = readIDs[mesh.HalfedgeID](r); !all || r.int() == 0 {
		return c, nil
	}
	c.Placed, c.Locked = readIDs[mesh.FaceID](r), readIDs[mesh.FaceID](r)
	return c, r.json(&c.Rest)
}

// readWhole reads the head of a delta of the version before: settings, parts and wishes, all
// of them old and new, or nothing where none changed.
func (d *Delta) readWhole(r *blockReader) error {
	var both [2]head
	for i := range both {
		b := r.bytes()
		if b == nil {
			continue
		}
		if err := json.Unmarshal(b, &both[i]); err != nil {
			return err
		}
	}
	old, now := &State{}, &State{}
	for i, s := range []*State{old, now} {
		s.Settings, s.Parts, s.Wishes = both[i].Settings, both[i].Parts, both[i].Wishes
	}
	d.head(old, now)
	return nil
}

func writeIDs[T ~int32](w *blockWriter, list []T) {
	w.count(len(list))
	for _, x := range list {
		w.int(int32(x))
	}
}

func readIDs[T ~int32](r *blockReader) (out []T) {
	for range r.count(4) {
		out = append(out, T(r.int()))
	}
	return out
}
