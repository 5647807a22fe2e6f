package flatten

import (
	"context"
	"errors"
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
	"morvek/core/sparse"
)

// ErrNotDisk is returned for a patch that needs a cut before it can lie flat.
var ErrNotDisk = errors.New("the faces do not form a disk: an opening is missing")

// Progress is called after each iteration; energy is the ARAP energy per area.
type Progress func(iteration int, energy float64)

// Settings bound the iterations.
type Settings struct {
	MaxIterations int     // 0 means 120
	Tolerance     float64 // relative fall of the energy at which to stop; 0 means 1e-5
	Progress      Progress
}

// enough is the fall of the energy below which going on shows nowhere: it moves
// stretch in the fifth digit.
const enough = 1e-8

// Result is a flat map in model units with how it came about.
type Result struct {
	UV         []r2.Vec
	Method     string // isometric, or what it fell back to
	Iterations int
	Energy     float64
	Flips      int
}

// Flatten lays a disk flat: conformal start, or Tutte's where that folds, then
// as isometric as it gets. The result has no flipped triangles unless the
// patch is degenerate; Flips says so.
func Flatten(ctx context.Context, p *mesh.Patch, s Settings) (Result, error) {
	if !p.IsDisk() {
		return Result{}, ErrNotDisk
	}
	el := elements(p)
	start, err := lscm(ctx, p, el)
	if ctx.Err() != nil {
		return Result{}, ctx.Err()
	}
	method := "isometric"
	if err != nil || flips(p, el, start) > 0 || degenerate(start) {
		if start, err = Tutte(ctx, p); err != nil {
			return Result{}, err
		}
		method = "isometric from a round border"
	}
	r, err := isometric(ctx, p, el, start, s)
	r.Method = method
	if err != nil || r.Flips > 0 || squeezed(p, el, r.UV) < collapsed {
		return r, err
	}
	// ARAP lets single triangles collapse; the symmetric Dirichlet energy does not.
	better, err := symmetricDirichlet(ctx, p, el, r.UV, Settings{MaxIterations: s.MaxIterations, Tolerance: s.Tolerance})
	if err != nil || better.Flips > 0 {
		return r, ctx.Err()
	}
	better.Iterations += r.Iterations
	better.Method = method
	return better, nil
}

// collapsed is how far a triangle may be squeezed before the whole map is improved by
// the energy that pays for it.
const collapsed = 4

func degenerate(uv []r2.Vec) bool {
	for _, q := range uv {
		if math.IsNaN(q.X+q.Y) || math.IsInf(q.X+q.Y, 0) {
			return true
		}
	}
	return false
}

// Isometric improves a map by ARAP iterations, each step shortened so that no
// triangle turns over (Smith & Schaefer 2015), so a start without flips ends
// without flips. The energy never rises.
func Isometric(ctx context.Context, p *mesh.Patch, start []r2.Vec, s Settings) (Result, error) {
	return isometric(ctx, p, elements(p), start, s)
}

func isometric(ctx context.Context, p *mesh.Patch, el []element, start []r2.Vec, s Settings) (Result, error) {
	if s.MaxIterations == 0 {
		s.MaxIterations = 120
	}
	if s.Tolerance == 0 {
		s.Tolerance = 1e-5
	}
	n := len(p.Pos)
	b := sparse.NewBuilder(n, 6*len(p.Tris)+n)
	var area float64
	for t, tri := range p.Tris {
		e := &el[t]
		area += e.area
		for i := range 3 {
			for j := i; j < 3; j++ {
				b.Add(int(tri[i]), int(tri[j]), e.area*r2.Dot(e.grad[i], e.grad[j]))
			}
		}
	}
	for v := range n {
		b.Add(v, v, 0)
	}
	b.Add(0, 0, 1) // holds vertex 0 without changing the rest: the right-hand sides sum to zero
	m := b.Build()
	f, err := sparse.Analyze(m).Factor(ctx, m)
	if err != nil {
		return Result{}, err
	}
	r := Result{UV: append([]r2.Vec(nil), start...)}
	r.Energy = arapEnergy(p, el, r.UV) / area
	// target solves for where the vertices would be if each triangle were only turned.
	bu, bv := make([]float64, n), make([]float64, n)
	target := func(uv []r2.Vec) []r2.Vec {
		clear(bu)
		clear(bv)
		for t, tri := range p.Tris {
			e := &el[t]
			c, sn := rotation(e, uv, tri)
			for k, v := range tri {
				g := e.grad[k]
				bu[v] += e.area * (c*g.X - sn*g.Y)
				bv[v] += e.area * (sn*g.X + c*g.Y)
			}
		}
		xy := f.SolveAll(bu, bv)
		o := uv[0] // the solve puts vertex 0 at the origin
		out := make([]r2.Vec, n)
		for v := range out {
			out[v] = r2.Vec{X: xy[0][v] + o.X, Y: xy[1][v] + o.Y}
		}
		return out
	}
	for r.Iterations < s.MaxIterations {
		if ctx.Err() != nil {
			return Result{}, ctx.Err()
		}
		step := target(r.UV)
		for v := range step {
			step[v] = r2.Sub(step[v], r.UV[v])
		}
		reach := freeStep(p, el, r.UV, step)
		next := make([]r2.Vec, n)
		var energy float64
		accepted := false
		for range 8 {
			for v := range next {
				next[v] = r2.Add(r.UV[v], r2.Scale(reach, step[v]))
			}
			energy = arapEnergy(p, el, next) / area
			if energy <= r.Energy && flips(p, el, next) <= r.Flips {
				accepted = true
				break
			}
			reach /= 2
		}
		r.Iterations++
		if !accepted {
			break
		}
		fell := r.Energy - energy
		r.UV, r.Energy = next, energy
		if s.Progress != nil {
			s.Progress(r.Iterations, energy)
		}
		if fell <= s.Tolerance*energy || fell < enough {
			break
		}
	}
	r.Flips = flips(p, el, r.UV)
	return r, nil
}

// rotation returns cosine and sine of the rotation closest to the Jacobian.
func rotation(e *element, uv []r2.Vec, tri [3]int32) (c, s float64) {
	j := jacobian(e, uv, tri)
	c, s = j[0]+j[3], j[2]-j[1]
	l := math.Hypot(c, s)
	if l == 0 {
		return 1, 0
	}
	return c / l, s / l
}

// jacobian returns the map triangle → sheet as rows (∂u, ∂v).
func jacobian(e *element, uv []r2.Vec, tri [3]int32) (j [4]float64) {
	for k, v := range tri {
		j[0] += uv[v].X * e.grad[k].X
		j[1] += uv[v].X * e.grad[k].Y
		j[2] += uv[v].Y * e.grad[k].X
		j[3] += uv[v].Y * e.grad[k].Y
	}
	return j
}

func arapEnergy(p *mesh.Patch, el []element, uv []r2.Vec) float64 {
	var sum float64
	for t, tri := range p.Tris {
		e := &el[t]
		j := jacobian(e, uv, tri)
		c, s := j[0]+j[3], j[2]-j[1]
		l := math.Hypot(c, s)
		// |J − R|² = |J|² − 2 R:J + 2, and R:J is the norm of (c, s).
		sum += e.area * max(0, j[0]*j[0]+j[1]*j[1]+j[2]*j[2]+j[3]*j[3]-2*l+2)
	}
	return sum
}

// freeStep returns the part of a step, at most 1, that no triangle that is the
// right way up turns over in.
func freeStep(p *mesh.Patch, el []element, uv, step []r2.Vec) float64 {
	reach := 1.0
	for i, t := range p.Tris {
		if el[i].thin {
			continue
		}
		a, b := r2.Sub(uv[t[1]], uv[t[0]]), r2.Sub(uv[t[2]], uv[t[0]])
		da, db := r2.Sub(step[t[1]], step[t[0]]), r2.Sub(step[t[2]], step[t[0]])
		c0 := r2.Cross(a, b)
		if c0 <= 0 {
			continue
		}
		if root := firstRoot(r2.Cross(da, db), r2.Cross(a, db)+r2.Cross(da, b), c0); root*0.9 < reach {
			reach = root * 0.9
		}
	}
	return reach
}

// firstRoot returns the smallest positive root of a·t² + b·t + c, c > 0.
func firstRoot(a, b, c float64) float64 {
	if math.Abs(a) < 1e-14*(math.Abs(b)+c) {
		if b >= 0 {
			return math.Inf(1)
		}
		return -c / b
	}
	d := b*b - 4*a*c
	if d < 0 {
		return math.Inf(1)
	}
	q := -(b + math.Copysign(math.Sqrt(d), b)) / 2
	best := math.Inf(1)
	for _, r := range []float64{q / a, c / q} {
		if r > 0 && r < best {
			best = r
		}
	}
	return best
}
