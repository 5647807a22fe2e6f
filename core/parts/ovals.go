package parts

import (
	"math"
	"slices"

	"morvek/core/mesh"
)

// What a step of a coarse oval is: it bends by no more than this, the steps beside it by this share of that at the least,
// and a facet is at most so much wider than the next. An oval has no more steps than mostSteps.
const (
	ovalBend  = 57 * math.Pi / 180
	ovalShare = 0.55
	ovalStep  = 2
	mostSteps = 400
)

// soften takes creases for smooth that are the steps of a coarse oval where it is narrowest: the bends beside them,
// parallel and to the same side, are of their kind and lead to smooth ones, and so it goes on all round. A wing, which is
// sharp behind, is none.
func soften(list []facet) {
	var steps []step
	for changed := true; changed; {
		changed = false
		for i := range list {
			for k := range list[i].sides {
				if s := (step{i, k}); list[i].sides[k].other > i && isStep(list, s) {
					s.set(list, true)
					steps = append(steps, s)
					changed = true
				}
			}
		}
	}
	for changed := true; changed; {
		changed = false
		steps = slices.DeleteFunc(steps, func(s step) bool {
			sharp := !s.closes(list)
			if sharp {
				s.set(list, false)
				changed = true
			}
			return sharp
		})
	}
	for _, s := range steps {
		bend := s.side(list).bend
		for _, i := range []int{s.of, s.side(list).other} {
			list[i].bend = max(list[i].bend, bend)
		}
	}
}

// step is a side of a facet, by number.
type step struct{ of, k int }

func (s step) side(list []facet) *side { return &list[s.of].sides[s.k] }

// back is the same side seen from the other facet.
func (s step) back(list []facet) step {
	o := s.side(list).other
	return step{o, slices.IndexFunc(list[o].sides, func(t side) bool { return t.other == s.of })}
}

func (s step) set(list []facet, smooth bool) {
	s.side(list).smooth = smooth
	s.back(list).side(list).smooth = smooth
}

// next is the side across the facet from its side s, the most parallel one.
func (s step) next(list []facet) (n step, ok bool) {
	own := s.side(list)
	least := math.Pi / 4
	for k, o := range list[s.of].sides {
		apart := mesh.Angle(o.dir, own.dir)
		if apart = min(apart, math.Pi-apart); k != s.k && apart < least {
			n, ok, least = step{s.of, k}, true, apart
		}
	}
	return n, ok
}

// isStep tells whether a crease goes on as a step of an oval to both sides, on one of them smoothly.
func isStep(list []facet, s step) bool {
	own := s.side(list)
	if own.smooth || own.bend > ovalBend {
		return false
	}
	back := s.back(list)
	a, ok := s.next(list)
	b, goesOn := back.next(list)
	if !ok || !goesOn || !alikeWide(own, back.side(list)) {
		return false
	}
	for _, n := range []step{a, b} {
		if t := n.side(list); t.convex != own.convex || t.bend < ovalShare*own.bend || t.bend > ovalBend || !alikeWide(own, n.back(list).side(list)) {
			return false
		}
	}
	return (a.side(list).smooth || b.side(list).smooth) &&
		azimuth(list[a.side(list).other].normal, list[s.of].normal, list[own.other].normal) <= ovalBend
}

// alikeWide tells whether two facets are of one oval by how far they reach from the sides named.
func alikeWide(s, t *side) bool {
	return s.extent <= ovalStep*t.extent && t.extent <= ovalStep*s.extent
}

// closes tells whether one comes back to where one began by going on smoothly from side to side.
func (s step) closes(list []facet) bool {
	at := s
	for range mostSteps {
		if !at.side(list).smooth {
			return false
		}
		next, ok := at.back(list).next(list)
		if !ok {
			return false
		}
		if at = next; at.side(list).other == s.of {
			return at.side(list).smooth
		}
	}
	return false
}
