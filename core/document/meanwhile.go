package document

import (
	"hash/fnv"
	"reflect"
	"slices"

	"morvek/core/ids"
	"morvek/core/mesh"
)

// After returns what d changes, for the state that another change of the same state led to,
// and whether the two are apart: no face of the map, no part in the same respect, no wish and
// no setting is changed by both, and the faces of parts by one of them only if the other
// changes no part. Both then lead to the same state in either order.
func (d Delta) After(other Delta, m *mesh.Mesh) (Delta, bool) {
	if d.Empty() || other.Empty() {
		return d, true
	}
	if d.At != other.At || d.Shown != nil && other.Shown != nil || slices.ContainsFunc(d.Others, func(c AwayChange) bool {
		return slices.ContainsFunc(other.Others, func(o AwayChange) bool { return c.Map == o.Map })
	}) {
		return Delta{}, false
	}
	if d.Settings != nil || other.Settings != nil { // what the other changes was computed by them
		return Delta{}, false
	}
	if len(d.PartOf) > 0 && len(other.Parts) > 0 || len(other.PartOf) > 0 && len(d.Parts) > 0 { // numbers of parts mean others
		return Delta{}, false
	}
	if !d.Wishes.apart(other.Wishes) || ids.Meet(d.Touched(m), other.Touched(m)) {
		return Delta{}, false
	}
	theirs := map[PartID]PartChange{}
	for _, c := range other.Parts {
		theirs[c.Part] = c
	}
	parts := make([]PartChange, len(d.Parts))
	for i, c := range d.Parts {
		if t, both := theirs[c.Part]; both {
			next, ok := mergeParts(c.Old, c.New, t.New)
			if !ok || c.Pieces || t.Pieces {
				return Delta{}, false
			}
			c.Old, c.New = t.New, next
		}
		parts[i] = c
	}
	d.Parts = parts
	return d, true
}

// mergeParts is a part with what each of two changed of it, if they changed different things.
func mergeParts(old, mine, theirs *Part) (*Part, bool) {
	if old == nil || mine == nil || theirs == nil {
		return nil, false
	}
	out := *mine
	return &out, mergeFields(reflect.ValueOf(*old), reflect.ValueOf(*mine), reflect.ValueOf(*theirs), reflect.ValueOf(&out).Elem())
}

// mergeFields does so field by field; those of what is embedded are its own.
func mergeFields(a, b, c, o reflect.Value) bool {
	for i := range a.NumField() {
		if a.Type().Field(i).Anonymous {
			if !mergeFields(a.Field(i), b.Field(i), c.Field(i), o.Field(i)) {
				return false
			}
			continue
		}
		was, now, other := a.Field(i).Interface(), b.Field(i).Interface(), c.Field(i).Interface()
		switch {
		case reflect.DeepEqual(was, other):
		case reflect.DeepEqual(was, now), reflect.DeepEqual(now, other):
			o.Field(i).Set(c.Field(i))
		default:
			return false
		}
	}
	return true
}

func (w WishChange) apart(v WishChange) bool {
	return (w.Rest == nil || v.Rest == nil) && !ids.Meet(w.Whole, v.Whole) && !ids.Meet(w.Held, v.Held) && !ids.Meet(w.Firm, v.Firm) && w.Marks.apart(v.Marks)
}

// Partition tells states apart by which faces make which part: in two with the same one,
// numbers of parts mean the same.
func (s *State) Partition() uint64 {
	h := fnv.New64a()
	var b [4]byte
	for _, p := range s.partOf {
		b[0], b[1], b[2], b[3] = byte(p), byte(p>>8), byte(p>>16), byte(p>>24)
		h.Write(b[:]) //nolint:errcheck // never fails
	}
	return h.Sum64()
}
