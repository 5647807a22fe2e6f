package flatten

import (
	"context"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/sparse"
)

// LSCM returns the least-squares conformal map of a disk, true to its total
// area: Σ A·|∇v − R∇u|² is least, two far vertices of the border held.
func LSCM(ctx context.Context, p *mesh.Patch) ([]r2.Vec, error) {
	return measured(p).conformal(ctx, &Constraints{})
}

// conformal solves for the map in which the elements keep their angles as well as they
// can. Pins and shared coordinates are kept; what they leave of turn, size and place is
// settled by two far vertices.
func (g *surface) conformal(ctx context.Context, keep *Constraints) ([]r2.Vec, error) {
	r, err := keep.reduce(make([]r2.Vec, len(g.Pos)))
	if err != nil {
		return nil, err
	}
	own := false // whether pins settle the size
	if len(keep.Pins) < 2 {
		gauge := g.gauge(keep)
		for axis := range 2 {
			for _, p := range gauge[axis] {
				r[axis].hold(p.Vertex, coordinate(p.At, axis))
			}
		}
	} else {
		own = true
	}
	all := interleave(r)
	s := newSystem(&all, 12*len(g.Tris)+8*len(g.Pos))
	for t, tri := range g.Tris {
		e := &g.el[t]
		for i := range 3 {
			for j := i; j < 3; j++ {
				d := e.area * r2.Dot(e.grad[i], e.grad[j])
				s.add(2*int(tri[i]), 2*int(tri[j]), d)
				s.add(2*int(tri[i])+1, 2*int(tri[j])+1, d)
			}
		}
	}
	// What U and V have to do with each other is the area of the map, which is a sum
	// over the border (Desbrun et al. 2002).
	for _, loop := range g.Borders() {
		for _, c := range loop {
			a, b := g.Ends(c)
			s.add(2*int(a), 2*int(b)+1, -0.5)
			s.add(2*int(b), 2*int(a)+1, 0.5)
		}
	}
	uv := make([]r2.Vec, len(g.Pos))
	var x []float64
	if all.free > 0 {
		if x, err = sparse.Solve(ctx, s.b.Build(), s.known); err != nil {
			return nil, err
		}
	}
	for v := range uv {
		uv[v] = r2.Vec{X: all.at(x, 2*v), Y: all.at(x, 2*v+1)}
	}
	if !own {
		about := r2.Vec{}
		if len(keep.Pins) == 1 {
			about = keep.Pins[0].At
		}
		for v := range uv {
			uv[v] = r2.Sub(uv[v], about)
		}
		TrueScale(g.Patch, uv)
		for v := range uv {
			uv[v] = r2.Add(uv[v], about)
		}
	}
	return uv, nil
}

// hold gives the unknown of a coordinate a value.
func (r *reduced) hold(v int32, to float64) {
	gone := r.index[v]
	if gone == held {
		return
	}
	for i, k := range r.index {
		switch {
		case k == gone:
			r.index[i], r.value[i] = held, to
		case k > gone:
			r.index[i]--
		}
	}
	r.free--
}

// gauge returns what settles turn, size and place of a conformal map with fewer than
// two pins: by axis, the vertices that are held.
func (g *surface) gauge(keep *Constraints) (by [2][]Pin) {
	a, b := g.farVertices()
	var o r2.Vec
	if len(keep.Pins) == 1 {
		a, o = int(keep.Pins[0].Vertex), keep.Pins[0].At
		b = g.furthest(a)
	}
	l := r3.Norm(r3.Sub(g.Pos[b], g.Pos[a]))
	first := Pin{int32(a), o}
	by[0], by[1] = []Pin{first}, []Pin{first}
	turns := false // whether shared coordinates settle the turn
	shared := [2]bool{}
	for axis, groups := range [2][][]int32{keep.ShareU, keep.ShareV} {
		for _, group := range groups {
			turns = turns || len(group) > 1
			var hasA, hasB bool
			for _, v := range group {
				hasA, hasB = hasA || int(v) == a, hasB || int(v) == b
			}
			shared[axis] = shared[axis] || hasA && hasB
		}
	}
	switch {
	case !turns:
		by[0] = append(by[0], Pin{int32(b), r2.Vec{X: o.X + l, Y: o.Y}})
		by[1] = append(by[1], Pin{int32(b), r2.Vec{X: o.X + l, Y: o.Y}})
	case shared[0]:
		by[1] = append(by[1], Pin{int32(b), r2.Vec{X: o.X, Y: o.Y + l}})
	default:
		by[0] = append(by[0], Pin{int32(b), r2.Vec{X: o.X + l, Y: o.Y}})
	}
	return by
}

// farVertices returns two vertices of the border far from each other.
func (g *surface) farVertices() (a, b int) {
	loops := g.Borders()
	if len(loops) == 0 {
		return 0, len(g.Pos) - 1
	}
	a = g.furthest(int(g.CornerVert[loops[0][0]]))
	return a, g.furthest(a)
}

// furthest returns the vertex of the border that is farthest from another.
func (g *surface) furthest(from int) int {
	best, far := from, -1.0
	for _, loop := range g.Borders() {
		for _, c := range loop {
			v := int(g.CornerVert[c])
			if d := r3.Norm2(r3.Sub(g.Pos[v], g.Pos[from])); d > far*(1+1e-9) && v != from {
				best, far = v, d
			}
		}
	}
	return best
}
