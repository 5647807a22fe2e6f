package flatten

import (
	"context"
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
)

// Step is how far a map has come.
type Step struct {
	Iteration int
	Phase     int      // 0, or 1 once a second energy took over: they do not compare
	Energy    float64  // of the phase, 0 or 1 for an isometry
	Worst     float64  // L∞: how far the most squeezed triangle is squeezed
	UV        []r2.Vec // the map itself; not to be changed or kept
}

// Settings bound the iterations.
type Settings struct {
	Method        Method  // "" means Isometric
	MaxIterations int     // 0 means what suits the method
	Tolerance     float64 // relative fall of the energy at which to stop; 0 means what suits the method
	Keep          Constraints
	Settle        int        // steps that may lead a start to its constraints; 0 means 60
	Progress      func(Step) // called after each iteration, never concurrently
}

func (s Settings) within(iterations int, tolerance float64) Settings {
	if s.MaxIterations == 0 {
		s.MaxIterations = iterations
	}
	if s.Tolerance == 0 {
		s.Tolerance = tolerance
	}
	return s
}

// Result is a flat map in model units with how it came about.
type Result struct {
	UV         []r2.Vec
	Method     string // what it is, in words
	Iterations int
	Energy     float64
	Flips      int // triangles turned over, thin ones apart
}

// enough is the fall of the energy below which going on shows nowhere: it moves
// stretch in the fifth digit.
const enough = 1e-8

// energy is what a method makes small.
type energy interface {
	// at returns the energy of a map, +Inf where it must not go.
	at(uv []r2.Vec) float64
	// step returns the way to where the next, simpler problem has its least, and perhaps a
	// bolder one that may lead too far.
	step(ctx context.Context, uv []r2.Vec) (step, bold []r2.Vec, err error)
}

// descend follows an energy down. Each step is shortened so that no triangle turns over
// (Smith & Schaefer 2015), so a start without flips ends without flips. The energy
// never rises.
func descend(ctx context.Context, g *surface, e energy, start []r2.Vec, s Settings) (Result, error) {
	r := Result{UV: append([]r2.Vec(nil), start...), Flips: g.flips(start)}
	r.Energy = e.at(r.UV)
	for r.Iterations < s.MaxIterations && !math.IsInf(r.Energy, 1) {
		if ctx.Err() != nil {
			return Result{}, ctx.Err()
		}
		step, bold, err := e.step(ctx, r.UV)
		if err != nil {
			return Result{}, err
		}
		r.Iterations++
		next, now, ok := g.leap(e, &r, bold)
		if !ok {
			next, now, ok = g.search(e, &r, step)
		}
		if !ok {
			break
		}
		fell := r.Energy - now
		r.UV, r.Energy = next, now
		if s.Progress != nil {
			s.Progress(Step{Iteration: r.Iterations, Energy: now, Worst: g.worst(next), UV: next})
		}
		if fell <= s.Tolerance*now || fell < enough {
			break
		}
	}
	r.Flips = g.flips(r.UV)
	return r, ctx.Err()
}

// leap goes a whole bold step where nothing turns over on the way and the energy falls.
func (g *surface) leap(e energy, r *Result, step []r2.Vec) (next []r2.Vec, now float64, ok bool) {
	if step == nil || r.Flips > 0 || g.freeStep(r.UV, step) < 1 {
		return nil, 0, false
	}
	next = make([]r2.Vec, len(step))
	for v := range next {
		next[v] = r2.Add(r.UV[v], step[v])
	}
	now = e.at(next)
	return next, now, now <= r.Energy
}

// search goes along a step as far as the energy falls and nothing more turns over.
func (g *surface) search(e energy, r *Result, step []r2.Vec) (next []r2.Vec, now float64, ok bool) {
	reach := g.freeStep(r.UV, step)
	next = make([]r2.Vec, len(step))
	for range 12 {
		for v := range next {
			next[v] = r2.Add(r.UV[v], r2.Scale(reach, step[v]))
		}
		if now = e.at(next); now <= r.Energy && (r.Flips == 0 || g.flips(next) <= r.Flips) {
			return next, now, true
		}
		reach /= 2
	}
	return nil, 0, false
}

// freeStep returns the part of a step, at most 1, in which no triangle that is the
// right way up turns over.
func (g *surface) freeStep(uv, step []r2.Vec) float64 {
	parts := make([]float64, (len(g.Tris)+share-1)/share)
	sum(len(g.Tris), func(lo, hi int) float64 {
		reach := 1.0
		for i := lo; i < hi; i++ {
			if g.el[i].thin {
				continue
			}
			t := g.Tris[i]
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
		parts[lo/share] = reach
		return 0
	})
	reach := 1.0
	for _, p := range parts {
		reach = min(reach, p)
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

// Shorten returns the part of a step, at most 1, in which no triangle of a map turns
// over; 1 where the whole step is free.
func Shorten(p *mesh.Patch, uv, step []r2.Vec) float64 { return measured(p).freeStep(uv, step) }
