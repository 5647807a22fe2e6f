package flatten

import (
	"context"
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
	"morvek/core/sparse"
)

// SymmetricDirichlet improves a map that turns no triangle over by the symmetric
// Dirichlet energy (σ₁²+σ₂²+σ₁⁻²+σ₂⁻²)/4, 1 for an isometry, which grows without bound
// where a triangle is about to collapse. Steps are those of a reweighted isometric
// problem (Rabinovich et al. 2017).
func SymmetricDirichlet(ctx context.Context, p *mesh.Patch, start []r2.Vec, s Settings) (Result, error) {
	return measured(p).symmetricDirichlet(ctx, start, s.within(40, 1e-4))
}

func (g *surface) symmetricDirichlet(ctx context.Context, start []r2.Vec, s Settings) (Result, error) {
	e := &dirichlet{g: g, start: start, springs: s.Keep.springs(g.stiff())}
	for t := range g.el {
		if !g.el[t].thin {
			e.judged += g.el[t].area
		}
	}
	e.judged = max(e.judged, 1e-300)
	r, err := s.Keep.reduce(start)
	if err != nil {
		return Result{}, err
	}
	if _, kept := snapped(r, start); !kept {
		lead, err := g.rigid(ctx, start, &s.Keep)
		if err != nil {
			return Result{}, err
		}
		if start, err = lead.settle(ctx, start, s); err != nil {
			return Result{}, err
		}
	}
	e.r = interleave(r)
	clear(e.r.value) // the system is for steps: what is held makes none
	out, err := descend(ctx, g, e, start, s)
	out.Method = "isometric"
	return out, err
}

type dirichlet struct {
	g       *surface
	r       reduced
	springs []float64
	judged  float64 // area of the triangles that are not thin
	start   []r2.Vec
	plan    *sparse.Symbolic
}

// at is the mean of (|J|²+|J⁻¹|²)/4 by area, +Inf if a triangle that can be judged is
// turned over.
func (e *dirichlet) at(uv []r2.Vec) float64 {
	g := e.g
	total := sum(len(g.Tris), func(lo, hi int) (sum float64) {
		for t := lo; t < hi; t++ {
			if g.el[t].thin {
				continue
			}
			j := g.jacobian(t, uv)
			det := j[0]*j[3] - j[1]*j[2]
			if det <= 0 {
				return math.Inf(1)
			}
			size := j[0]*j[0] + j[1]*j[1] + j[2]*j[2] + j[3]*j[3]
			sum += g.el[t].area * size * (1 + 1/(det*det)) / 4
		}
		return sum
	})
	return (total + strain(e.springs, e.start, uv)) / e.judged
}

// step solves the quadratic problem that follows the energy: per triangle
// A·|W(J−R)|², R the rotation nearest to J and W such that its gradient is that of the
// energy. The unknowns are the steps of U and V of each vertex, a little held back.
func (e *dirichlet) step(ctx context.Context, uv []r2.Vec) (step, bold []r2.Vec, err error) {
	g := e.g
	s := newSystem(&e.r, 21*len(g.Tris)+2*len(uv))
	full := make([]float64, 2*len(uv))
	var trace float64
	for t, tri := range g.Tris {
		el := &g.el[t]
		if el.thin {
			continue
		}
		j := g.jacobian(t, uv)
		q := weight(j)
		cos, sin := rotation(j)
		// What is left between J and R, weighted: columns for x and y.
		dx, dy := r2.Vec{X: cos - j[0], Y: sin - j[2]}, r2.Vec{X: -sin - j[1], Y: cos - j[3]}
		wx, wy := q.times(dx), q.times(dy)
		for i := range 3 {
			vi := 2 * int(tri[i])
			d := el.grad[i]
			full[vi] += el.area * (d.X*wx.X + d.Y*wy.X)
			full[vi+1] += el.area * (d.X*wx.Y + d.Y*wy.Y)
			for k := range 3 {
				vk := 2 * int(tri[k])
				x := el.area * r2.Dot(d, el.grad[k])
				if i <= k {
					s.add(vi, vk, x*q.a)
					s.add(vi+1, vk+1, x*q.c)
				}
				if i == k {
					trace += x * (q.a + q.c)
				}
				s.add(vi, vk+1, x*q.b)
			}
		}
	}
	for v, k := range e.springs {
		for axis := range 2 {
			s.add(2*v+axis, 2*v+axis, 4*k)
			full[2*v+axis] += 4 * k * (coordinate(e.start[v], axis) - coordinate(uv[v], axis))
		}
	}
	hold := 1e-6 * trace / float64(max(1, 2*len(uv)))
	for i := range e.r.free {
		s.b.Add(i, i, hold)
	}
	step = make([]r2.Vec, len(uv))
	if e.r.free == 0 {
		return step, nil, nil
	}
	m := s.b.Build()
	if e.plan == nil {
		e.plan = sparse.Analyze(m)
	}
	solver, err := e.plan.Solver(ctx, m, sparse.MostFill)
	if err != nil {
		return nil, nil, err
	}
	all, err := solver.Solve(ctx, e.r.gather(full, s.known))
	if err != nil {
		return nil, nil, err
	}
	x := all[0]
	for v := range step {
		step[v] = r2.Vec{X: e.r.at(x, 2*v), Y: e.r.at(x, 2*v+1)}
	}
	return step, nil, nil
}

// square is a symmetric 2 × 2 matrix (a b; b c).
type square struct{ a, b, c float64 }

func (q square) times(v r2.Vec) r2.Vec {
	return r2.Vec{X: q.a*v.X + q.b*v.Y, Y: q.b*v.X + q.c*v.Y}
}

// weight returns W² of a Jacobian: in its own frame (σ−σ⁻³)/(σ−1), 4 for an isometry.
func weight(j [4]float64) square {
	a, b, d := j[0]*j[0]+j[1]*j[1], j[0]*j[2]+j[1]*j[3], j[2]*j[2]+j[3]*j[3]
	mean, half := (a+d)/2, math.Sqrt((a-d)*(a-d)/4+b*b)
	det := j[0]*j[3] - j[1]*j[2]
	s1 := math.Sqrt(mean + half)
	s2 := det / max(s1, 1e-300) // exact where mean − half would cancel
	w := func(s float64) float64 {
		if math.Abs(s-1) < 1e-4 {
			return 4
		}
		return (s - 1/(s*s*s)) / (s - 1)
	}
	w1, w2 := w(s1), w(s2)
	sin, cos := math.Sincos(math.Atan2(b, (a-d)/2) / 2)
	return square{w1*cos*cos + w2*sin*sin, (w1 - w2) * cos * sin, w1*sin*sin + w2*cos*cos}
}
