// Package sparse solves large symmetric linear systems directly: a
// fill-reducing ordering (approximate minimum degree, Amestoy, Davis & Duff
// 1996), a symbolic analysis that can be used again for matrices of the same
// pattern, and the square-root-free factorisation L·D·Lᵀ (Davis 2005).
package sparse

import (
	"math"
	"slices"
)

// Symmetric is an n×n symmetric matrix; only the upper triangle is stored, by
// columns: the entries of column j are Row and Val[ColStart[j]:ColStart[j+1]],
// rows ascending.
type Symmetric struct {
	N        int
	ColStart []int32
	Row      []int32
	Val      []float64
}

// Builder collects entries of a symmetric matrix; entries at one place add up.
type Builder struct {
	n        int
	row, col []int32
	val      []float64
}

// NewBuilder returns a builder for an n×n matrix with room for hint entries.
func NewBuilder(n, hint int) *Builder {
	return &Builder{n: n, row: make([]int32, 0, hint), col: make([]int32, 0, hint), val: make([]float64, 0, hint)}
}

// Add adds v at (i, j) and, for i ≠ j, at (j, i).
func (b *Builder) Add(i, j int, v float64) {
	if i > j {
		i, j = j, i
	}
	b.row = append(b.row, int32(i))
	b.col = append(b.col, int32(j))
	b.val = append(b.val, v)
}

// Build returns the matrix with entries summed in the order they were added,
// so that the same calls give the same bits.
func (b *Builder) Build() *Symmetric {
	// Two stable counting sorts, by row then by column.
	byRow := countingSort(b.row, nil, b.n)
	order := countingSort(b.col, byRow, b.n)
	a := &Symmetric{N: b.n, ColStart: make([]int32, b.n+1)}
	lastCol, lastRow := int32(-1), int32(-1)
	for _, k := range order {
		i, j := b.row[k], b.col[k]
		if i == lastRow && j == lastCol {
			a.Val[len(a.Val)-1] += b.val[k]
			continue
		}
		a.Row = append(a.Row, i)
		a.Val = append(a.Val, b.val[k])
		a.ColStart[j+1]++
		lastRow, lastCol = i, j
	}
	for j := range b.n {
		a.ColStart[j+1] += a.ColStart[j]
	}
	return a
}

// BuildPruned builds the matrix without the entries off the diagonal that cancel out,
// to 1e-12 of what was added there: they would only couple what is apart.
func (b *Builder) BuildPruned() *Symmetric {
	whole := b.Build()
	sizes := Builder{n: b.n, row: b.row, col: b.col, val: make([]float64, len(b.val))}
	for i, v := range b.val {
		sizes.val[i] = math.Abs(v)
	}
	size := sizes.Build() // of the same pattern
	a := &Symmetric{N: b.n, ColStart: make([]int32, b.n+1)}
	for j := range b.n {
		for p := whole.ColStart[j]; p < whole.ColStart[j+1]; p++ {
			if int(whole.Row[p]) == j || math.Abs(whole.Val[p]) > 1e-12*size.Val[p] {
				a.Row = append(a.Row, whole.Row[p])
				a.Val = append(a.Val, whole.Val[p])
			}
		}
		a.ColStart[j+1] = int32(len(a.Row))
	}
	return a
}

// countingSort returns the positions of keys in ascending order, equal keys in
// the order of from (or of their position when from is nil).
func countingSort(keys, from []int32, n int) []int32 {
	start := make([]int32, n+1)
	for _, k := range keys {
		start[k+1]++
	}
	for i := range n {
		start[i+1] += start[i]
	}
	out := make([]int32, len(keys))
	for i := range keys {
		p := int32(i)
		if from != nil {
			p = from[i]
		}
		out[start[keys[p]]] = p
		start[keys[p]]++
	}
	return out
}

// Mul returns A·x.
func (a *Symmetric) Mul(x []float64) []float64 {
	y := make([]float64, a.N)
	for j := range a.N {
		for p := a.ColStart[j]; p < a.ColStart[j+1]; p++ {
			i := a.Row[p]
			y[i] += a.Val[p] * x[j]
			if int(i) != j {
				y[j] += a.Val[p] * x[i]
			}
		}
	}
	return y
}

// neighbours returns for each index the sorted others it shares an entry with.
func (a *Symmetric) neighbours() [][]int32 {
	count := make([]int32, a.N)
	for j := range a.N {
		for p := a.ColStart[j]; p < a.ColStart[j+1]; p++ {
			if i := a.Row[p]; int(i) != j {
				count[i]++
				count[j]++
			}
		}
	}
	adj := make([][]int32, a.N)
	for i := range adj {
		adj[i] = make([]int32, 0, count[i])
	}
	for j := range a.N {
		for p := a.ColStart[j]; p < a.ColStart[j+1]; p++ {
			if i := a.Row[p]; int(i) != j {
				adj[i] = append(adj[i], int32(j))
				adj[j] = append(adj[j], i)
			}
		}
	}
	for _, l := range adj {
		slices.Sort(l)
	}
	return adj
}
