package document

// What other maps say of parts follows when parts change, though the state is not seen through
// them.

// renumberElsewhere keeps what other maps say of parts with them while these get other
// numbers, NoPart for those that are gone.
func (s *Tx) renumberElsewhere(to []PartID, moved func(*PartID) *PartID) {
	s.changeElsewhere(func(a *away) *away {
		out := *a
		out.Lays = nil
		for i, l := range a.Lays {
			if i < len(to) && to[i] != NoPart {
				l.StackedOn = moved(l.StackedOn)
				out.Lays = append(out.Lays, l) // parts keep their order
			}
		}
		out.Lays = trimmed(out.Lays)
		return &out
	})
}

// unstackElsewhere takes a part out of its stack in the other maps, and those that lie on it.
func (s *Tx) unstackElsewhere(p PartID) {
	s.changeElsewhere(func(a *away) *away {
		loose := map[PartID]Lay{}
		for i, l := range a.Lays {
			if l.StackedOn != nil && (PartID(i) == p || *l.StackedOn == p) {
				l.StackedOn = nil
				loose[PartID(i)] = l
			}
		}
		if len(loose) == 0 {
			return a
		}
		return a.with(loose)
	})
}

func (s *Tx) changeElsewhere(f func(*away) *away) {
	others := make([]*away, len(s.others))
	for i, a := range s.others {
		others[i] = f(a)
	}
	s.others = others
}
