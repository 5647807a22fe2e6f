package sparse

import "context"

// MostFill is how many numbers a factor may have: two gigabytes of them.
const MostFill = 250_000_000

// Solver solves a system by its factor or, where that would not fit into memory, by
// conjugate gradients.
type Solver struct {
	f *Factor
	a *Symmetric
}

// Solver factors a matrix with the analysed pattern if the factor has at most that many
// numbers. A matrix that is not factored must be positive definite.
func (s *Symbolic) Solver(ctx context.Context, a *Symmetric, fill int) (*Solver, error) {
	if s.Fill() > fill {
		return &Solver{a: a}, nil
	}
	f, err := s.Factor(ctx, a)
	if err != nil {
		return nil, err
	}
	return &Solver{f: f}, nil
}

// Iterates tells whether it works without a factor.
func (s *Solver) Iterates() bool { return s.f == nil }

// accuracy is how small the residual of an iterative solution is, relative to that of
// zero; it is reached in some hundred steps or not at all.
const (
	accuracy  = 1e-10
	mostSteps = 20000
)

// Solve returns the solutions for several right-hand sides.
func (s *Solver) Solve(ctx context.Context, b ...[]float64) ([][]float64, error) {
	if s.f != nil {
		return s.f.SolveAll(b...), nil
	}
	out := make([][]float64, len(b))
	for i := range b {
		var err error
		if out[i], _, err = ConjugateGradients(ctx, s.a, b[i], accuracy, mostSteps); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// Solve solves for one right-hand side.
func Solve(ctx context.Context, a *Symmetric, b []float64) ([]float64, error) {
	s, err := Analyze(a).Solver(ctx, a, MostFill)
	if err != nil {
		return nil, err
	}
	x, err := s.Solve(ctx, b)
	if err != nil {
		return nil, err
	}
	return x[0], nil
}
