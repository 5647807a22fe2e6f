package atlas

import (
	"container/heap"
	"maps"
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/ids"
	"morvek/core/mesh"
)

// Lifted is a shell taken off the sheet, in the units of the model.
type Lifted struct {
	Patch   *mesh.Patch
	UV      []r2.Vec // per vertex, model units at the density of the shell
	Density float64  // sheet units per model unit, 1 for what has no size
	Border  []bool   // per vertex
}

// Lift takes a shell off the sheet; it stays in the map.
func (c *Map) Lift(shell Shell) Lifted {
	l := Lifted{Patch: c.PatchOf(shell), Density: OrOne(c.Density(shell.Faces))}
	l.UV = c.Get(l.Patch)
	Scale(l.UV, 1/l.Density)
	_, l.Border = l.Patch.Defects()
	return l
}

// OrOne is a size, or 1 for what has none.
func OrOne(size float64) float64 {
	if size > 0 {
		return size
	}
	return 1
}

// Scale multiplies coordinates.
func Scale(uv []r2.Vec, by float64) {
	for i := range uv {
		uv[i] = r2.Scale(by, uv[i])
	}
}

// Vertices returns the vertices that corners belong to, ascending.
func (l *Lifted) Vertices(corners []mesh.HalfedgeID) (out []int32) {
	wanted := make(map[mesh.HalfedgeID]bool, len(corners))
	for _, h := range corners {
		wanted[h] = true
	}
	for i, h := range l.Patch.Corner {
		if wanted[h] {
			out = append(out, l.Patch.CornerVert[i])
		}
	}
	return ids.Once(out)
}

// Pairs returns the mesh edge between each pair of vertices of the shell, lower first.
func (l *Lifted) Pairs() map[[2]int32]mesh.EdgeID {
	out := make(map[[2]int32]mesh.EdgeID, len(l.Patch.Corner))
	for c, h := range l.Patch.Corner {
		a, b := l.Patch.Ends(int32(c))
		out[[2]int32{min(a, b), max(a, b)}] = l.Patch.Mesh.Edge(h)
	}
	return out
}

// Edges returns mesh edges as pairs of vertices of the shell, lower first.
func (l *Lifted) Edges(list []mesh.EdgeID) map[[2]int32]bool {
	wanted := ids.Set(list)
	out := l.Pairs()
	maps.DeleteFunc(out, func(_ [2]int32, e mesh.EdgeID) bool { return !wanted[e] })
	pairs := make(map[[2]int32]bool, len(out))
	for pair := range out {
		pairs[pair] = true
	}
	return pairs
}

// Falloff is how much vertices follow some of them: 1 for these, falling smoothly to 0
// at a distance along the edges of the surface, in model units (Dijkstra 1959).
func (l *Lifted) Falloff(from []int32, reach float64) []float64 {
	out := make([]float64, len(l.UV))
	if !(reach > 0) {
		for _, v := range from {
			out[v] = 1
		}
		return out
	}
	near := make([][]int32, len(l.UV))
	for _, t := range l.Patch.Tris {
		for k := range 3 {
			a, b := t[k], t[(k+1)%3]
			near[a], near[b] = append(near[a], b), append(near[b], a)
		}
	}
	dist := make([]float64, len(l.UV))
	for v := range dist {
		dist[v] = math.Inf(1)
	}
	var q byDistance
	for _, v := range from {
		dist[v] = 0
		heap.Push(&q, reached{0, v})
	}
	for q.Len() > 0 {
		r := heap.Pop(&q).(reached)
		if r.d > dist[r.v] {
			continue
		}
		x := 1 - (r.d/reach)*(r.d/reach)
		out[r.v] = x * x
		for _, w := range near[r.v] {
			if d := r.d + r3.Norm(r3.Sub(l.Patch.Pos[w], l.Patch.Pos[r.v])); d < dist[w] && d < reach {
				dist[w] = d
				heap.Push(&q, reached{d, w})
			}
		}
	}
	return out
}

type reached struct {
	d float64
	v int32
}

type byDistance []reached

func (q byDistance) Len() int { return len(q) }
func (q byDistance) Less(i, j int) bool {
	if q[i].d != q[j].d {
		return q[i].d < q[j].d
	}
	return q[i].v < q[j].v
}
func (q byDistance) Swap(i, j int) { q[i], q[j] = q[j], q[i] }
func (q *byDistance) Push(x any)   { *q = append(*q, x.(reached)) }
func (q *byDistance) Pop() any {
	last := (*q)[len(*q)-1]
	*q = (*q)[:len(*q)-1]
	return last
}
