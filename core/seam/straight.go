package seam

import (
	"container/heap"
	"maps"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/ids"
	"morvek/core/mesh"
)

// What a turn off the straight way costs, in units of cost times the size of a patch at
// 45°: more than the whole way could save elsewhere. Small turns, as facets make them, are
// free, and so are those from crease to crease.
const (
	turnPrice = 1
	freeTurn  = 12 * math.Pi / 180
)

// run is an inner edge of a patch in one of its directions.
type run struct {
	from, to int32
	edge     mesh.EdgeID
	dir      r3.Vec
	crease   bool
}

// runs are all inner edges of a patch in both directions, one beside the other, for searches whose state is the
// edge they came along.
type runs struct {
	list   []run
	out    [][]int32 // from each vertex
	normal []r3.Vec  // of each vertex
	size   float64   // of the patch, model units
}

func newRuns(p *mesh.Patch) *runs {
	r := &runs{out: make([][]int32, len(p.Pos)), normal: make([]r3.Vec, len(p.Pos)), size: math.Sqrt(p.Area())}
	normals, areas := p.Mesh.FaceNormals(), p.Mesh.FaceAreas()
	for i, f := range p.Faces {
		for _, v := range p.CornerVert[p.FaceStart[i]:p.FaceStart[i+1]] {
			r.normal[v] = r3.Add(r.normal[v], r3.Scale(areas[f], normals[f]))
		}
	}
	for c := range p.Corner {
		o := p.Across(int32(c))
		if o == mesh.None || o < int32(c) {
			continue
		}
		a, b := p.Ends(int32(c))
		e := p.Mesh.Edge(p.Corner[c])
		d := r3.Sub(p.Pos[b], p.Pos[a])
		fold := math.Abs(p.Mesh.Dihedral(e)) >= math.Pi/6
		for _, x := range []run{{a, b, e, d, fold}, {b, a, e, r3.Scale(-1, d), fold}} {
			r.out[x.from] = append(r.out[x.from], int32(len(r.list)))
			r.list = append(r.list, x)
		}
	}
	return r
}

// turn is the price of going on from one edge along another, measured on the surface: a
// loop around a wall is straight.
func (r *runs) turn(i, j int32) float64 {
	a, b := r.list[i], r.list[j]
	if a.crease && b.crease {
		return 0
	}
	n := r.normal[a.to]
	flat := func(d r3.Vec) r3.Vec {
		if l := r3.Norm2(n); l > 0 {
			return r3.Sub(d, r3.Scale(r3.Dot(d, n)/l, n))
		}
		return d
	}
	angle := mesh.Angle(flat(a.dir), flat(b.dir))
	if angle < freeTurn {
		return 0
	}
	t := angle / (math.Pi / 4)
	return turnPrice * r.size * t * t
}

// bends is the price of all turns of a loop or chain.
func (r *runs) bends(edges []mesh.EdgeID) (sum float64) {
	own := ids.Set(edges)
	at := map[int32][]int32{} // the runs that leave a vertex
	for i, x := range r.list {
		if own[x.edge] {
			at[x.from] = append(at[x.from], int32(i))
		}
	}
	for _, v := range slices.Sorted(maps.Keys(at)) {
		if pair := at[v]; len(pair) == 2 {
			sum += r.turn(pair[0]^1, pair[1])
		}
	}
	return sum
}

// cheapest returns the chain of inner edges from some vertices to a goal that costs least,
// turns included; nil if there is none.
func cheapest(p *mesh.Patch, from []int32, goal []bool, cost Cost) (chain []mesh.EdgeID) {
	if slices.ContainsFunc(from, func(v int32) bool { return goal[v] }) {
		return nil
	}
	r := newRuns(p)
	price := make([]float64, len(r.list))
	for i, x := range r.list {
		price[i] = cost(x.edge)
		if !math.IsInf(price[i], 1) {
			price[i] *= p.Mesh.EdgeLength(x.edge)
		}
	}
	found := searchRuns(len(r.list), func(push func(int32, float64)) {
		for _, v := range from {
			for _, i := range r.out[v] {
				push(i, price[i])
			}
		}
	}, func(i int32) bool { return goal[r.list[i].to] }, func(i int32, soFar float64, push func(int32, float64)) {
		for _, j := range r.out[r.list[i].to] {
			if r.list[j].to != r.list[i].from {
				push(j, soFar+price[j]+r.turn(i, j))
			}
		}
	})
	for _, i := range found {
		chain = append(chain, r.list[i].edge)
	}
	return chain
}

// searchRuns is Dijkstra's search over n directed edges rather than points, so that what
// follows may depend on the way one comes. start pushes those it may begin with and what
// they cost, next those that follow one with the cost of all so far. It returns the edges up
// to the first goal, nil if none is reached.
func searchRuns(n int, start func(push func(i int32, c float64)), goal func(i int32) bool,
	next func(i int32, soFar float64, push func(j int32, c float64))) (chain []int32) {
	best, prev := make([]float64, n), make([]int32, n)
	for i := range best {
		best[i] = math.Inf(1)
	}
	q := &ways{}
	from := int32(-1)
	push := func(i int32, c float64) {
		if c < best[i] { // never for a forbidden edge
			best[i], prev[i] = c, from
			heap.Push(q, way{i, c})
		}
	}
	start(push)
	for q.Len() > 0 {
		w := heap.Pop(q).(way)
		if w.cost > best[w.at] {
			continue
		}
		if goal(w.at) {
			for i := w.at; i >= 0; i = prev[i] {
				chain = append(chain, i)
			}
			slices.Reverse(chain)
			return chain
		}
		from = w.at
		next(w.at, w.cost, push)
	}
	return nil
}
