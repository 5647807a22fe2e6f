package flow

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/unroll"
)

// Line is a run of edges of a shell that goes on straight: an edge loop of quads, from
// end to end or closed, or a stretch of the border between corners.
type Line struct {
	Verts  []int32 // of the patch, in order; the first is not repeated if it is closed
	Closed bool
	Border bool
}

// grid is the edges of a patch as they hang together at points: those of its polygons,
// with triangles that are halves of quads put together.
type grid struct {
	p     *mesh.Patch
	ends  [][2]int32 // of each edge
	sides []int      // polygons beside each edge: 1 on the border
	next  [][2]int32 // edge that goes on at the first and at the second end, or none
}

const none = -1

// straightBorder is how far the angle of a border point may be from a straight one for
// the border to go on there.
const straightBorder = 30 * math.Pi / 180

// lines traces the lines of a patch, in order of their first edge.
func lines(p *mesh.Patch) []Line {
	g := newGrid(p)
	done := make([]bool, len(g.ends))
	var out []Line
	for e := range g.ends {
		if done[e] {
			continue
		}
		// Back to the start of the line, or around it once.
		first, end := int32(e), 0
		for k := 0; k <= len(g.ends); k++ {
			n := g.next[first][end]
			if n == none || n == int32(e) {
				break
			}
			end = g.far(n, g.ends[first][end])
			first = n
		}
		l := Line{Border: g.sides[e] == 1, Verts: []int32{g.ends[first][end]}}
		for at := first; ; {
			done[at] = true
			end = 1 - end
			v := g.ends[at][end]
			n := g.next[at][end]
			if n != none && n == first {
				l.Closed = true
				break
			}
			l.Verts = append(l.Verts, v)
			if n == none || done[n] {
				break
			}
			end = g.near(n, v)
			at = n
		}
		out = append(out, l)
	}
	return out
}

// near returns which end of an edge a vertex is, far the other one.
func (g *grid) near(e, v int32) int {
	if g.ends[e][0] == v {
		return 0
	}
	return 1
}
func (g *grid) far(e, v int32) int { return 1 - g.near(e, v) }

func newGrid(p *mesh.Patch) *grid {
	g := &grid{p: p}
	polys := unroll.Polygons(p)
	type key struct{ a, b int32 }
	index := make(map[key]int32)
	id := func(a, b int32) int32 {
		k := key{min(a, b), max(a, b)}
		e, ok := index[k]
		if !ok {
			e = int32(len(g.ends))
			index[k] = e
			g.ends = append(g.ends, [2]int32{k.a, k.b})
			g.sides = append(g.sides, 0)
		}
		return e
	}
	// Around each vertex: the edge that comes in on a polygon leads to the one that goes
	// out of it.
	type spoke struct{ in, out int32 }
	around := make([][]spoke, len(p.Pos))
	angle := make([]float64, len(p.Pos))
	for _, q := range polys {
		for k, v := range q {
			before, after := q[(k+len(q)-1)%len(q)], q[(k+1)%len(q)]
			around[v] = append(around[v], spoke{id(before, v), id(v, after)})
			g.sides[id(v, after)]++
			angle[v] += mesh.Angle(r3.Sub(p.Pos[before], p.Pos[v]), r3.Sub(p.Pos[after], p.Pos[v]))
		}
	}
	g.next = make([][2]int32, len(g.ends))
	for e := range g.next {
		g.next[e] = [2]int32{none, none}
	}
	tie := func(v, a, b int32) {
		g.next[a][g.near(a, v)], g.next[b][g.near(b, v)] = b, a
	}
	for v, list := range around {
		v := int32(v)
		// Go around from a border edge, or from anywhere inside.
		out := make(map[int32]int32, len(list)) // from the edge that goes out to the one before
		starts := make(map[int32]bool, len(list))
		for _, s := range list {
			out[s.out] = s.in
			starts[s.out] = true
		}
		for _, s := range list {
			delete(starts, s.in)
		}
		if len(starts) > 1 || len(list) == 0 {
			continue // pinched
		}
		var ring []int32
		e := list[0].out
		for s := range starts {
			e = s
		}
		ring = append(ring, e)
		for range list {
			n, ok := out[e]
			if !ok || n == ring[0] {
				break
			}
			ring = append(ring, n)
			e = n
		}
		switch {
		case len(starts) == 0 && len(ring) == 4:
			tie(v, ring[0], ring[2])
			tie(v, ring[1], ring[3])
		case len(starts) == 1 && len(ring) >= 2 && math.Abs(angle[v]-math.Pi) < straightBorder:
			tie(v, ring[0], ring[len(ring)-1])
		}
	}
	return g
}
