package sparse

import (
	"context"
	"errors"
	"math"
)

// ErrSingular is returned when a pivot vanishes: the system leaves something free.
var ErrSingular = errors.New("sparse: the matrix is singular")

// Symbolic is the analysis of a pattern: order, elimination tree and the
// column sizes of L. It can factor any matrix of the same pattern.
type Symbolic struct {
	n        int
	perm     []int32 // perm[k] is the original index eliminated k-th
	inverse  []int32
	parent   []int32
	colStart []int32 // columns of L
	// Permuted upper triangle: entry p takes its value from a.Val[source[p]].
	upStart, upRow, source []int32
}

// Analyze orders and analyses the pattern of a.
func Analyze(a *Symmetric) *Symbolic { return AnalyzeOrdered(a, Order(a)) }

// AnalyzeOrdered analyses a for a given elimination order.
func AnalyzeOrdered(a *Symmetric, order []int32) *Symbolic {
	n := a.N
	s := &Symbolic{n: n, perm: order, inverse: make([]int32, n), parent: make([]int32, n), colStart: make([]int32, n+1)}
	for k, i := range order {
		s.inverse[i] = int32(k)
	}
	s.permute(a)
	// Elimination tree and column counts (Davis 2005, Liu 1990).
	flag := make([]int32, n)
	count := make([]int32, n)
	for k := range n {
		s.parent[k], flag[k] = none, int32(k)
		for p := s.upStart[k]; p < s.upStart[k+1]; p++ {
			for i := s.upRow[p]; flag[i] != int32(k); i = s.parent[i] {
				if s.parent[i] == none {
					s.parent[i] = int32(k)
				}
				count[i]++
				flag[i] = int32(k)
			}
		}
	}
	for k := range n {
		s.colStart[k+1] = s.colStart[k] + count[k]
	}
	return s
}

func (s *Symbolic) permute(a *Symmetric) {
	s.upStart = make([]int32, s.n+1)
	target := func(j int, p int32) (row, col int32) {
		row, col = s.inverse[a.Row[p]], s.inverse[j]
		if row > col {
			row, col = col, row
		}
		return row, col
	}
	for j := range s.n {
		for p := a.ColStart[j]; p < a.ColStart[j+1]; p++ {
			_, c := target(j, p)
			s.upStart[c+1]++
		}
	}
	for k := range s.n {
		s.upStart[k+1] += s.upStart[k]
	}
	fill := append([]int32(nil), s.upStart...)
	s.upRow = make([]int32, len(a.Row))
	s.source = make([]int32, len(a.Row))
	for j := range s.n {
		for p := a.ColStart[j]; p < a.ColStart[j+1]; p++ {
			r, c := target(j, p)
			s.upRow[fill[c]], s.source[fill[c]] = r, p
			fill[c]++
		}
	}
}

// Fill returns the number of entries of L below the diagonal.
func (s *Symbolic) Fill() int { return int(s.colStart[s.n]) }

// Factor is L·D·Lᵀ of a permuted matrix.
type Factor struct {
	s   *Symbolic
	row []int32
	val []float64
	d   []float64
}

// Factor computes the factorisation of a matrix with the analysed pattern, one
// row of L at a time. It returns ErrSingular for a vanishing pivot.
func (s *Symbolic) Factor(ctx context.Context, a *Symmetric) (*Factor, error) {
	n := s.n
	f := &Factor{s: s, row: make([]int32, s.Fill()), val: make([]float64, s.Fill()), d: make([]float64, n)}
	y := make([]float64, n)
	flag := make([]int32, n)
	used := make([]int32, n)
	pattern := make([]int32, n)
	var largest float64
	for k := range n {
		if k&0x3ff == 0 && ctx.Err() != nil {
			return nil, ctx.Err()
		}
		top := n
		flag[k] = int32(k)
		var d float64
		for p := s.upStart[k]; p < s.upStart[k+1]; p++ {
			i := s.upRow[p]
			v := a.Val[s.source[p]]
			if int(i) == k {
				d += v
				continue
			}
			y[i] += v
			depth := 0
			for ; flag[i] != int32(k); i = s.parent[i] {
				pattern[depth] = i
				depth++
				flag[i] = int32(k)
			}
			for depth > 0 {
				depth--
				top--
				pattern[top] = pattern[depth]
			}
		}
		largest = max(largest, math.Abs(d))
		for ; top < n; top++ {
			i := pattern[top]
			yi := y[i]
			y[i] = 0
			lo := s.colStart[i]
			hi := lo + used[i]
			rows, vals := f.row[lo:hi], f.val[lo:hi]
			for t, r := range rows {
				y[r] -= vals[t] * yi
			}
			l := yi / f.d[i]
			d -= l * yi
			f.row[hi], f.val[hi] = int32(k), l
			used[i]++
		}
		if math.Abs(d) <= 1e-15*largest || math.IsNaN(d) {
			return nil, ErrSingular
		}
		f.d[k] = d
	}
	return f, nil
}

// Solve returns the solution of A·x = b.
func (f *Factor) Solve(b []float64) []float64 {
	n := f.s.n
	x := make([]float64, n)
	for k, i := range f.s.perm {
		x[k] = b[i]
	}
	for j := range n {
		xj := x[j]
		for p := f.s.colStart[j]; p < f.s.colStart[j+1]; p++ {
			x[f.row[p]] -= f.val[p] * xj
		}
	}
	for j := n - 1; j >= 0; j-- {
		xj := x[j] / f.d[j]
		for p := f.s.colStart[j]; p < f.s.colStart[j+1]; p++ {
			xj -= f.val[p] * x[f.row[p]]
		}
		x[j] = xj
	}
	out := make([]float64, n)
	for k, i := range f.s.perm {
		out[i] = x[k]
	}
	return out
}

// Solve factors a and solves for one right-hand side.
func Solve(ctx context.Context, a *Symmetric, b []float64) ([]float64, error) {
	f, err := Analyze(a).Factor(ctx, a)
	if err != nil {
		return nil, err
	}
	return f.Solve(b), nil
}
