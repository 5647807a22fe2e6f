package flatten

import (
	"context"
	"errors"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
)

// ErrNotDisk is returned for a patch that needs a cut before it can lie flat.
var ErrNotDisk = errors.New("the faces do not form a disk: an opening is missing")

// Method names what a map makes small.
type Method string

// The methods of flattening.
const (
	Conformal Method = "conformal"   // angles, by least squares
	ByAngles  Method = "angle-based" // angles, relative to themselves
	ByLength  Method = "isometric"   // lengths: as rigid as possible
	Even      Method = "even"        // lengths, and no triangle far from the others: symmetric Dirichlet
)

// Methods lists all methods.
var Methods = []Method{ByLength, Even, Conformal, ByAngles}

// Flatten lays a disk flat: conformal start, or Tutte's where that folds, then what the
// method asks for. The result has no flipped triangles unless the patch is degenerate
// or the constraints ask for it; Flips says so.
func Flatten(ctx context.Context, p *mesh.Patch, s Settings) (Result, error) {
	if !p.IsDisk() {
		return Result{}, ErrNotDisk
	}
	if _, err := s.Keep.reduce(make([]r2.Vec, len(p.Pos))); err != nil {
		return Result{}, err
	}
	g := measured(p)
	start, words, err := g.begin(ctx, s)
	if err != nil {
		return Result{}, err
	}
	if words != "" && words == string(s.Method) { // the start is what was asked for
		r := Result{UV: start, Method: words}
		if s.Progress != nil {
			s.Progress(Step{Iteration: 1, Worst: g.worst(start), UV: start})
		}
		return r, nil
	}
	r, err := g.improve(ctx, s.Keep.facing(start), s)
	if err == nil && words != "" {
		r.Method = words
	}
	return r, err
}

// Improve makes a map better by a method that goes on from a start: Isometric or Even.
// The patch need not be a disk.
func Improve(ctx context.Context, p *mesh.Patch, start []r2.Vec, s Settings) (Result, error) {
	return measured(p).improve(ctx, start, s)
}

// begin returns a map to start from and, where it is not the usual one, words for it.
func (g *surface) begin(ctx context.Context, s Settings) (uv []r2.Vec, words string, err error) {
	solve := g.conformal
	if s.Method == ByAngles {
		solve = g.angleBased
	}
	angles := s.Method == ByAngles || s.Method == Conformal
	keep := &Constraints{}
	if angles {
		keep = &s.Keep
	}
	uv, err = solve(ctx, keep)
	switch {
	case ctx.Err() != nil:
		return nil, "", ctx.Err()
	case errors.Is(err, ErrConflict):
		return nil, "", err
	case err == nil && finite(uv) && g.flips(uv) == 0:
		if angles {
			words = string(s.Method)
		}
		return uv, words, nil
	}
	uv, err = Tutte(ctx, g.Patch)
	return uv, "isometric from a round border", err
}

// collapsed is how far a triangle may be squeezed before the whole map is improved by
// the energy that pays for it.
const collapsed = 4

func (g *surface) improve(ctx context.Context, start []r2.Vec, s Settings) (Result, error) {
	first := s
	if s.Method == Even { // only what helps the other energy on its way
		first.MaxIterations = 10
		if s.MaxIterations > 0 {
			first.MaxIterations = min(10, s.MaxIterations)
		}
	}
	r, err := g.isometric(ctx, start, first.within(120, 1e-5))
	if err != nil || r.Flips > 0 {
		return r, err
	}
	if s.Method != Even && g.worst(r.UV) < collapsed {
		return r, nil
	}
	// ARAP lets single triangles collapse; the symmetric Dirichlet energy does not.
	next := s
	if s.MaxIterations > 0 {
		if next.MaxIterations = s.MaxIterations - r.Iterations; next.MaxIterations <= 0 {
			return r, nil
		}
	}
	if s.Progress != nil {
		next.Progress = func(p Step) {
			p.Iteration += r.Iterations
			p.Phase = 1
			s.Progress(p)
		}
	}
	better, err := g.symmetricDirichlet(ctx, r.UV, next.within(40, 1e-4))
	if err != nil || better.Flips > 0 {
		return r, ctx.Err()
	}
	better.Iterations += r.Iterations
	if s.Method == Even {
		better.Method = "even"
	}
	return better, nil
}
