package unroll

import (
	"container/heap"
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// Unfold lays the triangles of a patch against each other in the plane, over
// the longest edges first (a maximum spanning tree of the dual graph), and
// returns the mean place of each vertex with the largest distance between two
// places of one vertex in model units: zero up to rounding on developable
// patches.
func Unfold(p *mesh.Patch) (uv []r2.Vec, gap float64) { return unfold(p, make([]int32, len(p.Faces))) }

// unfold goes over faces of level 0 first, then from level to level, at last within the
// others; the distance is that at the corners of level 0.
func unfold(p *mesh.Patch, level []int32) (uv []r2.Vec, gap float64) {
	uv = make([]r2.Vec, len(p.Pos))
	if len(p.Tris) == 0 {
		return uv, 0
	}
	across := triangleNeighbours(p)
	place := make([][3]r2.Vec, len(p.Tris))
	done := make([]bool, len(p.Tris))
	seed := 0
	for i, t := range p.Tris {
		if a, b := level[p.TriFace[i]] == 0, level[p.TriFace[seed]] == 0; a && !b || a == b && area(p, t) > area(p, p.Tris[seed]) {
			seed = i
		}
	}
	place[seed] = own(p, p.Tris[seed])
	q := &hinges{}
	rank := func(i, k int32) int8 {
		switch a, b := level[p.TriFace[i]], level[p.TriFace[k]]; {
		case a == 0 && b == 0, p.TriFace[i] == p.TriFace[k]:
			return 0
		case a != b:
			return 1
		}
		return 2
	}
	open := func(i int32) {
		done[i] = true
		for k := range 3 {
			if o := across[i][k]; o.tri >= 0 && !done[o.tri] {
				a, b := p.Tris[i][k], p.Tris[i][(k+1)%3]
				heap.Push(q, hinge{rank(i, o.tri), r3.Norm(r3.Sub(p.Pos[a], p.Pos[b])), i, o.tri, int8(k), o.side})
			}
		}
	}
	open(int32(seed))
	for q.Len() > 0 {
		h := heap.Pop(q).(hinge)
		if done[h.to] {
			continue
		}
		t := p.Tris[h.to]
		k := int(h.toSide)
		// The neighbour runs along the hinge the other way.
		a, b := place[h.from][(int(h.fromSide)+1)%3], place[h.from][h.fromSide]
		place[h.to][k], place[h.to][(k+1)%3] = a, b
		place[h.to][(k+2)%3] = apex(p.Pos[t[k]], p.Pos[t[(k+1)%3]], p.Pos[t[(k+2)%3]], a, b)
		open(h.to)
	}
	count := make([]float64, len(p.Pos))
	lowest := make([]int32, len(p.Pos)) // level that says where a vertex is
	for v := range lowest {
		lowest[v] = math.MaxInt32
	}
	for i, t := range p.Tris {
		for _, v := range t {
			lowest[v] = min(lowest[v], level[p.TriFace[i]])
		}
	}
	for i, t := range p.Tris {
		for k, v := range t {
			if level[p.TriFace[i]] > lowest[v] {
				continue
			}
			uv[v] = r2.Add(uv[v], place[i][k])
			count[v]++
		}
	}
	for v := range uv {
		if count[v] > 0 {
			uv[v] = r2.Scale(1/count[v], uv[v])
		}
	}
	for i, t := range p.Tris {
		if level[p.TriFace[i]] > 0 {
			continue
		}
		for k, v := range t {
			gap = max(gap, 2*r2.Norm(r2.Sub(place[i][k], uv[v])))
		}
	}
	return uv, gap
}

func area(p *mesh.Patch, t [3]int32) float64 {
	return mesh.TriangleArea(p.Pos[t[0]], p.Pos[t[1]], p.Pos[t[2]])
}

// own lays a triangle in the plane, first side along U.
func own(p *mesh.Patch, t [3]int32) [3]r2.Vec {
	l := r3.Norm(r3.Sub(p.Pos[t[1]], p.Pos[t[0]]))
	q := [3]r2.Vec{{}, {X: l}}
	q[2] = apex(p.Pos[t[0]], p.Pos[t[1]], p.Pos[t[2]], q[0], q[1])
	return q
}

// apex places c to the left of a→b as it lies to pa→pb in space.
func apex(pa, pb, pc r3.Vec, a, b r2.Vec) r2.Vec {
	ab := r3.Sub(pb, pa)
	l := r3.Norm(ab)
	d := r2.Sub(b, a)
	dl := r2.Norm(d)
	if l == 0 || dl == 0 {
		return r2.Add(a, r2.Vec{Y: r3.Norm(r3.Sub(pc, pa))})
	}
	x := r3.Dot(r3.Sub(pc, pa), ab) / l
	y := r3.Norm(r3.Cross(ab, r3.Sub(pc, pa))) / l
	d = r2.Scale(1/dl, d)
	return r2.Add(a, r2.Vec{X: x*d.X - y*d.Y, Y: x*d.Y + y*d.X})
}

type neighbour struct {
	tri  int32
	side int8
}

// triangleNeighbours returns what lies across each side of each triangle,
// inside polygons and across edges that are not cut.
func triangleNeighbours(p *mesh.Patch) [][3]neighbour {
	out := make([][3]neighbour, len(p.Tris))
	type key struct{ a, b int32 }
	open := make(map[key]neighbour, 3*len(p.Tris)/2)
	for i, t := range p.Tris {
		for k := range 3 {
			out[i][k].tri = -1
			a, b := t[k], t[(k+1)%3]
			if o, ok := open[key{b, a}]; ok {
				out[i][k] = o
				out[o.tri][o.side] = neighbour{int32(i), int8(k)}
				delete(open, key{b, a})
			} else {
				open[key{a, b}] = neighbour{int32(i), int8(k)}
			}
		}
	}
	return out
}

type hinge struct {
	rank             int8 // what is laid first
	length           float64
	from, to         int32
	fromSide, toSide int8
}

type hinges []hinge

func (h hinges) Len() int { return len(h) }
func (h hinges) Less(i, j int) bool {
	if h[i].rank != h[j].rank {
		return h[i].rank < h[j].rank
	}
	if h[i].length != h[j].length {
		return h[i].length > h[j].length
	}
	return h[i].to < h[j].to
}
func (h hinges) Swap(i, j int) { h[i], h[j] = h[j], h[i] }
func (h *hinges) Push(x any)   { *h = append(*h, x.(hinge)) }
func (h *hinges) Pop() any {
	last := (*h)[len(*h)-1]
	*h = (*h)[:len(*h)-1]
	return last
}
