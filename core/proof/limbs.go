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

// cornerPairs is how many pairs of corners are looked at in a shell.
const cornerPairs = 40

// limb is a border edge of a shell with its place along the border.
type limb struct {
	face       mesh.FaceID
	loop       int
	at, length float64 // from where the loop begins to where it does; of the whole loop
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
		p, q, _ := nearestOf(segs[g.A], segs[g.B])
		arc := math.Abs(a.at + r2.Norm(r2.Sub(p, segs[g.A].A)) - b.at - r2.Norm(r2.Sub(q, segs[g.B].A)))
		return min(arc, a.length-arc) < limbArc*limit
	})
	slices.SortFunc(close, func(a, b planar.Gap) int {
		return cmp.Or(cmp.Compare(a.Distance, b.Distance), cmp.Compare(a.A, b.A), cmp.Compare(a.B, b.B))
	})
	out := outer{in: in, faces: faces, up: facing(in, faces)}
	for _, g := range close {
		if out.between(segs[g.A], segs[g.B]) {
			return g.Distance, []mesh.FaceID{list[g.A].face, list[g.B].face}
		}
	}
	return math.Inf(1), nil
}

// outer tells what lies outside a shell.
type outer struct {
	in    Input
	faces []mesh.FaceID
	up    float64
	tris  []planar.Triangle
	asked int
}

// between tells whether the shortest way between two border edges leads outside the shell, which
// lies on their left where it faces up. From corner to corner it is looked at, some times, whether
// the middle of the way lies in a triangle.
func (o *outer) between(a, b planar.Segment) bool {
	p, q, on := nearestOf(a, b)
	switch on {
	case 1:
		return o.up*r2.Cross(r2.Sub(a.B, a.A), r2.Sub(q, p)) < 0
	case 2:
		return o.up*r2.Cross(r2.Sub(b.B, b.A), r2.Sub(p, q)) < 0
	}
	if o.asked++; o.asked > cornerPairs {
		return false
	}
	if o.tris == nil {
		o.tris = o.in.Map.Triangles(o.faces)
	}
	return !covers(o.tris, r2.Scale(0.5, r2.Add(p, q)))
}

// facing is 1 for a shell that faces up, -1 for one that lies face down.
func facing(in Input, faces []mesh.FaceID) float64 {
	var area float64
	for _, t := range in.Map.Triangles(faces) {
		area += t.Area()
	}
	return math.Copysign(1, area)
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
			list[i].loop, list[i].at = first, length
			length += l
			loop = append(loop, i)
		}
		for _, i := range loop {
			list[i].length = length
		}
	}
	return list, segs
}

// nearestOf are the places of two segments that are nearest to each other, where they do not cross,
// and within which of them such a place lies: the first, the second, or 0 for two ends.
func nearestOf(a, b planar.Segment) (p, q r2.Vec, within int) {
	least := math.Inf(1)
	try := func(at r2.Vec, s planar.Segment, number int) {
		on, inner := planar.Nearest(at, s.A, s.B)
		away := r2.Norm(r2.Sub(on, at))
		if away > least || away == least && !inner {
			return
		}
		if least, within = away, 0; inner {
			within = number
		}
		if p, q = at, on; number == 1 {
			p, q = on, at
		}
	}
	try(a.A, b, 2)
	try(a.B, b, 2)
	try(b.A, a, 1)
	try(b.B, a, 1)
	return p, q, within
}

// covers tells whether a place lies in one of some triangles.
func covers(tris []planar.Triangle, q r2.Vec) bool {
	return slices.ContainsFunc(tris, func(t planar.Triangle) bool {
		var up, down bool
		for k := range 3 {
			c := r2.Cross(r2.Sub(t[(k+1)%3], t[k]), r2.Sub(q, t[k]))
			up, down = up || c > 0, down || c < 0
		}
		return !(up && down)
	})
}
