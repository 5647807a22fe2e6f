package parts

import (
	"cmp"
	"math"
	"slices"

	"morvek/core/mesh"
)

// mostExcess is how much further a row may be bent away from the seed that gets it than from its own.
const mostExcess = 35 * math.Pi / 180

// row is a run of faces along a border of two shares, from a step of the border on, and what it would cost to give
// it to the other side: the bend that is more, by area.
type row struct {
	step  mesh.HalfedgeID // of the first face
	after bool            // the border goes on along the side after it, rather than before it
	faces []mesh.FaceID
	to    int // the seed
	root  int
	cost  float64
}

// mostPasses bounds how often the borders are gone over: a row that moves may free another.
const mostPasses = 16

// straighten takes steps out of the borders of shares: where a border goes over from one row of quads to the next,
// the rest of the row up to the next step back, or to the end of the border, goes to the other side. Rows that
// cost least go first.
func (s *shares) straighten(progress func() error) error {
	m := s.model.mesh
	of := map[mesh.FaceID]int{} // facet of each face
	var movable []mesh.FaceID
	for i, k := range s.owner {
		for _, f := range s.model.list[i].faces {
			of[f] = i
			if k != none && !s.seeds[i] {
				movable = append(movable, f)
			}
		}
	}
	slices.Sort(movable)
	for range mostPasses {
		var rows []row
		for k, f := range movable {
			if k%1024 == 0 {
				if err := progress(); err != nil {
					return err
				}
			}
			lo, hi := m.Corners(f)
			for h := lo; h < hi; h++ {
				for _, after := range []bool{true, false} {
					if r, ok := s.rowFrom(f, h, after, of); ok {
						rows = append(rows, r)
					}
				}
			}
		}
		slices.SortStableFunc(rows, func(a, b row) int { return cmp.Compare(a.cost, b.cost) })
		for _, r := range rows {
			r, ok := s.rowFrom(r.faces[0], r.step, r.after, of) // the borders may run otherwise by now
			if !ok {
				continue
			}
			for _, f := range r.faces {
				s.owner[of[f]], s.root[of[f]] = r.to, r.root
			}
		}
		if len(rows) == 0 {
			return nil
		}
	}
	return nil
}

// rowFrom follows the row of quads that begins at a step, side h of face f. It tells whether the border is straighter without the row.
func (s *shares) rowFrom(f mesh.FaceID, h mesh.HalfedgeID, after bool, of map[mesh.FaceID]int) (row, bool) {
	m := s.model.mesh
	across := func(h mesh.HalfedgeID) (facet int, ok bool) {
		t := m.Twin(h)
		if t == mesh.None {
			return 0, false
		}
		facet, ok = of[m.FaceOf(t)]
		return facet, ok
	}
	side := func(h mesh.HalfedgeID) mesh.HalfedgeID {
		if after {
			return m.Next(h)
		}
		return m.Prev(h)
	}
	from := s.owner[of[f]]
	beside, ok := across(h)
	if !ok || s.owner[beside] == from || s.owner[beside] == none {
		return row{}, false
	}
	r := row{step: h, after: after, to: s.owner[beside]}
	in := map[int]int{} // faces of each facet
	var area float64
	for {
		i := of[f]
		if lo, hi := m.Corners(f); hi-lo != 4 || s.seeds[i] {
			return row{}, false
		}
		if beside, ok = across(side(h)); !ok || s.owner[beside] != r.to {
			return row{}, false
		}
		if len(r.faces) == 0 {
			r.root = s.root[beside]
		}
		r.faces = append(r.faces, f)
		in[i]++
		a := m.FaceAreas()[f]
		area += a
		r.cost += a * (s.bend(i, r.root) - s.bend(i, s.root[i]))
		opposite := m.Next(m.Next(h))
		next, ok := across(opposite)
		if !ok || s.owner[next] != from {
			break
		}
		h = m.Twin(opposite)
		if f = m.FaceOf(h); f == r.faces[0] {
			return row{}, false
		}
	}
	for i, n := range in {
		if n < len(s.model.list[i].faces) {
			return row{}, false
		}
	}
	return r, r.cost <= mostExcess*area
}
