package flatten

import "morvek/core/sparse"

// system collects a symmetric system over all coordinates and keeps what is left of it
// for the free ones.
type system struct {
	r *reduced
	b *sparse.Builder
	// known is what held coordinates add to the right-hand side.
	known []float64
}

func newSystem(r *reduced, hint int) *system {
	s := &system{r: r, b: sparse.NewBuilder(r.free, hint+r.free), known: make([]float64, r.free)}
	for i := range r.free {
		s.b.Add(i, i, 0) // a vertex of thin triangles only still has a place in the pattern
	}
	return s
}

// add adds v at (i, j) and, for i ≠ j, at (j, i).
func (s *system) add(i, j int, v float64) {
	a, b := s.r.index[i], s.r.index[j]
	switch {
	case a >= 0 && b >= 0:
		if a == b && i != j {
			v *= 2
		}
		s.b.Add(int(a), int(b), v)
	case a >= 0:
		s.known[a] -= v * s.r.value[j]
	case b >= 0:
		s.known[b] -= v * s.r.value[i]
	}
}

// gather adds up a right-hand side over all coordinates for the unknowns.
func (r *reduced) gather(full, known []float64) []float64 {
	out := append([]float64(nil), known...)
	for i, k := range r.index {
		if k >= 0 {
			out[k] += full[i]
		}
	}
	return out
}
