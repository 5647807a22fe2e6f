package seam

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
)

// A lane that bends is looked at in slots along it, in directions modulo a half turn.
const (
	slots      = 36
	directions = 72
)

// What a piece of a bent lane costs beside its own area: the empty part of its box, what
// lies off its grain, and being longer or shorter than the others.
const (
	emptyCost   = 0.5
	offCost     = 2
	unevenCost  = 0.03
	offBy       = 3 // directions, 2.5° each
	leastPiece  = 0.35
	betterShare = 0.05 // of all area, for places other than equal ones
)

// turns tells whether the grain of a shell turns so much that it is laid along its bends.
func (l *Lane) turns() bool {
	if l.grain == nil {
		return false
	}
	s := newSlot()
	var all float64
	for f := range l.patch.Faces {
		a := l.area(f)
		s.wish(l.grain[f], a)
		all += a
	}
	_, off := s.grainOff()
	return off > 0.15*all
}

// places returns where a lane is cut into n pieces: evenly, or where a bent one leaves
// pieces that fill their boxes and have one grain. A ring is cut as often as it has pieces,
// one place maybe 0.
func (l *Lane) places(n int) (at []float64) {
	cuts, shifts := n-1, 1
	if l.start != nil {
		cuts, shifts = n, slots
	}
	for i := n - cuts; i < n; i++ {
		at = append(at, l.Length*float64(i)/float64(n))
	}
	if !l.bends || n > slots/3 {
		return at
	}
	if l.costs == nil {
		l.costs = l.slotCosts()
	}
	even := 0.0
	for i := range n { // as even as slots allow
		even += l.costs[i*slots/n][(i+1)*slots/n-i*slots/n]
	}
	best := even - betterShare
	for shift := range shifts {
		if to, cost := l.cheapest(n, shift); cost < best {
			best = cost
			at = at[:0]
			for _, s := range to[n-cuts:] {
				at = append(at, l.between((s+shift)%slots))
			}
		}
	}
	return at
}

// between returns the place where a piece begins with a slot: the middle of the slots around
// it that hold nothing, since on large faces there is no telling where in between.
func (l *Lane) between(slot int) float64 {
	if slot == 0 {
		return 0
	}
	lo, hi := slot, slot
	for lo > 1 && l.empty[lo-1] {
		lo--
	}
	for hi < slots-1 && l.empty[hi] {
		hi++
	}
	return l.Length * float64(lo+hi) / (2 * slots)
}

// cheapest returns the slots that n pieces begin at, and what they cost, when slots are
// counted from one of them: dynamic programming over the slots a piece ends at.
func (l *Lane) cheapest(n, shift int) (starts []int, cost float64) {
	best := make([][slots + 1]float64, n+1)
	from := make([][slots + 1]int, n+1)
	for k := range best {
		for s := range best[k] {
			best[k][s] = math.Inf(1)
		}
	}
	best[0][0] = 0
	least := int(math.Ceil(leastPiece * slots / float64(n)))
	for k := 1; k <= n; k++ {
		for to := least; to <= slots; to++ {
			for at := 0; at <= to-least; at++ {
				x := float64((to-at)*n)/slots - 1
				if c := best[k-1][at] + l.costs[(at+shift)%slots][to-at] + unevenCost*x*x; c < best[k][to]-1e-12 {
					best[k][to], from[k][to] = c, at
				}
			}
		}
	}
	starts = make([]int, n)
	for k, s := n, slots; k > 0; k-- {
		s = from[k][s]
		starts[k-1] = s
	}
	return starts, best[n][slots]
}

// slotCosts returns what a piece from a slot on costs that has so many slots, as a share of
// all area; those of a ring go on past its start.
func (l *Lane) slotCosts() *[slots][slots + 1]float64 {
	each := make([]*slot, slots)
	for k := range each {
		each[k] = newSlot()
	}
	var all float64
	for f := range l.patch.Faces {
		s := each[min(slots-1, max(0, int(l.along[f]/l.Length*slots)))]
		a := l.area(f)
		all += a
		s.area += a
		if l.grain != nil {
			s.wish(l.grain[f], a)
		}
		for _, v := range l.patch.CornerVert[l.patch.FaceStart[f]:l.patch.FaceStart[f+1]] {
			s.reach(l.uv[v])
		}
	}
	for k, s := range each {
		l.empty[k] = s.area == 0
	}
	var out [slots][slots + 1]float64
	for from := range slots {
		piece := newSlot()
		for n := 1; n <= slots && (from+n <= slots || l.start != nil); n++ {
			piece.add(each[(from+n-1)%slots])
			box, off := piece.box()
			out[from][n] = (emptyCost*max(0, box-piece.area) + offCost*off) / all
		}
	}
	return &out
}

func (l *Lane) area(f int) float64 { return l.patch.Mesh.FaceAreas()[l.patch.Faces[f]] }

// slot is a part of a lane: its area, by the direction of its grain, and how far it reaches.
type slot struct {
	area   float64
	wished [directions]float64
	lo, hi [directions]float64
}

var axes = func() (out [directions]r2.Vec) {
	for k := range out {
		s, c := math.Sincos(math.Pi * float64(k) / directions)
		out[k] = r2.Vec{X: c, Y: s}
	}
	return out
}()

func newSlot() *slot {
	s := new(slot)
	for k := range s.lo {
		s.lo[k], s.hi[k] = math.Inf(1), math.Inf(-1)
	}
	return s
}

func (s *slot) reach(q r2.Vec) {
	for k, a := range axes {
		d := r2.Dot(a, q)
		s.lo[k], s.hi[k] = min(s.lo[k], d), max(s.hi[k], d)
	}
}

func (s *slot) wish(angle, area float64) {
	if !math.IsNaN(angle) {
		k := int(math.Round(angle / math.Pi * directions))
		s.wished[(k%directions+directions)%directions] += area
	}
}

func (s *slot) add(o *slot) {
	s.area += o.area
	for k := range s.lo {
		s.lo[k], s.hi[k] = min(s.lo[k], o.lo[k]), max(s.hi[k], o.hi[k])
		s.wished[k] += o.wished[k]
	}
}

// grainOff returns the direction that most of the grain has, and the area that is off it;
// -1 where there is none.
func (s *slot) grainOff() (best int, off float64) {
	best = -1
	var all, most float64
	for k, a := range s.wished {
		all += a
		near := a
		for j := 1; j <= offBy; j++ {
			near += s.wished[(k+j)%directions] + s.wished[(k+directions-j)%directions]
		}
		if near > most*(1+1e-9) {
			best, most = k, near
		}
	}
	return best, all - most
}

// box returns the area of the box a piece lies in, turned to its grain or, without one,
// as suits it, and the area off the grain.
func (s *slot) box() (area, off float64) {
	k, off := s.grainOff()
	size := func(k int) float64 {
		m := (k + directions/2) % directions
		return max(0, s.hi[k]-s.lo[k]) * max(0, s.hi[m]-s.lo[m])
	}
	if k >= 0 {
		return size(k), off
	}
	area = math.Inf(1)
	for k := range directions / 2 {
		area = min(area, size(k))
	}
	return area, 0
}
