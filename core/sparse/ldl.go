package sparse

import (
	"context"
	"errors"
	"math"
	"runtime"
	"slices"
	"sync"

	"morvek/core/parallel"
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
// 1993). Subtrees that do not depend on each other are worked on side by side; what
// comes out does not depend on how many. It returns ErrSingular for a vanishing pivot.
func (s *Symbolic) Factor(ctx context.Context, a *Symmetric) (*Factor, error) {
	ns := len(s.below)
	w := waiting{head: make([]int32, ns), next: make([]int32, ns), seen: make([]int32, ns)}
	for b := range w.head {
		w.head[b] = none
	}
	f := &Factor{s: s, val: make([]float64, s.at[len(s.at)-1]), d: make([]float64, s.n)}
	var largest float64
	for j := range s.n {
		for p := s.loStart[j]; p < s.loStart[j+1]; p++ {
			if int(s.loRow[p]) == j {
				largest = max(largest, math.Abs(a.Val[s.source[p]]))
			}
		}
	}
	trees := s.subtrees()
	beyond := make([][]int32, len(trees)) // what each leaves for the rest
	spare := sync.Pool{New: func() any {
		local := make([]int32, s.n)
		return &local
	}}
	g, gctx := parallel.WithContext(ctx)
	g.SetLimit(runtime.GOMAXPROCS(0))
	for i, t := range trees {
		g.Go(func() error {
			local := spare.Get().(*[]int32)
			defer spare.Put(local)
			own := gatherer{f: f, waiting: w, local: *local, least: 1e-15 * largest, end: t[1]}
			for b := t[0]; b < t[1]; b++ {
				if err := own.supernode(gctx, a, b); err != nil {
					return err
				}
			}
			beyond[i] = own.beyond
			return nil
		})
	}
	if err := g.Wait(); err != nil {
		return nil, err
	}
	rest := gatherer{f: f, waiting: w, local: *spare.Get().(*[]int32), least: 1e-15 * largest, end: int32(ns)}
	for _, list := range beyond {
		for _, d := range list {
			rest.queue(d, w.seen[d])
		}
	}
	b := int32(0)
	for _, t := range append(trees, [2]int32{int32(ns), int32(ns)}) {
		for ; b < t[0]; b++ {
			if err := rest.supernode(ctx, a, b); err != nil {
				return nil, err
			}
		}
		b = t[1]
	}
	return f, nil
}

// subtrees returns runs of supernodes that can be factored side by side, in order; what
// is left hangs on several of them.
func (s *Symbolic) subtrees() (trees [][2]int32) {
	ns := len(s.below)
	const worth = 2e6 // multiplications below which it is not worth the trouble
	work := make([]float64, ns)
	first := make([]int32, ns) // of the subtree
	var total float64
	for b := range ns {
		first[b] = int32(b)
	}
	for b := range ns { // children come before their parents
		c, r := float64(s.first[b+1]-s.first[b]), float64(len(s.below[b]))
		own := c * (c + r) * (c + r)
		work[b] += own
		total += own
		if rows := s.below[b]; len(rows) > 0 {
			up := s.superOf[rows[0]]
			work[up] += work[b]
			first[up] = min(first[up], first[b])
		}
	}
	if total < worth {
		return nil
	}
	for b := ns - 1; b >= 0; {
		if work[b] > total/12 { // too much for one: its children are looked at
			b--
			continue
		}
		trees = append(trees, [2]int32{first[b], int32(b + 1)})
		b = int(first[b]) - 1
	}
	slices.Reverse(trees)
	return trees
}
