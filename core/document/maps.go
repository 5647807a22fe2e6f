package document

import (
	"cmp"
	"slices"
)

// Maps lists the maps of the document, ascending.
func (s *State) Maps() []MapHead {
	out := []MapHead{s.Shown}
	for _, a := range s.others {
		out = append(out, a.MapHead)
	}
	slices.SortFunc(out, func(a, b MapHead) int { return cmp.Compare(a.ID, b.ID) })
	return out
}

// HasMap tells whether there is a map.
func (s *State) HasMap(id MapID) bool {
	return s.Shown.ID == id || s.other(id) != nil
}

func (s *State) other(id MapID) *away {
	for _, a := range s.others {
		if a.ID == id {
			return a
		}
	}
	return nil
}

// away is the map a state is seen through, as it is kept while it is not.
func (s *State) away() *away {
	a := &away{AwayHead: AwayHead{s.Shown, s.Settings.OnSheet}, Marks: s.Wishes.Marks, Map: s.Map, Lays: make([]Lay, len(s.Parts))}
	for i, p := range s.Parts {
		a.Lays[i] = p.Lay
	}
	a.Lays = trimmed(a.Lays)
	return a
}

// Through returns the same state seen through another map, or false if there is none such.
// Nothing is known in it of what was before.
func (s *State) Through(id MapID) (*State, bool) {
	if s.Shown.ID == id {
		return s, true
	}
	to := s.other(id)
	if to == nil {
		return nil, false
	}
	return s.through(to, ordered(append(without(s.others, id), s.away()))), true
}

// through is the state seen through a map, beside others.
func (s *State) through(to *away, others []*away) *State {
	out := &State{Settings: s.Settings, Parts: slices.Clone(s.Parts), partOf: s.partOf, groups: s.groups, Map: to.Map, Shown: to.MapHead, Wishes: s.Wishes, others: others}
	out.Settings.OnSheet, out.Wishes.Marks = to.OnSheet, to.Marks
	for i, p := range out.Parts {
		if l := to.lay(i); !l.same(p.Lay) {
			own := *p
			own.Lay = l
			out.Parts[i] = &own
		}
	}
	return out
}

func without(list []*away, id MapID) []*away {
	return slices.DeleteFunc(slices.Clone(list), func(a *away) bool { return a.ID == id })
}

func ordered(list []*away) []*away {
	slices.SortFunc(list, func(a, b *away) int { return cmp.Compare(a.ID, b.ID) })
	return list
}
