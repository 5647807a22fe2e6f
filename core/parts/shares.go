package parts

import (
	"cmp"
	"container/heap"

	"morvek/core/mesh"
)

// shares are which seed each facet of a cage goes with, none where it is too far from all, and the facet of that
// seed from which it was reached.
type shares struct {
	model       *model
	owner, root map[int]int
	seeds       map[int]bool // facets of seeds, which stay
}

// none is who owns what is too far from all seeds.
const none = -1

// shareOut gives each facet to the region from which, over the facets between, the surface bends least to it.
func (g *model) shareOut(seeds []region, scraps []int, far float64) shares {
	s := shares{g, make(map[int]int), make(map[int]int), make(map[int]bool)}
	for _, i := range scraps {
		s.owner[i] = none
	}
	q := &arrivals{}
	reach := func(from, root, seed int) {
		for _, b := range g.list[from].sides {
			if k, ok := s.owner[b.other]; !ok || k != none || !b.smooth {
				continue
			}
			if bend := s.bend(b.other, root); bend <= far {
				heap.Push(q, arrival{float32(bend), b.other, root, seed})
			}
		}
	}
	for k, r := range seeds {
		for _, i := range r.set {
			s.owner[i], s.root[i], s.seeds[i] = k, i, true
		}
	}
	for k, r := range seeds {
		for _, i := range r.set {
			reach(i, i, k)
		}
	}
	for q.Len() > 0 {
		b := heap.Pop(q).(arrival)
		if s.owner[b.facet] != none {
			continue
		}
		s.owner[b.facet], s.root[b.facet] = b.seed, b.root
		reach(b.facet, b.root, b.seed)
	}
	return s
}

// far are those of some facets that are too far from all seeds.
func (s *shares) far(set []int) (out []int) {
	for _, i := range set {
		if s.owner[i] == none {
			out = append(out, i)
		}
	}
	return out
}

// bend is the angle between two facets.
func (s *shares) bend(a, b int) float64 {
	return mesh.Angle(s.model.list[a].normal, s.model.list[b].normal)
}

// arrival is a facet that is reached from another of a seed, and how far the surface has bent by then.
type arrival struct {
	bend              float32
	facet, root, seed int
}

// arrivals pop the least bend first; ties go to the seed, then the facet that came first.
type arrivals []arrival

func (q arrivals) Len() int { return len(q) }
func (q arrivals) Less(i, j int) bool {
	a, b := q[i], q[j]
	return cmp.Or(cmp.Compare(a.bend, b.bend), cmp.Compare(a.seed, b.seed), cmp.Compare(a.facet, b.facet)) < 0
}
func (q arrivals) Swap(i, j int) { q[i], q[j] = q[j], q[i] }
func (q *arrivals) Push(x any)   { *q = append(*q, x.(arrival)) }
func (q *arrivals) Pop() any {
	last := (*q)[len(*q)-1]
	*q = (*q)[:len(*q)-1]
	return last
}
