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
// problem (Rabinovich et al. 2017), shortened so that nothing turns over; the energy
// never rises. Settings.MaxIterations of 0 means 40.
func SymmetricDirichlet(ctx context.Context, p *mesh.Patch, start []r2.Vec, s Settings) (Result, error) {
	return symmetricDirichlet(ctx, p, elements(p), start, s)
}

func symmetricDirichlet(ctx context.Context, p *mesh.Patch, el []element, start []r2.Vec, s Settings) (Result, error) {
	if s.MaxIterations == 0 {
		s.MaxIterations = 40
	}
	if s.Tolerance == 0 {
		s.Tolerance = 1e-4
	}
	n := len(p.Pos)
	r := Result{UV: append([]r2.Vec(nil), start...), Method: "isometric", Flips: flips(p, el, start)}
	r.Energy = dirichletEnergy(p, el, r.UV)
	var plan *sparse.Symbolic
	for r.Iterations < s.MaxIterations && !math.IsInf(r.Energy, 1) {
		m, rhs := reweighted(p, el, r.UV)
		if plan == nil {
			plan = sparse.Analyze(m)
		}
		f, err := plan.Factor(ctx, m)
		if err != nil {
			return Result{}, err
		}
		x := f.Solve(rhs)
		step := make([]r2.Vec, n)
		for v := range step {
			step[v] = r2.Vec{X: x[2*v], Y: x[2*v+1]} // the system is for the step itself
		}
		reach := freeStep(p, el, r.UV, step)
		next := make([]r2.Vec, n)
		energy := math.Inf(1)
		for range 12 {
			for v := range next {
				next[v] = r2.Add(r.UV[v], r2.Scale(reach, step[v]))
			}
			if energy = dirichletEnergy(p, el, next); energy < r.Energy {
				break
			}
			reach /= 2
		}
		r.Iterations++
		fell := r.Energy - energy
		if !(fell > 0) {
			break
		}
		r.UV, r.Energy = next, energy
		if s.Progress != nil {
			s.Progress(r.Iterations, energy)
		}
		if fell <= s.Tolerance*energy {
			break
		}
	}
	r.Flips = flips(p, el, r.UV)
	return r, ctx.Err()
}

// dirichletEnergy is the mean of (|J|²+|J⁻¹|²)/4 by area, +Inf if a triangle that can be
// judged is turned over.
func dirichletEnergy(p *mesh.Patch, el []element, uv []r2.Vec) float64 {
	var sum, area float64
	for t, tri := range p.Tris {
		e := &el[t]
		if e.thin {
			continue
		}
		j := jacobian(e, uv, tri)
		det := j[0]*j[3] - j[1]*j[2]
		if det <= 0 {
			return math.Inf(1)
		}
		size := j[0]*j[0] + j[1]*j[1] + j[2]*j[2] + j[3]*j[3]
		sum += e.area * size * (1 + 1/(det*det)) / 4
		area += e.area
	}
	return sum / max(area, 1e-300)
}

// reweighted builds the quadratic problem whose step follows the energy: per triangle
// A·|W(J−R)|², R the rotation nearest to J and W such that its gradient is that of the
// energy. The unknowns are the steps of U and V of each vertex, a little held back.
func reweighted(p *mesh.Patch, el []element, uv []r2.Vec) (*sparse.Symmetric, []float64) {
	n := len(p.Pos)
	b := sparse.NewBuilder(2*n, 21*len(p.Tris)+2*n)
	rhs := make([]float64, 2*n)
	var trace float64
	for t, tri := range p.Tris {
		e := &el[t]
		if e.thin {
			continue
		}
		j := jacobian(e, uv, tri)
		q := weight(j)
		c, s := rotation(e, uv, tri)
		// What is left between J and R, weighted: columns for x and y.
		dx, dy := r2.Vec{X: c - j[0], Y: s - j[2]}, r2.Vec{X: -s - j[1], Y: c - j[3]}
		wx, wy := q.times(dx), q.times(dy)
		for i := range 3 {
			vi := 2 * int(tri[i])
			g := e.grad[i]
			rhs[vi] += e.area * (g.X*wx.X + g.Y*wy.X)
			rhs[vi+1] += e.area * (g.X*wx.Y + g.Y*wy.Y)
			for k := range 3 {
				vk := 2 * int(tri[k])
				d := e.area * r2.Dot(g, e.grad[k])
				if i <= k {
					b.Add(vi, vk, d*q.a)
					b.Add(vi+1, vk+1, d*q.c)
				}
				if i == k {
					trace += d * (q.a + q.c)
					b.Add(vi, vi+1, d*q.b)
				} else {
					b.Add(vi, vk+1, d*q.b)
				}
			}
		}
	}
	hold := 1e-6 * trace / float64(2*n)
	for v := range 2 * n {
		b.Add(v, v, hold)
	}
	return b.Build(), rhs
}

// square is a symmetric 2 × 2 matrix (a b; b c).
type square struct{ a, b, c float64 }

func (q square) times(v r2.Vec) r2.Vec {
	return r2.Vec{X: q.a*v.X + q.b*v.Y, Y: q.b*v.X + q.c*v.Y}
}

// weight returns W² of a Jacobian: in its own frame (σ−σ⁻³)/(σ−1), 4 for an isometry.
func weight(j [4]float64) square {
	a, b, d := j[0]*j[0]+j[1]*j[1], j[0]*j[2]+j[1]*j[3], j[2]*j[2]+j[3]*j[3]
	mean, half := (a+d)/2, math.Hypot((a-d)/2, b)
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

// squeezed is how far the most squeezed triangle is: the largest 1/σ of the map from
// the surface to the sheet.
func squeezed(p *mesh.Patch, el []element, uv []r2.Vec) (worst float64) {
	for t, tri := range p.Tris {
		if el[t].thin {
			continue
		}
		j := jacobian(&el[t], uv, tri)
		det := math.Abs(j[0]*j[3] - j[1]*j[2])
		size := j[0]*j[0] + j[1]*j[1] + j[2]*j[2] + j[3]*j[3]
		// σ₁² ≤ |J|², so σ₂ ≥ det/|J|.
		worst = max(worst, math.Sqrt(size)/max(det, 1e-300))
	}
	return worst
}
