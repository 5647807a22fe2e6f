package flatten

import (
	"context"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
	"morvek/core/sparse"
)

// Isometric improves a map by ARAP iterations (Liu et al. 2008) under the constraints
// of the settings: where the start breaks them, it is brought to them first.
func Isometric(ctx context.Context, p *mesh.Patch, start []r2.Vec, s Settings) (Result, error) {
	return measured(p).isometric(ctx, start, s.within(120, 1e-5))
}

func (g *surface) isometric(ctx context.Context, start []r2.Vec, s Settings) (Result, error) {
	e, err := g.rigid(ctx, start, &s.Keep)
	if err != nil {
		return Result{}, err
	}
	if start, err = e.settle(ctx, start, s); err != nil {
		return Result{}, err
	}
	r, err := descend(ctx, g, e, start, s)
	r.Method = "isometric"
	return r, err
}

// rigid is the energy Σ A·|J − R|² per area, R the rotation nearest to J: as rigid as
// possible. Its steps are one solve with a factor that is kept.
type rigid struct {
	g       *surface
	r       [2]reduced
	solver  [2]*sparse.Solver // one of both where both axes leave the same free
	known   [2][]float64
	afloat  [2]bool // nothing holds the axis: its first unknown stays where it is
	start   []r2.Vec
	springs []float64
	turn    []r2.Vec     // cosine and sine per triangle
	full    [2][]float64 // right-hand sides over all vertices
	ahead   anderson
}

func (g *surface) rigid(ctx context.Context, start []r2.Vec, keep *Constraints) (*rigid, error) {
	e := &rigid{g: g, start: start, turn: make([]r2.Vec, len(g.Tris))}
	var err error
	if e.r, err = keep.reduce(start); err != nil {
		return nil, err
	}
	n := len(g.Pos)
	e.springs = keep.springs(g.stiff())
	for axis := range 2 {
		e.full[axis] = make([]float64, n)
		r := &e.r[axis]
		e.afloat[axis] = !slices.ContainsFunc(e.springs, func(k float64) bool { return k > 0 })
		for _, k := range r.index {
			e.afloat[axis] = e.afloat[axis] && k != held
		}
		if axis == 1 && e.r[0].same(r) && e.afloat[0] == e.afloat[1] {
			e.solver[1] = e.solver[0]
			e.known[1] = g.stiffness(r, e.springs, false).known
			break
		}
		if r.free == 0 {
			continue
		}
		s := g.stiffness(r, e.springs, e.afloat[axis])
		e.known[axis] = s.known
		m := s.b.Build()
		if e.solver[axis], err = sparse.Analyze(m).Solver(ctx, m, sparse.MostFill); err != nil {
			return nil, err
		}
	}
	return e, nil
}

// stiff is the mean stiffness of a vertex.
func (g *surface) stiff() (mean float64) {
	for t := range g.el {
		for k := range 3 {
			mean += g.el[t].area * r2.Norm2(g.el[t].grad[k])
		}
	}
	return mean / float64(max(1, len(g.Pos)))
}

// stiffness is the Laplacian of the surface for one axis.
func (g *surface) stiffness(r *reduced, springs []float64, afloat bool) *system {
	s := newSystem(r, 6*len(g.Tris))
	for t, tri := range g.Tris {
		e := &g.el[t]
		for i := range 3 {
			for j := i; j < 3; j++ {
				s.add(int(tri[i]), int(tri[j]), e.area*r2.Dot(e.grad[i], e.grad[j]))
			}
		}
	}
	for v, k := range springs {
		s.add(v, v, k)
	}
	if afloat { // holds one unknown without changing the rest: the right-hand sides sum to zero
		s.b.Add(0, 0, 1)
	}
	return s
}

func (e *rigid) at(uv []r2.Vec) float64 {
	g := e.g
	total := sum(len(g.Tris), func(lo, hi int) (sum float64) {
		for t := lo; t < hi; t++ {
			j := g.jacobian(t, uv)
			c, s := j[0]+j[3], j[2]-j[1]
			// |J − R|² = |J|² − 2 R:J + 2, and R:J is the norm of (c, s).
			sum += g.el[t].area * max(0, j[0]*j[0]+j[1]*j[1]+j[2]*j[2]+j[3]*j[3]-2*math.Sqrt(c*c+s*s)+2)
		}
		return sum
	})
	return (total + strain(e.springs, e.start, uv)) / g.area
}

// strain is the energy of the springs.
func strain(springs []float64, start, uv []r2.Vec) (sum float64) {
	for v, k := range springs {
		sum += k * r2.Norm2(r2.Sub(uv[v], start[v]))
	}
	return sum
}

func (e *rigid) step(ctx context.Context, uv []r2.Vec) (step, bold []r2.Vec, err error) {
	to, err := e.target(ctx, uv)
	if err != nil {
		return nil, nil, err
	}
	step = difference(to, uv)
	if far := e.ahead.guess(step, to); far != nil {
		bold = difference(far, uv)
	}
	return step, bold, nil
}

// target solves for where the vertices would be if each triangle were only turned.
func (e *rigid) target(ctx context.Context, uv []r2.Vec) ([]r2.Vec, error) {
	g := e.g
	sum(len(g.Tris), func(lo, hi int) float64 {
		for t := lo; t < hi; t++ {
			c, s := rotation(g.jacobian(t, uv))
			e.turn[t] = r2.Vec{X: c * g.el[t].area, Y: s * g.el[t].area}
		}
		return 0
	})
	bu, bv := e.full[0], e.full[1]
	clear(bu)
	clear(bv)
	for t, tri := range g.Tris {
		r := e.turn[t]
		for k, v := range tri {
			d := g.el[t].grad[k]
			bu[v] += r.X*d.X - r.Y*d.Y
			bv[v] += r.Y*d.X + r.X*d.Y
		}
	}
	for v, k := range e.springs {
		bu[v] += k * e.start[v].X
		bv[v] += k * e.start[v].Y
	}
	var x [2][]float64
	u, v := e.r[0].gather(bu, e.known[0]), e.r[1].gather(bv, e.known[1])
	if e.solver[0] != nil && e.solver[0] == e.solver[1] {
		both, err := e.solver[0].Solve(ctx, u, v)
		if err != nil {
			return nil, err
		}
		x[0], x[1] = both[0], both[1]
	} else {
		for axis, b := range [2][]float64{u, v} {
			if e.solver[axis] == nil {
				continue
			}
			one, err := e.solver[axis].Solve(ctx, b)
			if err != nil {
				return nil, err
			}
			x[axis] = one[0]
		}
	}
	for axis := range 2 { // what floats keeps its first unknown where it is
		if e.afloat[axis] && len(x[axis]) > 0 {
			shift := coordinate(uv[0], axis) - x[axis][0]
			for i := range x[axis] {
				x[axis][i] += shift
			}
		}
	}
	out := make([]r2.Vec, len(uv))
	for i := range out {
		out[i] = r2.Vec{X: e.r[0].at(x[0], i), Y: e.r[1].at(x[1], i)}
	}
	return out, nil
}

// settling is how many shortened steps may lead to the constraints, unless somebody says.
const settling = 60

// settle brings a map to its constraints without turning a triangle over where that can
// be: by steps toward the nearest rigid map that keeps them. Where it cannot, what is
// kept is kept and some triangles turn over.
func (e *rigid) settle(ctx context.Context, start []r2.Vec, s Settings) ([]r2.Vec, error) {
	if s.Keep.none() {
		return start, nil
	}
	flips := e.g.flips(start)
	if near, kept := snapped(e.r, start); kept || e.g.flips(near) <= flips {
		return near, nil
	}
	uv := start
	steps := settling
	if s.Settle > 0 {
		steps = s.Settle
	}
	for range steps {
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		to, err := e.target(ctx, uv)
		if err != nil {
			return nil, err
		}
		if e.g.flips(to) <= flips {
			return to, nil
		}
		step := make([]r2.Vec, len(uv))
		for v := range step {
			step[v] = r2.Sub(to[v], uv[v])
		}
		reach := e.g.freeStep(uv, step)
		next := make([]r2.Vec, len(uv))
		for v := range next {
			next[v] = r2.Add(uv[v], r2.Scale(reach, step[v]))
		}
		uv = next
	}
	return e.target(ctx, uv)
}
