package sparse

import (
	"context"
	"errors"
	"math"
)

// ErrSingular is returned when a pivot vanishes: the system leaves something free.
var ErrSingular = errors.New("sparse: the matrix is singular")

// Factor is L·D·Lᵀ of a permuted matrix: for each supernode a panel by rows, its own
// columns first, then the rows below.
type Factor struct {
	s   *Symbolic
	val []float64
	d   []float64
}

// Factor computes the factorisation of a matrix with the analysed pattern, supernode
// by supernode, each gathering what those before it add (left-looking; Ng & Peyton
// 1993). It returns ErrSingular for a vanishing pivot.
func (s *Symbolic) Factor(ctx context.Context, a *Symmetric) (*Factor, error) {
	f := &Factor{s: s, val: make([]float64, s.at[len(s.at)-1]), d: make([]float64, s.n)}
	g := gatherer{f: f, local: make([]int32, s.n)}
	ns := len(s.below)
	g.head, g.next, g.seen = make([]int32, ns), make([]int32, ns), make([]int32, ns)
	for b := range g.head {
		g.head[b] = none
	}
	var largest float64
	for j := range s.n {
		for p := s.loStart[j]; p < s.loStart[j+1]; p++ {
			if int(s.loRow[p]) == j {
				largest = max(largest, math.Abs(a.Val[s.source[p]]))
			}
		}
	}
	for b := range ns {
		if b&0xff == 0 && ctx.Err() != nil {
			return nil, ctx.Err()
		}
		g.assemble(a, b)
		for d := g.head[b]; d != none; {
			next := g.next[d]
			g.gather(int(d), b)
			d = next
		}
		if !f.panel(b, 1e-15*largest, &g.weighted, &g.sums) {
			return nil, ErrSingular
		}
		g.queue(b, 0)
	}
	return f, nil
}

// gatherer adds up what earlier supernodes give to later ones. Each waits in the list
// of the supernode that its next rows belong to.
type gatherer struct {
	f          *Factor
	head, next []int32 // lists of waiting supernodes
	seen       []int32 // rows of each that were given already
	local      []int32 // row of the panel under way, by column of L
	weighted   []float64
	sums       []float64
}

func (g *gatherer) queue(b int, seen int32) {
	g.seen[b] = seen
	rows := g.f.s.below[b]
	if int(seen) == len(rows) {
		return
	}
	to := g.f.s.superOf[rows[seen]]
	g.next[b], g.head[to] = g.head[to], int32(b)
}

// assemble writes the entries of the matrix into the panel of a supernode.
func (g *gatherer) assemble(a *Symmetric, b int) {
	s := g.f.s
	lo, hi := s.first[b], s.first[b+1]
	cols := int(hi - lo)
	for j := lo; j < hi; j++ {
		g.local[j] = j - lo
	}
	for i, r := range s.below[b] {
		g.local[r] = int32(cols + i)
	}
	panel := g.f.val[s.at[b]:s.at[b+1]]
	for j := lo; j < hi; j++ {
		for p := s.loStart[j]; p < s.loStart[j+1]; p++ {
			panel[int(g.local[s.loRow[p]])*cols+int(j-lo)] += a.Val[s.source[p]]
		}
	}
}

// gather subtracts from the panel of b what supernode d gives to it.
func (g *gatherer) gather(d, b int) {
	s := g.f.s
	rows := s.below[d]
	from := int(g.seen[d])
	to := from
	for hi := s.first[b+1]; to < len(rows) && rows[to] < hi; to++ {
	}
	m, w, k := len(rows)-from, to-from, int(s.first[d+1]-s.first[d])
	source := g.f.val[s.at[d]+(k+from)*k : s.at[d+1]]
	g.weighted = grown(g.weighted, w*k)
	for j := range w {
		for c := range k {
			g.weighted[j*k+c] = source[j*k+c] * g.f.d[int(s.first[d])+c]
		}
	}
	g.sums = grown(g.sums, m*w)
	products(g.sums, source, k, m, g.weighted, w, k)
	panel := g.f.val[s.at[b]:s.at[b+1]]
	cols := int(s.first[b+1] - s.first[b])
	lo := s.first[b]
	for i, r := range rows[from:] {
		line := panel[int(g.local[r])*cols : int(g.local[r])*cols+cols]
		for j, v := range g.sums[i*w : i*w+w] {
			line[rows[from+j]-lo] -= v
		}
	}
	g.queue(d, int32(to))
}

func grown(b []float64, n int) []float64 {
	if cap(b) < n {
		return make([]float64, n, n+n/2)
	}
	return b[:n]
}

// stripe is how many columns of a panel are brought up to date at once.
const stripe = 4

// panel factors a panel in place: the square of its own columns and the rows below.
// What stands above the diagonal is never read.
func (f *Factor) panel(b int, least float64, weighted, sums *[]float64) bool {
	s := f.s
	cols := int(s.first[b+1] - s.first[b])
	rows := cols + len(s.below[b])
	v := f.val[s.at[b]:s.at[b+1]]
	d := f.d[s.first[b]:s.first[b+1]]
	for j0 := 0; j0 < cols; j0 += stripe {
		w := min(stripe, cols-j0)
		if j0 > 0 {
			*weighted = grown(*weighted, w*j0)
			for j := range w {
				for c := range j0 {
					(*weighted)[j*j0+c] = v[(j0+j)*cols+c] * d[c]
				}
			}
			m := rows - j0
			*sums = grown(*sums, m*w)
			products(*sums, v[j0*cols:], cols, m, *weighted, w, j0)
			for i := range m {
				line := v[(j0+i)*cols+j0 : (j0+i)*cols+j0+w]
				for j := range line {
					line[j] -= (*sums)[i*w+j]
				}
			}
		}
		for j := j0; j < j0+w; j++ {
			own := v[j*cols+j0 : j*cols+j+1]
			pivot := own[j-j0]
			for c := range j - j0 {
				pivot -= own[c] * own[c] * d[j0+c]
			}
			if math.Abs(pivot) <= least || math.IsNaN(pivot) {
				return false
			}
			d[j] = pivot
			for i := j + 1; i < rows; i++ {
				line := v[i*cols+j0 : i*cols+j+1]
				x := line[j-j0]
				for c := range j - j0 {
					x -= line[c] * own[c] * d[j0+c]
				}
				line[j-j0] = x / pivot
			}
		}
	}
	return true
}

// Solve returns the solution of A·x = b.
func (f *Factor) Solve(b []float64) []float64 { return f.SolveAll(b)[0] }

// SolveAll returns the solutions for several right-hand sides, reading L once for all.
func (f *Factor) SolveAll(b ...[]float64) [][]float64 {
	s := f.s
	x := make([][]float64, len(b))
	for r := range b {
		x[r] = make([]float64, s.n)
		for k, i := range s.perm {
			x[r][k] = b[r][i]
		}
	}
	for n := range s.below {
		for _, y := range x {
			f.forward(n, y)
		}
	}
	for n := range s.below {
		for _, y := range x {
			f.backward(len(s.below)-1-n, y)
		}
	}
	for r := range x {
		out := make([]float64, s.n)
		for k, i := range s.perm {
			out[i] = x[r][k]
		}
		x[r] = out
	}
	return x
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

// Solve factors a and solves for one right-hand side.
func Solve(ctx context.Context, a *Symmetric, b []float64) ([]float64, error) {
	f, err := Analyze(a).Factor(ctx, a)
	if err != nil {
		return nil, err
	}
	return f.Solve(b), nil
}
