package sparse

import "morvek/core/parallel"

// Solve returns the solution of A·x = b.
func (f *Factor) Solve(b []float64) []float64 { return f.SolveAll(b)[0] }

// SolveAll returns the solutions for several right-hand sides, side by side.
func (f *Factor) SolveAll(b ...[]float64) [][]float64 {
	s := f.s
	x := make([][]float64, len(b))
	for r := range b {
		x[r] = make([]float64, s.n)
		for k, i := range s.perm {
			x[r][k] = b[r][i]
		}
	}
	var wg parallel.Group
	for _, y := range x[1:] {
		wg.Do(func() { f.solve(y) })
	}
	if len(x) > 0 {
		f.solve(x[0])
	}
	_ = wg.Wait()
	for r := range x {
		out := make([]float64, s.n)
		for k, i := range s.perm {
			out[i] = x[r][k]
		}
		x[r] = out
	}
	return x
}

// solve works on a right-hand side in the order of elimination, in place.
func (f *Factor) solve(x []float64) {
	for n := range f.s.below {
		f.forward(n, x)
	}
	for n := len(f.s.below) - 1; n >= 0; n-- {
		f.backward(n, x)
	}
}

func (f *Factor) forward(b int, x []float64) {
	s := f.s
	lo, hi := int(s.first[b]), int(s.first[b+1])
	cols := hi - lo
	v := f.val[s.at[b]:s.at[b+1]]
	own := x[lo:hi]
	for i := 1; i < cols; i++ {
		own[i] -= dot(v[i*cols:i*cols+i], own[:i])
	}
	v = v[cols*cols:]
	for i, r := range s.below[b] {
		x[r] -= dot(v[i*cols:i*cols+cols], own)
	}
}

func (f *Factor) backward(b int, x []float64) {
	s := f.s
	lo, hi := int(s.first[b]), int(s.first[b+1])
	cols := hi - lo
	v := f.val[s.at[b]:s.at[b+1]]
	own := x[lo:hi]
	for j := range own {
		own[j] /= f.d[lo+j]
	}
	low := v[cols*cols:]
	for i, r := range s.below[b] {
		if y := x[r]; y != 0 {
			line := low[i*cols : i*cols+cols]
			for c, l := range line {
				own[c] -= l * y
			}
		}
	}
	for i := cols - 1; i > 0; i-- {
		y := own[i]
		for c, l := range v[i*cols : i*cols+i] {
			own[c] -= l * y
		}
	}
}
