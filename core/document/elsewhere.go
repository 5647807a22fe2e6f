package document

// What other maps say of parts follows when parts change, though the state is not seen through
// them.

// renumberElsewhere keeps what other maps say of parts with them while these get other
// numbers, NoPart for those that are gone.
func (s *Tx) renumberElsewhere(to []PartID) {
	s.changeElsewhere(func(a *away) *away {
		out := *a
		out.Lays = nil
		for i, l := range a.Lays {
			if i < len(to) && to[i] != NoPart {
				out.Lays = append(out.Lays, l) // parts keep their order
			}
		}
		out.Lays = trimmed(out.Lays)
		return &out
	})
}

func (s *Tx) changeElsewhere(f func(*away) *away) {
	others := make([]*away, len(s.others))
	for i, a := range s.others {
		others[i] = f(a)
	}
	s.others = others
}
