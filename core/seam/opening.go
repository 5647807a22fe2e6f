package seam

import (
	"container/heap"
	"context"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// Cost rates cutting an edge per model unit of its length; +Inf forbids it.
type Cost func(e mesh.EdgeID) float64

// HiddenCost prefers hidden edges and creases, concave ones most, and walls'
// own rulings over edges that run aslant.
func HiddenCost(m *mesh.Mesh, x *Exposure, fit shape.Fit) Cost {
	return func(e mesh.EdgeID) float64 {
		c := (0.05 + x.Edge(e)) * foldShare(m.Dihedral(e))
		return c * (1 + 8*aslant(m, e, fit))
	}
}

// aslant is the share of an edge that runs around the axis or the spine instead
// of along it: 0 for a ruling, 1 for a ring.
func aslant(m *mesh.Mesh, e mesh.EdgeID, fit shape.Fit) float64 {
	h := m.EdgeHalf(e)
	v := m.EdgeVec(h)
	l := r3.Norm(v)
	if l == 0 {
		return 0
	}
	if fit.Bent() {
		c := r3.Dot(v, fit.Along(m.Points[m.From(h)])) / l
		return math.Sqrt(max(0, 1-c*c))
	}
	if !fit.Kind.Traits().Axis.Goes() {
		return 0
	}
	a, b := m.EdgeFaces(e)
	n := m.FaceNormals()[a]
	if b != mesh.None {
		n = r3.Add(n, m.FaceNormals()[b])
	}
	round := r3.Cross(fit.Axis, n)
	if r := r3.Norm(round); r > 0 {
		return math.Abs(r3.Dot(v, round)) / (r * l)
	}
	return 0
}

// Openings returns the cheapest chains of edges that let a connected set of
// faces lie flat, none if it does already. flat decides whether a patch can be
// laid down as it is; a disk always can. Where only forbidden edges would help, it
// gives up with what it has.
func Openings(ctx context.Context, m *mesh.Mesh, faces []mesh.FaceID, already func(mesh.EdgeID) bool, fit shape.Fit, cost Cost,
	flat func(*mesh.Patch) bool) ([]mesh.EdgeID, error) {
	cost = known(cost)
	opened := map[mesh.EdgeID]bool{}
	var out []mesh.EdgeID
	isCut := func(e mesh.EdgeID) bool { return opened[e] || already(e) }
	for {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		p := mesh.NewPatch(m, faces, isCut)
		borders := p.Borders()
		if p.IsDisk() || len(borders) > 0 && flat(p) {
			return out, nil
		}
		var chain []mesh.EdgeID
		if len(borders) > 1 {
			chain = bridge(p, rankBorders(p, borders, fit), cost)
		}
		if chain == nil {
			chain = cutGraph(p, cost)
		}
		if len(chain) == 0 || slices.ContainsFunc(chain, func(e mesh.EdgeID) bool { return math.IsInf(cost(e), 1) }) {
			return out, nil
		}
		for _, e := range chain {
			opened[e] = true
		}
		out = append(out, chain...)
	}
}

// known asks for the cost of each edge once: searches from many places ask again and again.
func known(cost Cost) Cost {
	was := map[mesh.EdgeID]float64{}
	return func(e mesh.EdgeID) float64 {
		c, ok := was[e]
		if !ok {
			c = cost(e)
			was[e] = c
		}
		return c
	}
}

// rankBorders puts the border loops to be joined first in front: those that
// wind round the axis, then the longest. Holes in a wall come last, since they
// seldom need a cut.
func rankBorders(p *mesh.Patch, borders [][]int32, fit shape.Fit) [][]int32 {
	type ranked struct {
		loop  []int32
		winds bool
		long  float64
	}
	list := make([]ranked, len(borders))
	for i, b := range borders {
		r := ranked{loop: b}
		for _, c := range b {
			s, t := p.Ends(c)
			r.long += r3.Norm(r3.Sub(p.Pos[t], p.Pos[s]))
		}
		r.winds = fit.Axis != (r3.Vec{}) && math.Abs(p.Winding(b, fit.Axis, fit.Origin)) > math.Pi
		list[i] = r
	}
	slices.SortStableFunc(list, func(a, b ranked) int {
		switch {
		case a.winds != b.winds && a.winds:
			return -1
		case a.winds != b.winds:
			return 1
		case a.long > b.long*(1+1e-9):
			return -1
		case b.long > a.long*(1+1e-9):
			return 1
		}
		return 0
	})
	out := make([][]int32, len(list))
	for i, r := range list {
		out[i] = r.loop
	}
	return out
}

// bridge returns the cheapest chain from the first border loop to the second.
func bridge(p *mesh.Patch, borders [][]int32, cost Cost) []mesh.EdgeID {
	goal := make([]bool, len(p.Pos))
	for _, c := range borders[1] {
		goal[p.CornerVert[c]] = true
	}
	var from []int32
	for _, c := range borders[0] {
		from = append(from, p.CornerVert[c])
	}
	return cheapest(p, from, goal, cost)
}

type way struct {
	at   int32 // a vertex, a face or a run
	cost float64
}

type ways []way

func (w ways) Len() int { return len(w) }
func (w ways) Less(i, j int) bool {
	if w[i].cost != w[j].cost {
		return w[i].cost < w[j].cost
	}
	return w[i].at < w[j].at
}
func (w ways) Swap(i, j int) { w[i], w[j] = w[j], w[i] }
func (w *ways) Push(x any)   { *w = append(*w, x.(way)) }
func (w *ways) Pop() any {
	last := (*w)[len(*w)-1]
	*w = (*w)[:len(*w)-1]
	return last
}

type link struct {
	to   int32
	edge mesh.EdgeID
}

// links lists the inner edges at each vertex of a patch.
func links(p *mesh.Patch) [][]link {
	out := make([][]link, len(p.Pos))
	for c := range p.Corner {
		if o := p.Across(int32(c)); o != mesh.None && o > int32(c) {
			a, b := p.Ends(int32(c))
			e := p.Mesh.Edge(p.Corner[c])
			out[a] = append(out[a], link{b, e})
			out[b] = append(out[b], link{a, e})
		}
	}
	return out
}

// distances returns the length of the shortest way along inner edges from some
// vertices to each other, +Inf where there is none.
func distances(p *mesh.Patch, from []int32) []float64 {
	d, _ := search(p, links(p), from, func(mesh.EdgeID) float64 { return 1 })
	return d
}

// search finds the cheapest way along inner edges, the links of a patch, from some vertices to each other.
func search(p *mesh.Patch, near [][]link, from []int32, cost Cost) (dist []float64, prev []link) {
	dist = make([]float64, len(p.Pos))
	prev = make([]link, len(p.Pos))
	for i := range dist {
		dist[i], prev[i] = math.Inf(1), link{-1, -1}
	}
	q := &ways{}
	for _, v := range from {
		if dist[v] != 0 {
			dist[v] = 0
			heap.Push(q, way{v, 0})
		}
	}
	for q.Len() > 0 {
		w := heap.Pop(q).(way)
		if w.cost > dist[w.at] {
			continue
		}
		for _, l := range near[w.at] {
			d := w.cost + cost(l.edge)*p.Mesh.EdgeLength(l.edge)
			if d < dist[l.to] { // never for a forbidden edge
				dist[l.to] = d
				prev[l.to] = link{w.at, l.edge}
				heap.Push(q, way{l.to, d})
			}
		}
	}
	return dist, prev
}
