package flow

import (
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// ChainGrain is the grain along picked edges. Where they are one chain it bends with it,
// from the edge that was picked first toward the one picked last; otherwise it is their
// mean direction.
func ChainGrain(m *mesh.Mesh, edges []mesh.EdgeID) Grain {
	g := Grain{Mode: Toward, Axis: meanDirection(m, edges)}
	path := polyline(m, edges)
	for k := 1; k < len(path); k++ {
		if mesh.Angle(r3.Sub(path[k], path[k-1]), r3.Sub(path[1], path[0])) > 1e-3 {
			g.Path = path
			break
		}
	}
	if len(path) > 1 && r3.Dot(r3.Sub(path[len(path)-1], path[0]), g.Axis) < 0 {
		g.Axis = r3.Scale(-1, g.Axis)
	}
	return g
}

// polyline returns the points of edges that form one chain, in order, the first again at
// the end of a closed one; nil where they branch or fall apart.
func polyline(m *mesh.Mesh, edges []mesh.EdgeID) []r3.Vec {
	at := map[mesh.PointID][]mesh.EdgeID{}
	ends := func(e mesh.EdgeID) (a, b mesh.PointID) {
		h := m.EdgeHalf(e)
		return m.From(h), m.To(h)
	}
	for _, e := range edges {
		a, b := ends(e)
		at[a], at[b] = append(at[a], e), append(at[b], e)
	}
	if len(edges) == 0 {
		return nil
	}
	start, _ := ends(edges[0])
	for _, e := range edges { // at an end, if it has any
		a, b := ends(e)
		if len(at[a]) == 1 {
			start = a
			break
		}
		if len(at[b]) == 1 {
			start = b
			break
		}
	}
	order := make([]mesh.EdgeID, 0, len(edges))
	path := []r3.Vec{m.Points[start]}
	for p, from := start, mesh.EdgeID(mesh.None); len(order) < len(edges); {
		i := slices.IndexFunc(at[p], func(e mesh.EdgeID) bool { return e != from })
		if len(at[p]) > 2 || i < 0 {
			return nil
		}
		from = at[p][i]
		order = append(order, from)
		if a, b := ends(from); a == p {
			p = b
		} else {
			p = a
		}
		path = append(path, m.Points[p])
		if p == start && len(order) < len(edges) {
			return nil
		}
	}
	if slices.Index(order, edges[0]) > slices.Index(order, edges[len(edges)-1]) {
		slices.Reverse(path)
	}
	return path
}

// meanDirection is the unit direction in space that edges run in, by length, as lines.
func meanDirection(m *mesh.Mesh, edges []mesh.EdgeID) r3.Vec {
	// The direction that the longest edge has, drawn to the others a few times: a power
	// iteration on the sum of d·dᵀ/|d|.
	var d r3.Vec
	for _, e := range edges {
		if v := m.EdgeVec(m.EdgeHalf(e)); r3.Norm2(v) > r3.Norm2(d)*(1+1e-9) {
			d = v
		}
	}
	for range 60 {
		var next r3.Vec
		for _, e := range edges {
			v := m.EdgeVec(m.EdgeHalf(e))
			if l := r3.Norm(v); l > 0 {
				next = r3.Add(next, r3.Scale(r3.Dot(v, d)/l, v))
			}
		}
		l := r3.Norm(next)
		if l == 0 {
			return d
		}
		d = r3.Scale(1/l, next)
	}
	return d
}
