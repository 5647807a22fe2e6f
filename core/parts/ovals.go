package parts

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// What a step of a coarse oval is: it bends by no more than this, the steps beside it by this share of that at the least,
// and a facet is at most so much wider than the next. An oval has no more steps than mostSteps.
const (
	ovalBend  = 57 * math.Pi / 180
	ovalShare = 0.55
	ovalStep  = 2
	diagonal  = 0.3
	mostSteps = 400
	stepSides = 64
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

// next is the side across the facet from its side s, the most parallel one; beyond the diagonal, which hardly bends,
// if a twisted facet is two triangles.
func (s step) next(list []facet) (n step, ok bool) {
	n, ok = s.across(list, s.of, s.side(list).other)
	if ok && n.side(list).bend >= diagonal*s.side(list).bend || len(list[s.of].sides) > 3 {
		return n, ok
	}
	least := math.Inf(1)
	for _, d := range list[s.of].sides {
		if a := apart(d.dir, s.side(list).dir); d.other != s.side(list).other && a < least && d.bend < diagonal*s.side(list).bend {
			if half, found := s.across(list, d.other, s.of); found {
				n, ok, least = half, true, a
			}
		}
	}
	return n, ok
}

// across is the side of a facet most parallel to s, of those away from another facet.
func (s step) across(list []facet, of, from int) (n step, ok bool) {
	least := math.Pi / 4
	along := mesh.Unit(s.side(list).dir)
	to := func(other int) r3.Vec { // across s
		d := r3.Sub(list[other].centre, list[of].centre)
		return r3.Sub(d, r3.Scale(r3.Dot(d, along), along))
	}
	near := to(from)
	for k, o := range list[of].sides {
		if a := apart(o.dir, along); a < least && r3.Dot(to(o.other), near) < 0 {
			n, ok, least = step{of, k}, true, a
		}
	}
	return n, ok
}

// apart is the angle between two lines, radians.
func apart(a, b r3.Vec) float64 {
	t := mesh.Angle(a, b)
	return min(t, math.Pi-t)
}

// wide is how wide a facet is across its side s: its area by the length of what runs along that, the diagonal aside.
func (s step) wide(list []facet) float64 {
	own := s.side(list)
	var long float64
	for _, o := range list[s.of].sides {
		if apart(o.dir, own.dir) < math.Pi/4 && o.bend >= diagonal*own.bend {
			long += o.length
		}
	}
	return 2 * list[s.of].area / max(long, 1e-300)
}

// isStep tells whether a crease goes on as a step of an oval to both sides, on one of them smoothly.
func isStep(list []facet, s step) bool {
	own := s.side(list)
	lid := func(i int) bool { return len(list[i].sides) > stepSides }
	if own.smooth || own.bend > ovalBend || lid(s.of) || lid(own.other) {
		return false
	}
	back := s.back(list)
	a, ok := s.next(list)
	b, goesOn := back.next(list)
	if !ok || !goesOn || !alikeWide(s.wide(list), back.wide(list)) {
		return false
	}
	for _, n := range []step{a, b} {
		if t := n.side(list); t.convex != own.convex || t.bend < ovalShare*own.bend || t.bend > ovalBend || lid(t.other) || !alikeWide(s.wide(list), n.back(list).wide(list)) {
			return false
		}
	}
	return (a.side(list).smooth || b.side(list).smooth) &&
		azimuth(list[a.side(list).other].normal, list[s.of].normal, list[own.other].normal) <= ovalBend
}

// alikeWide tells whether two facets are of one oval by how far they reach.
func alikeWide(a, b float64) bool { return a <= ovalStep*b && b <= ovalStep*a }

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
		if at = next; at.side(list).other == s.of || at.of == s.of {
			return at.side(list).smooth
		}
	}
	return false
}
