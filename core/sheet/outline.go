package sheet

import (
	"math"
	"math/bits"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// outline returns the edges of triangles that are not shared by two of them, in the sense
// of the triangles; ok is false if some are turned over, so that the edges do not tell
// inside from outside.
func outline(tris []planar.Triangle) (edges [][2]r2.Vec, ok bool) {
	up, down := false, false
	for _, t := range tris {
		a := t.Area()
		up, down = up || a > 0, down || a < 0
	}
	if up && down {
		return nil, false
	}
	net := newEdgeNet(tris)
	for e := range net.of { // in order, so that the result is always the same
		for net.takeOpen(e) {
			edges = append(edges, net.edge(e))
		}
	}
	return edges, true
}

// edgeNet counts how often each edge of triangles runs one way more than the other. Edge e is the
// one from corner e%3 of triangle e/3.
type edgeNet struct {
	tris []planar.Triangle
	of   []int32 // the first edge between the same ends
	net  []int32 // of those that are the first ones
}

func newEdgeNet(tris []planar.Triangle) *edgeNet {
	n := 3 * len(tris)
	t := &edgeNet{tris: tris, of: make([]int32, n), net: make([]int32, n)}
	table := make([]int32, 1<<bits.Len(uint(2*n))) // one more than an edge, by the hash of its ends
	for e := range t.of {
		lo, hi, sense := t.ends(e)
		at := hashed(lo, hi) & uint64(len(table)-1)
		for ; table[at] != 0; at = (at + 1) & uint64(len(table)-1) {
			if l, h, _ := t.ends(int(table[at] - 1)); l == lo && h == hi {
				break
			}
		}
		if table[at] == 0 {
			table[at] = int32(e + 1)
		}
		first := table[at] - 1
		t.of[e] = first
		if t.net[first] += sense; sense == 0 { // it begins where it ends: two of them are none
			t.net[first] ^= 1
		}
	}
	return t
}

func (t *edgeNet) edge(e int) [2]r2.Vec { return [2]r2.Vec{t.tris[e/3][e%3], t.tris[e/3][(e+1)%3]} }

// ends are those of an edge in order, and whether it runs from the first to the other, 1, or back, -1.
func (t *edgeNet) ends(e int) (lo, hi r2.Vec, sense int32) {
	a, b := t.tris[e/3][e%3], t.tris[e/3][(e+1)%3]
	switch {
	case a == b:
		return a, b, 0
	case a.X < b.X || a.X == b.X && a.Y < b.Y:
		return a, b, 1
	}
	return b, a, -1
}

// takeOpen takes one away where edges between these ends run more often as e does than back.
func (t *edgeNet) takeOpen(e int) bool {
	_, _, sense := t.ends(e)
	n := &t.net[t.of[e]]
	switch {
	case sense == 0 && *n > 0:
		*n = 0
	case *n*sense > 0:
		*n -= sense
	default:
		return false
	}
	return true
}

// hashed mixes two points; what is equal has the same hash, 0 and -0 too.
func hashed(a, b r2.Vec) (h uint64) {
	for _, x := range [4]float64{a.X, a.Y, b.X, b.Y} {
		h = (h ^ math.Float64bits(x+0)) * 0x9e3779b97f4a7c15
		h ^= h >> 32
	}
	return h
}

// rasteriseOutline marks every cell that an outline touches or winds around.
func rasteriseOutline(edges [][2]r2.Vec, box planar.Box, cell float64) *mask {
	size := box.Size()
	m := newMask(int(size.X/cell)+1, int(size.Y/cell)+1)
	type crossing struct {
		x    float64
		turn int
	}
	rows := make([][]crossing, m.h) // where edges cross the middle of each row
	for _, e := range edges {
		a, b := r2.Sub(e[0], box.Min), r2.Sub(e[1], box.Min)
		t := planar.Triangle{a, b, b}
		y0 := max(0, int(min(a.Y, b.Y)/cell))
		y1 := min(m.h-1, int(max(a.Y, b.Y)/cell))
		for y := y0; y <= y1; y++ {
			lo, hi := span(t, float64(y)*cell, float64(y+1)*cell)
			if lo > hi {
				continue
			}
			m.setRun(y, max(0, int(math.Floor(lo/cell-1e-9))), min(m.w-1, int(hi/cell+1e-9)))
			if mid := (float64(y) + 0.5) * cell; (a.Y <= mid) != (b.Y <= mid) {
				c := crossing{a.X + (b.X-a.X)*(mid-a.Y)/(b.Y-a.Y), 1}
				if b.Y <= mid {
					c.turn = -1
				}
				rows[y] = append(rows[y], c)
			}
		}
	}
	for y, list := range rows {
		slices.SortFunc(list, func(p, q crossing) int {
			switch {
			case p.x < q.x:
				return -1
			case p.x > q.x:
				return 1
			}
			return 0
		})
		turns := 0
		for k, c := range list {
			turns += c.turn
			if turns != 0 && k+1 < len(list) {
				m.setRun(y, max(0, int(c.x/cell)), min(m.w-1, int(list[k+1].x/cell)))
			}
		}
	}
	return m
}
