package seam

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/ids"
	"morvek/core/mesh"
)

// cutGraph opens any connected patch to a disk along the cheapest loops through one
// point, or chains between borders: the greedy system of loops of Erickson &
// Whittlesey (2005). All borders count as one point. A closed patch gets the cheapest
// single loop through some points that are tried, turns at their price, a closed sphere one
// chain between two far points, so that they have a border at all.
func cutGraph(p *mesh.Patch, cost Cost) []mesh.EdgeID {
	var from []int32
	seen := make([]bool, len(p.Pos))
	for c := range p.Corner {
		if v := p.CornerVert[c]; p.Across(int32(c)) == mesh.None {
			for _, v := range []int32{v, p.CornerVert[p.NextCorner(int32(c))]} {
				if !seen[v] {
					seen[v] = true
					from = append(from, v)
				}
			}
		}
	}
	if len(from) > 0 {
		return slices.Concat(systemOfLoops(p, links(p), from, cost)...)
	}
	var best []mesh.EdgeID
	least := math.Inf(1)
	r, near := newRuns(p), links(p)
	price := func(loop []mesh.EdgeID) float64 {
		sum := r.bends(loop)
		for _, e := range loop {
			sum += cost(e) * p.Mesh.EdgeLength(e)
		}
		return sum
	}
	tries := min(max(200_000/len(p.Pos), 4), 24, len(p.Pos))
	for i := range tries {
		// One loop is enough: it leaves borders, and what leads from one to the other is
		// sought with turns at their price.
		v := int32(i * len(p.Pos) / tries)
		ways := systemOfLoops(p, near, []int32{v}, cost)
		if len(ways) > 0 { // no sphere: the loops of the mesh that do not part it
			ways = append(ways, straightLoops(p, r, v)...)
		}
		for _, loop := range ways {
			if c := price(loop); best == nil || c < least*(1-1e-9) {
				best, least = loop, c
			}
		}
	}
	if len(best) == 0 {
		return farChain(p, cost)
	}
	return best
}

// straightLoops are the closed loops of the mesh through a vertex of a closed patch that go straight on and leave it in one.
func straightLoops(p *mesh.Patch, r *runs, v int32) (out [][]mesh.EdgeID) {
	seen := map[mesh.EdgeID]bool{}
	for _, i := range r.out[v] {
		loop := p.Mesh.Loop(r.list[i].edge)
		if !loop.Closed || seen[loop.Edges[0]] {
			continue
		}
		own := ids.Set(loop.Edges)
		for _, e := range loop.Edges {
			seen[e] = true
		}
		if len(p.Mesh.Connected(p.Faces, func(e mesh.EdgeID) bool { return own[e] })) == 1 {
			out = append(out, loop.Edges)
		}
	}
	return out
}

// systemOfLoops returns the edges of the cheapest loops through a set of vertices
// that make a patch a disk. Vertices are joined to the set by shortest paths; faces by a
// tree over the other edges, those first that would make the dearest loops. Each edge in neither tree closes one loop.
func systemOfLoops(p *mesh.Patch, near [][]link, from []int32, cost Cost) (out [][]mesh.EdgeID) {
	dist, prev := search(p, near, from, cost)
	inTree := map[mesh.EdgeID]bool{}
	for _, l := range prev {
		if l.to >= 0 {
			inTree[l.edge] = true
		}
	}
	type loop struct {
		corner int32
		value  float64
	}
	var loops []loop
	for c := range p.Corner {
		o := p.Across(int32(c))
		if o == mesh.None || o < int32(c) {
			continue
		}
		e := p.Mesh.Edge(p.Corner[c])
		a, b := p.Ends(int32(c))
		if inTree[e] && (prev[a].to == b && prev[a].edge == e || prev[b].to == a && prev[b].edge == e) {
			continue
		}
		v := dist[a] + dist[b]
		if k := cost(e); math.IsInf(k, 1) {
			v = k // times no length it would be no number
		} else {
			v += k * p.Mesh.EdgeLength(e)
		}
		loops = append(loops, loop{int32(c), v})
	}
	slices.SortStableFunc(loops, func(a, b loop) int { return cmp.Compare(b.value, a.value) })
	faceOf := p.CornerFaces()
	tree := ids.NewForest(len(p.Faces))
	for _, l := range loops {
		if tree.Join(faceOf[l.corner], faceOf[p.Across(l.corner)]) {
			continue
		}
		own := map[mesh.EdgeID]bool{}
		loop := []mesh.EdgeID{p.Mesh.Edge(p.Corner[l.corner])}
		a, b := p.Ends(l.corner)
		for v := a; prev[v].to >= 0; v = prev[v].to {
			own[prev[v].edge] = true
			loop = append(loop, prev[v].edge)
		}
		for v := b; prev[v].to >= 0; v = prev[v].to {
			if !own[prev[v].edge] {
				loop = append(loop, prev[v].edge)
				continue
			}
			if len(from) == 1 { // both ways have met: the stem to the start is no part of the loop
				stem := map[mesh.EdgeID]bool{}
				for ; prev[v].to >= 0; v = prev[v].to {
					stem[prev[v].edge] = true
				}
				loop = slices.DeleteFunc(loop, func(e mesh.EdgeID) bool { return stem[e] })
			}
			break
		}
		out = append(out, loop)
	}
	return out
}

// farChain returns the cheapest chain between two vertices far from each other.
func farChain(p *mesh.Patch, cost Cost) []mesh.EdgeID {
	far := func(from int32) int32 {
		best := from
		for v := range p.Pos {
			if r3.Norm2(r3.Sub(p.Pos[v], p.Pos[from])) > r3.Norm2(r3.Sub(p.Pos[best], p.Pos[from]))*(1+1e-9) {
				best = int32(v)
			}
		}
		return best
	}
	a := far(0)
	b := far(a)
	goal := make([]bool, len(p.Pos))
	goal[b] = true
	return cheapest(p, []int32{a}, goal, cost)
}
