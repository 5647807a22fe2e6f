package flatten

import (
	"context"
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/sparse"
)

// LSCM returns the least-squares conformal map of a disk, true to its total
// area: Σ A·|∇v − R∇u|² is least, two far vertices of the border held.
func LSCM(ctx context.Context, p *mesh.Patch) ([]r2.Vec, error) {
	return lscm(ctx, p, elements(p))
}

func lscm(ctx context.Context, p *mesh.Patch, el []element) ([]r2.Vec, error) {
	n := len(p.Pos)
	a, b := farVertices(p)
	held := map[int]float64{2 * a: 0, 2*a + 1: 0, 2 * b: r3.Norm(r3.Sub(p.Pos[b], p.Pos[a])), 2*b + 1: 0}
	index := make([]int, 2*n) // unknown of each coordinate, or -1
	free := 0
	for i := range index {
		index[i] = -1
		if _, ok := held[i]; !ok {
			index[i] = free
			free++
		}
	}
	m := sparse.NewBuilder(free, 21*len(p.Tris))
	rhs := make([]float64, free)
	add := func(i, j int, v float64) {
		fi, fj := index[i], index[j]
		switch {
		case fi >= 0 && fj >= 0:
			m.Add(fi, fj, v)
		case fi >= 0:
			rhs[fi] -= v * held[j]
		case fj >= 0:
			rhs[fj] -= v * held[i]
		}
	}
	for t, tri := range p.Tris {
		e := &el[t]
		for i := range 3 {
			for j := range 3 {
				if i <= j {
					d := e.area * r2.Dot(e.grad[i], e.grad[j])
					vi, vj := 2*int(tri[i]), 2*int(tri[j])
					add(vi, vj, d)
					add(vi+1, vj+1, d)
				}
				if i != j {
					add(2*int(tri[i]), 2*int(tri[j])+1, -e.area*r2.Cross(e.grad[i], e.grad[j]))
				}
			}
		}
	}
	for i := range free {
		m.Add(i, i, 0) // a vertex of thin triangles only still has a place in the pattern
	}
	// What U and V have to do with each other cancels out inside: only the border
	// couples them.
	x, err := sparse.Solve(ctx, m.BuildPruned(), rhs)
	if err != nil {
		return nil, err
	}
	uv := make([]r2.Vec, n)
	at := func(i int) float64 {
		if index[i] >= 0 {
			return x[index[i]]
		}
		return held[i]
	}
	for v := range uv {
		uv[v] = r2.Vec{X: at(2 * v), Y: at(2*v + 1)}
	}
	TrueScale(p, uv)
	return uv, nil
}

// farVertices returns two vertices of the border far from each other.
func farVertices(p *mesh.Patch) (a, b int) {
	var rim []int
	for _, loop := range p.Borders() {
		for _, c := range loop {
			rim = append(rim, int(p.CornerVert[c]))
		}
	}
	if len(rim) == 0 {
		return 0, len(p.Pos) - 1
	}
	furthest := func(from int) int {
		best, far := from, -1.0
		for _, v := range rim {
			if d := r3.Norm2(r3.Sub(p.Pos[v], p.Pos[from])); d > far*(1+1e-9) && v != from {
				best, far = v, d
			}
		}
		return best
	}
	a = furthest(rim[0])
	b = furthest(a)
	return a, b
}

// Tutte maps a disk into a circle: border by arc length, inside by positive
// weights. It is injective whatever the surface is.
func Tutte(ctx context.Context, p *mesh.Patch) ([]r2.Vec, error) {
	uv := make([]r2.Vec, len(p.Pos))
	fixed := make([]bool, len(p.Pos))
	loops := p.Borders()
	if len(loops) == 0 {
		return nil, ErrNotDisk
	}
	loop := loops[0]
	var total float64
	lengths := make([]float64, len(loop))
	for i, c := range loop {
		a, b := p.Ends(c)
		lengths[i] = r3.Norm(r3.Sub(p.Pos[b], p.Pos[a]))
		total += lengths[i]
	}
	least := total / float64(len(loop)) * 1e-3
	total = 0
	for i := range lengths {
		lengths[i] = max(lengths[i], least)
		total += lengths[i]
	}
	var run float64
	for i, c := range loop {
		s, co := math.Sincos(2 * math.Pi * run / total)
		v := p.CornerVert[c]
		uv[v], fixed[v] = r2.Vec{X: co, Y: s}, true
		run += lengths[i]
	}
	index := make([]int, len(p.Pos))
	free := 0
	for v := range index {
		index[v] = -1
		if !fixed[v] {
			index[v] = free
			free++
		}
	}
	if free > 0 {
		m := sparse.NewBuilder(free, 6*len(p.Tris))
		bx, by := make([]float64, free), make([]float64, free)
		scale := math.Sqrt(p.Area()/float64(len(p.Tris))) * 1e-3
		for _, t := range p.Tris {
			for k := range 3 {
				i, j := int(t[k]), int(t[(k+1)%3])
				w := 1 / max(r3.Norm(r3.Sub(p.Pos[i], p.Pos[j])), scale)
				for range 2 {
					if index[i] >= 0 {
						m.Add(index[i], index[i], w/2)
						if index[j] < 0 {
							bx[index[i]] += w / 2 * uv[j].X
							by[index[i]] += w / 2 * uv[j].Y
						}
					}
					i, j = j, i
				}
				if index[i] >= 0 && index[j] >= 0 {
					m.Add(index[i], index[j], -w/2)
				}
			}
		}
		a := m.Build()
		f, err := sparse.Analyze(a).Factor(ctx, a)
		if err != nil {
			return nil, err
		}
		x, y := f.Solve(bx), f.Solve(by)
		for v, i := range index {
			if i >= 0 {
				uv[v] = r2.Vec{X: x[i], Y: y[i]}
			}
		}
	}
	TrueScale(p, uv)
	return uv, nil
}
