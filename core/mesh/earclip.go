package mesh

import (
	"container/heap"
	"math"

	"gonum.org/v1/gonum/spatial/r2"
)

// EarClip triangulates a simple polygon given counter-clockwise, concave or not, by
// cutting off the roundest ear first (Meisters 1975). On a polygon that crosses itself
// it still returns n-2 triangles. It takes O(n log n) time where few corners are
// reflex, and a grid keeps the search among them short where many are.
func EarClip(p []r2.Vec) [][3]int {
	if len(p) < 3 {
		return nil
	}
	e := newEars(p)
	out := make([][3]int, 0, len(p)-2)
	left := len(p)
	again := rescans
	for asked := false; left > 3; {
		t := heap.Pop(e).(ear)
		if e.cut[t.at] || t.turn != e.turn[t.at] {
			continue // scored anew since
		}
		if t.score < 0 && !asked && again > 0 {
			// What was in the way of an ear may have been cut off meanwhile.
			asked = true
			again--
			e.queue = e.queue[:0]
			for i := range p {
				if !e.cut[i] {
					e.rate(int32(i))
				}
			}
			continue
		}
		asked = false
		a, c := e.prev[t.at], e.next[t.at]
		out = append(out, [3]int{int(a), int(t.at), int(c)})
		e.cut[t.at] = true
		e.next[a], e.prev[c] = c, a
		left--
		e.rate(a)
		e.rate(c)
	}
	for i := range p {
		if !e.cut[i] {
			return append(out, [3]int{i, int(e.next[i]), int(e.prev[i])})
		}
	}
	return out
}

// rescans bounds how often all that is left is looked at again: polygons that cross
// themselves would have it done for every corner.
const rescans = 64

// ear is a corner with how good it is to cut off.
type ear struct {
	score float64
	at    int32
	turn  int32 // how often the corner had been scored
}

// ears is what is left of a polygon, and a queue of its corners, the best ear first.
type ears struct {
	p          []r2.Vec
	prev, next []int32
	cut        []bool
	turn       []int32
	queue      []ear

	// Corners that were reflex at the start, by cell: no others can lie in an ear.
	lo     r2.Vec
	cell   float64
	nx, ny int
	in     [][]int32
}

func newEars(p []r2.Vec) *ears {
	n := len(p)
	e := &ears{p: p, prev: make([]int32, n), next: make([]int32, n), cut: make([]bool, n), turn: make([]int32, n)}
	for i := range p {
		e.prev[i], e.next[i] = int32((i+n-1)%n), int32((i+1)%n)
	}
	var reflex []int32
	for i := range p {
		a, b, c := p[e.prev[i]], p[i], p[e.next[i]]
		if r2.Cross(r2.Sub(b, a), r2.Sub(c, b)) <= 1e-14*max(r2.Norm2(r2.Sub(b, a)), r2.Norm2(r2.Sub(c, b))) {
			reflex = append(reflex, int32(i))
		}
	}
	hi := p[0]
	e.lo = p[0]
	for _, q := range p {
		e.lo = r2.Vec{X: min(e.lo.X, q.X), Y: min(e.lo.Y, q.Y)}
		hi = r2.Vec{X: max(hi.X, q.X), Y: max(hi.Y, q.Y)}
	}
	size := r2.Sub(hi, e.lo)
	e.cell = math.Sqrt(size.X * size.Y / float64(1+len(reflex)))
	if longest := max(size.X, size.Y) / float64(1+len(reflex)); !(e.cell > longest) { // nearly a line
		e.cell = longest
	}
	if !(e.cell > 0) || math.IsInf(e.cell, 0) {
		e.cell = math.Inf(1) // a point: one cell
	}
	e.nx, e.ny = 1+e.column(size.X, math.MaxInt16), 1+e.column(size.Y, math.MaxInt16)
	e.in = make([][]int32, e.nx*e.ny)
	for _, i := range reflex {
		k := e.column(p[i].Y-e.lo.Y, e.ny)*e.nx + e.column(p[i].X-e.lo.X, e.nx)
		e.in[k] = append(e.in[k], i)
	}
	for i := range p {
		e.rate(int32(i))
	}
	return e
}

// column returns the column or row, one of n, of a place so far from the first.
func (e *ears) column(x float64, n int) int {
	c := x / e.cell
	switch {
	case !(c > 0):
		return 0
	case c >= float64(n):
		return n - 1
	}
	return int(c)
}

// rate scores a corner anew.
func (e *ears) rate(i int32) {
	e.turn[i]++
	heap.Push(e, ear{e.score(i), i, e.turn[i]})
}

// score rates cutting off a corner: negative if it is no ear, otherwise the roundness
// of the triangle, so that slivers are the last resort.
func (e *ears) score(i int32) float64 {
	a, b, c := e.p[e.prev[i]], e.p[i], e.p[e.next[i]]
	area := r2.Cross(r2.Sub(b, a), r2.Sub(c, a))
	long := max(r2.Norm2(r2.Sub(b, a)), r2.Norm2(r2.Sub(c, b)), r2.Norm2(r2.Sub(a, c)))
	if long == 0 {
		return 0 // doubled corners: cut them off at once, they cover nothing
	}
	if !(area > 1e-14*long) {
		return max(-2, area/long-1)
	}
	x0, x1 := e.column(min(a.X, b.X, c.X)-e.lo.X, e.nx), e.column(max(a.X, b.X, c.X)-e.lo.X, e.nx)
	y0, y1 := e.column(min(a.Y, b.Y, c.Y)-e.lo.Y, e.ny), e.column(max(a.Y, b.Y, c.Y)-e.lo.Y, e.ny)
	for y := y0; y <= y1; y++ {
		for x := x0; x <= x1; x++ {
			for _, k := range e.in[y*e.nx+x] {
				q := e.p[k]
				if e.cut[k] || q == a || q == b || q == c {
					continue
				}
				if r2.Cross(r2.Sub(b, a), r2.Sub(q, a)) >= 0 && r2.Cross(r2.Sub(c, b), r2.Sub(q, b)) >= 0 && r2.Cross(r2.Sub(a, c), r2.Sub(q, c)) >= 0 {
					return -1
				}
			}
		}
	}
	return area / long
}

// Len, Less, Swap, Push and Pop implement heap.Interface.
func (e *ears) Len() int { return len(e.queue) }

// Less puts the best ear first, of equal ones the first corner.
func (e *ears) Less(i, j int) bool {
	if a, b := e.queue[i].score, e.queue[j].score; a != b {
		return a > b
	}
	return e.queue[i].at < e.queue[j].at
}

// Swap implements heap.Interface.
func (e *ears) Swap(i, j int) { e.queue[i], e.queue[j] = e.queue[j], e.queue[i] }

// Push implements heap.Interface.
func (e *ears) Push(x any) { e.queue = append(e.queue, x.(ear)) }

// Pop implements heap.Interface.
func (e *ears) Pop() any {
	last := e.queue[len(e.queue)-1]
	e.queue = e.queue[:len(e.queue)-1]
	return last
}
