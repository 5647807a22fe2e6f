package mesh

import (
	"container/heap"
	"math"
	"slices"
)

// Path returns the cheapest chain from one edge to another, both included, by
// Dijkstra's search (1959) over the edges of the mesh; cost is per model unit of
// length. It returns nil if the edges do not hang together.
func (m *Mesh) Path(from, to EdgeID, cost func(EdgeID) float64) []EdgeID {
	if from == to {
		return []EdgeID{from}
	}
	star, start := m.edgeStar()
	dist := map[PointID]float64{}
	prev := map[PointID]EdgeID{}
	q := &pathQueue{}
	h, g := m.edgeHalf[from], m.edgeHalf[to]
	for _, p := range []PointID{m.From(h), m.To(h)} {
		dist[p], prev[p] = 0, None
		heap.Push(q, pathStep{p, 0})
	}
	for q.Len() > 0 {
		at := heap.Pop(q).(pathStep)
		if at.cost > dist[at.point] {
			continue
		}
		if at.point == m.From(g) || at.point == m.To(g) {
			out := []EdgeID{to}
			for p := at.point; prev[p] != None; p = m.otherEnd(prev[p], p) {
				out = append(out, prev[p])
			}
			out = append(out, from)
			slices.Reverse(out)
			return out
		}
		for _, e := range star[start[at.point]:start[at.point+1]] {
			o := m.otherEnd(e, at.point)
			c := at.cost + cost(e)*m.EdgeLength(e)
			if old, seen := dist[o]; !math.IsInf(c, 1) && (!seen || c < old) {
				dist[o], prev[o] = c, e
				heap.Push(q, pathStep{o, c})
			}
		}
	}
	return nil
}

// CreaseCost is a cost per length that draws paths along creases: a full fold of
// 30° or more costs an eighth of a flat edge.
func (m *Mesh) CreaseCost(e EdgeID) float64 {
	return 1 - 0.875*min(1, math.Abs(m.Dihedral(e))/(math.Pi/6))
}

type pathStep struct {
	point PointID
	cost  float64
}

type pathQueue []pathStep

func (q pathQueue) Len() int { return len(q) }
func (q pathQueue) Less(i, j int) bool {
	if q[i].cost != q[j].cost {
		return q[i].cost < q[j].cost
	}
	return q[i].point < q[j].point
}
func (q pathQueue) Swap(i, j int) { q[i], q[j] = q[j], q[i] }
func (q *pathQueue) Push(x any)   { *q = append(*q, x.(pathStep)) }
func (q *pathQueue) Pop() any {
	last := (*q)[len(*q)-1]
	*q = (*q)[:len(*q)-1]
	return last
}

// edgeStar lists the edges at each point: those of p are star[start[p]:start[p+1]].
func (m *Mesh) edgeStar() (star []EdgeID, start []int32) {
	m.starOnce.Do(func() {
		m.starStart = make([]int32, len(m.Points)+1)
		for _, h := range m.edgeHalf {
			m.starStart[m.From(h)+1]++
			m.starStart[m.To(h)+1]++
		}
		for i := range len(m.Points) {
			m.starStart[i+1] += m.starStart[i]
		}
		m.star = make([]EdgeID, 2*len(m.edgeHalf))
		fill := slices.Clone(m.starStart)
		for e, h := range m.edgeHalf {
			for _, p := range []PointID{m.From(h), m.To(h)} {
				m.star[fill[p]] = EdgeID(e)
				fill[p]++
			}
		}
	})
	return m.star, m.starStart
}
