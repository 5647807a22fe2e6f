package proof

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
	"morvek/core/planar"
)

// limbArc is how many paddings places of a border are apart along it before they count as limbs:
// beside a corner everything is near.
const limbArc = 8

// limb is a border edge of a shell with its place along the border.
type limb struct {
	face       mesh.FaceID
	loop       int
	at, length float64 // from where the loop begins to its middle; of the whole loop
	next       mesh.HalfedgeID
}

// limbs is the least distance, in sheet units, at which two limbs of a shell face each other below
// the padding, and where; +Inf for none.
func limbs(in Input, faces []mesh.FaceID) (least float64, at []mesh.FaceID) {
	limit := in.Sheet.Padding / float64(in.Sheet.Size) * (1 - 1e-9)
	if !(limit > 0) {
		return math.Inf(1), nil
	}
	list, segs := borderInOrder(in, faces)
	_, close := planar.GapsWithin(segs, limit)
	close = slices.DeleteFunc(close, func(g planar.Gap) bool {
		a, b := list[g.A], list[g.B]
		if a.loop != b.loop {
			return true // the shell itself lies between
		}
		arc := math.Abs(a.at - b.at)
		return min(arc, a.length-arc) < limbArc*limit
	})
	slices.SortFunc(close, func(a, b planar.Gap) int {
		return cmp.Or(cmp.Compare(a.Distance, b.Distance), cmp.Compare(a.A, b.A), cmp.Compare(a.B, b.B))
	})
	up := facing(in, faces)
	for _, g := range close {
		p, q := nearestOf(segs[g.A], segs[g.B])
		if beyond(segs[g.A], q, p, up) && beyond(segs[g.B], p, q, up) {
			return g.Distance, []mesh.FaceID{list[g.A].face, list[g.B].face}
		}
	}
	return math.Inf(1), nil
}

// facing is 1 for a shell that faces up, -1 for one that lies face down.
func facing(in Input, faces []mesh.FaceID) float64 {
	var area float64
	for _, t := range in.Map.Triangles(faces) {
		area += t.Area()
	}
	return math.Copysign(1, area)
}

// beyond tells whether the way from a place of a border edge leads out of the shell, which lies on
// the left of the edge where it faces up.
func beyond(s planar.Segment, to, from r2.Vec, up float64) bool {
	return up*r2.Cross(r2.Sub(s.B, s.A), r2.Sub(to, from)) < 0
}

// borderInOrder lists the border edges of a shell with their places along the loops they form.
func borderInOrder(in Input, faces []mesh.FaceID) (list []limb, segs []planar.Segment) {
	m := in.Mesh
	ends := func(h mesh.HalfedgeID) bool { return m.Twin(h) == mesh.None || in.Map.Ends(m.Edge(h)) }
	number := map[mesh.HalfedgeID]int{}
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			if !ends(h) {
				continue
			}
			number[h] = len(list)
			next := m.Next(h)
			for !ends(next) {
				next = m.Next(m.Twin(next))
			}
			list = append(list, limb{face: f, loop: -1, next: next})
			segs = append(segs, planar.Segment{A: in.Map.At(h), B: in.Map.At(m.Next(h)), Group: int32(len(segs))})
		}
	}
	for first := range list {
		if list[first].loop >= 0 {
			continue
		}
		var loop []int
		length := 0.
		for i, ok := first, true; ok && list[i].loop < 0; i, ok = number[list[i].next] {
			l := r2.Norm(r2.Sub(segs[i].B, segs[i].A))
			list[i].loop, list[i].at = first, length+l/2
			length += l
			loop = append(loop, i)
		}
		for _, i := range loop {
			list[i].length = length
		}
	}
	return list, segs
}

// nearestOf are the places of two segments that are nearest to each other, where they do not cross.
func nearestOf(a, b planar.Segment) (p, q r2.Vec) {
	least := math.Inf(1)
	try := func(at r2.Vec, s planar.Segment, swapped bool) {
		d := r2.Sub(s.B, s.A)
		t := 0.
		if l := r2.Norm2(d); l > 0 {
			t = max(0, min(1, r2.Dot(r2.Sub(at, s.A), d)/l))
		}
		on := r2.Add(s.A, r2.Scale(t, d))
		if away := r2.Norm(r2.Sub(on, at)); away < least {
			if least, p, q = away, at, on; swapped {
				p, q = on, at
			}
		}
	}
	try(a.A, b, false)
	try(a.B, b, false)
	try(b.A, a, true)
	try(b.B, a, true)
	return p, q
}
