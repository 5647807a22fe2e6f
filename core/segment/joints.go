package segment

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/lay"
	"morvek/core/mesh"
)

// candidates lists the borders between groups that may be joined, the most exposed
// first: the whole border where the points on it lie flat enough, else its longest
// straight stretch if that is more than half of it.
func (a *attacher) candidates() []joint {
	m := a.doc.Mesh
	piece := a.pieceOf()
	at := map[[2]int]*joint{}
	for e := range m.NumEdges() {
		id := mesh.EdgeID(e)
		f, g := m.EdgeFaces(id)
		if g == mesh.None || !a.cut[id] || a.firm[id] {
			continue
		}
		p, q := piece[f], piece[g]
		if a.groups[p] == a.groups[q] || !a.joins(p) || !a.joins(q) {
			continue
		}
		k := [2]int{min(p, q), max(p, q)}
		if at[k] == nil {
			at[k] = &joint{a: k[0], b: k[1]}
		}
		at[k].edges = append(at[k].edges, id)
	}
	var out []joint
	for _, j := range at {
		edges := longestStraight(m, j.edges)
		if m.Length(edges) <= m.Length(j.edges)/2 {
			if edges = nil; !a.exact() {
				edges = a.flattish(j.edges)
			}
		}
		if len(edges) > 0 {
			out = append(out, joint{j.a, j.b, edges, a.gain(edges)})
		}
	}
	slices.SortFunc(out, func(p, q joint) int {
		return cmp.Or(cmp.Compare(float32(q.gain), float32(p.gain)), cmp.Compare(p.a, q.a), cmp.Compare(p.b, q.b))
	})
	return out
}

// pieceOf returns the piece of each face.
func (a *attacher) pieceOf() []int {
	out := make([]int, a.doc.Mesh.NumFaces())
	seen := map[*group]bool{}
	for i, g := range a.groups {
		if seen[g] {
			continue
		}
		seen[g] = true
		for _, f := range g.faces {
			out[f] = i
		}
	}
	return out
}

// joins tells whether a piece takes part: where nothing may stretch, only those of
// shapes that lie flat.
func (a *attacher) joins(i int) bool {
	g := a.groups[i]
	if g.alone {
		return false
	}
	return !a.exact() || g.soft || g.part >= 0 && lay.IsSheet(a.state.Parts[g.part].Fit.Kind)
}

// flattish returns a border that is one chain or ring and bends so little that its
// union may lie within the stretch allowed: the angle defects of its inner points,
// which stretch has to take up, stay below a radian.
func (a *attacher) flattish(edges []mesh.EdgeID) []mesh.EdgeID {
	m := a.doc.Mesh
	if len(m.Chains(edges)) > 1 {
		return nil
	}
	ends := map[mesh.PointID]int{}
	for _, e := range edges {
		h := m.EdgeHalf(e)
		ends[m.From(h)]++
		ends[m.To(h)]++
	}
	defects := m.PointDefects()
	var sum float64
	open := 0
	for p, n := range ends {
		if n == 1 {
			open++
		} else if sum += math.Abs(defects[p]); n > 2 {
			return nil
		}
	}
	if open > 2 || sum > 1 {
		return nil
	}
	return edges
}

// gain is the length of edges, those in view counting most. Exposure is taken from
// the first and the middle edge alone: rays are dear, and a border is short.
func (a *attacher) gain(edges []mesh.EdgeID) float64 {
	x := a.doc.Exposure()
	seen := (x.Edge(edges[0]) + x.Edge(edges[len(edges)/2])) / 2
	return a.doc.Mesh.Length(edges) * (0.05 + seen)
}

// straight is the cosine of the largest turn, 1 degree, within a straight border.
const straight = 0.99985

// longestStraight is the longest straight stretch of a border: two flat pieces can
// stay attached along one line only. It lists its edges in order of number.
func longestStraight(m *mesh.Mesh, edges []mesh.EdgeID) (best []mesh.EdgeID) {
	dir := func(e mesh.EdgeID) r3.Vec { return mesh.Unit(m.EdgeVec(m.EdgeHalf(e))) }
	var length float64
	for _, run := range m.ChainsWhere(edges, func(a, b mesh.EdgeID) bool { return math.Abs(r3.Dot(dir(a), dir(b))) > straight }) {
		if l := m.Length(run); l > length {
			best, length = run, l
		}
	}
	return best
}
