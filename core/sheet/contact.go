package sheet

import (
	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// rimEdge is an edge of an outline about the middle of its shell, in model units, and where the
// edge before it begins.
type rimEdge struct{ a, b, before r2.Vec }

// ahead tells whether what lies in some direction from where an edge begins lies before one of
// the two edges there rather than before the corner.
func (e *rimEdge) ahead(w r2.Vec) bool {
	return r2.Dot(w, r2.Sub(e.b, e.a)) > 0 || r2.Dot(w, r2.Sub(e.before, e.a)) > 0
}

// rimAbout is the outline of a shell in the turn of a placement about the middle of its box, half
// the size of that, and its middle, in model units.
func (p *packer) rimAbout(i int, at Placement) (rim []rimEdge, half, middle r2.Vec) {
	edges := p.shells[i].rim
	if edges == nil {
		for _, t := range p.shells[i].Tris {
			edges = append(edges, [2]r2.Vec{t[0], t[1]}, [2]r2.Vec{t[1], t[2]}, [2]r2.Vec{t[2], t[0]})
		}
	}
	if len(edges) == 0 {
		return nil, r2.Vec{}, r2.Vec{}
	}
	turned := Placement{Turn: at.Turn, Quarter: at.Quarter, Scale: 1}
	box := planar.Bounds(turned.Apply(edges[0][0]))
	rim = make([]rimEdge, len(edges))
	for k, e := range edges {
		rim[k] = rimEdge{a: turned.Apply(e[0]), b: turned.Apply(e[1])}
		box = planar.Bounds(box.Min, box.Max, rim[k].a, rim[k].b)
	}
	m := box.Middle()
	if p.shells[i].rim != nil {
		rim = straightened(rim, rimSlack/at.Scale)
	}
	linked(rim)
	for k, e := range rim {
		rim[k] = rimEdge{r2.Sub(e.a, m), r2.Sub(e.b, m), r2.Sub(e.before, m)}
	}
	return rim, r2.Scale(0.5, box.Size()), m
}

// linked notes for each edge of an outline where the one before it begins.
func linked(rim []rimEdge) {
	before := make(map[r2.Vec]r2.Vec, len(rim))
	for _, e := range rim {
		before[e.b] = e.a
	}
	for k, e := range rim {
		prev, ok := before[e.a]
		if !ok {
			prev = e.a
		}
		rim[k].before = prev
	}
}

// contact keeps two shells apart along a direction from b to a: n·(mid a − mid b) + arm·scale −
// past is the gap at the least. Where b is the ground, mid b is 0.
type contact struct {
	a, b int32
	n    r2.Vec
	arm  float64
	past float64
}

// onGround is the group of what stays where it is.
const onGround = -1

// contactReach is how near beyond the gap, in tiles, shells may come into each other's way.
const contactReach = 0.004

// contacts lists what may come into each other's way: corners and the edges they lie before, and
// corners that face each other.
func (c *compactor) contacts(mid []r2.Vec, scale float64) (list []contact) {
	segs, of := c.segments(mid, scale)
	reach := c.gap + contactReach
	last := make([]int32, len(segs))   // contact of an edge, from 1
	deep := max(c.gap, contactReach/2) // what lies deeper is on the other side of something thin
	between := func(i, j int32, n r2.Vec) contact {
		if segs[i].Group == onGround {
			i, j, n = j, i, r2.Scale(-1, n)
		}
		k := contact{a: segs[i].Group, b: segs[j].Group, n: n, arm: r2.Dot(n, of[i].a)}
		if past := r2.Dot(n, of[j].a); k.b == onGround {
			k.past = past
		} else {
			k.arm -= past
		}
		return k
	}
	before := func(i, j int32, n r2.Vec) { // of the corners of a shell before an edge the nearest is in the way of all others
		k := between(i, j, n)
		if at := last[j] - 1; at >= 0 && list[at].a == k.a && list[at].b == k.b {
			if scale*k.arm-k.past < scale*list[at].arm-list[at].past {
				list[at] = k
			}
			return
		}
		list = append(list, k)
		last[j] = int32(len(list))
	}
	corner := func(i, j int32) { // where i begins, against the edge j and where that begins
		along, w := r2.Sub(segs[j].B, segs[j].A), r2.Sub(segs[i].A, segs[j].A)
		l := r2.Norm(along)
		if l == 0 {
			return
		}
		switch at := r2.Dot(w, along); {
		case at >= 0 && at <= l*l:
			n := r2.Vec{X: along.Y / l, Y: -along.X / l}
			if away := r2.Dot(n, w); away > -deep && away < reach && (away > c.gap/2 || !c.behind(segs[i].Group, mid, scale, segs[j], n, deep)) {
				before(i, j, n)
			}
		case at < 0 && i < j:
			far := r2.Norm(w)
			if far > 0 && far < reach && !of[j].ahead(w) && !of[i].ahead(r2.Scale(-1, w)) {
				list = append(list, between(i, j, r2.Scale(1/far, w)))
			}
		}
	}
	planar.EachNear(segs, reach, func(i, j int32) {
		corner(i, j)
		corner(j, i)
	})
	return list
}

// behind tells whether some corner of a shell lies deep behind an edge: what overlaps a little near
// a corner of the edge's shell gets out of its way another way.
func (c *compactor) behind(shell int32, mid []r2.Vec, scale float64, edge planar.Segment, n r2.Vec, deep float64) bool {
	if shell == onGround {
		return false
	}
	along := r2.Sub(edge.B, edge.A)
	for _, e := range c.rims[shell] {
		w := r2.Sub(r2.Add(mid[shell], r2.Scale(scale, e.a)), edge.A)
		if at := r2.Dot(w, along); at >= 0 && at <= r2.Norm2(along) && r2.Dot(n, w) < -deep {
			return true
		}
	}
	return false
}
