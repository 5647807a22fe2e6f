package document

import (
	"encoding/json"
	"fmt"

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
	writeIDs(&w, d.Wishes.Pins)
	w.count(len(d.PartOf))
	for _, c := range d.PartOf {
		w.int(int32(c.Face), int32(c.Old), int32(c.New))
	}
	writeIDs(&w, d.Map.Cut)
	writeIDs(&w, d.Map.Mapped)
	w.count(len(d.Map.Corners))
	for _, c := range d.Map.Corners {
		w.int(int32(c.Corner))
		w.vec(c.Old)
		w.vec(c.New)
	}
	return w.b, nil
}

// UnmarshalBinary reads what MarshalBinary wrote, in this version or the one before.
func (d *Delta) UnmarshalBinary(data []byte) error {
	r := blockReader{b: data}
	*d = Delta{}
	if r.skip(deltaHead) {
		if err := d.readHead(&r); err != nil {
			return fmt.Errorf("%w: %v", ErrCorrupt, err)
		}
	} else if err := d.readWhole(&r); err != nil {
		return fmt.Errorf("%w: %v", ErrCorrupt, err)
	}
	for range r.count(12) {
		d.PartOf = append(d.PartOf, FacePartChange{mesh.FaceID(r.int()), PartID(r.int()), PartID(r.int())})
	}
	d.Map.Cut, d.Map.Mapped = readIDs[mesh.EdgeID](&r), readIDs[mesh.FaceID](&r)
	for range r.count(36) {
		d.Map.Corners = append(d.Map.Corners, atlas.Moved{Corner: mesh.HalfedgeID(r.int()), Old: r.vec(), New: r.vec()})
	}
	return r.end()
}

func (d *Delta) readHead(r *blockReader) error {
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
	d.Wishes.Firm, d.Wishes.Pins = readIDs[mesh.EdgeID](r), readIDs[mesh.HalfedgeID](r)
	return nil
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
