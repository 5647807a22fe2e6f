package sparse

import (
	"context"
	"errors"
	"math"
)

// ErrNoConvergence is returned when the iteration does not reach the tolerance.
var ErrNoConvergence = errors.New("sparse: the iteration does not converge")

// ConjugateGradients solves A·x = b for a positive definite matrix without factoring
// it, for systems whose factor would not fit into memory: conjugate gradients
// (Hestenes & Stiefel 1952), preconditioned by an incomplete L·D·Lᵀ without fill
// (Meijerink & van der Vorst 1977). It ends when the residual is at most tolerance
// times that of zero and returns how many steps that took.
func ConjugateGradients(ctx context.Context, a *Symmetric, b []float64, tolerance float64, steps int) ([]float64, int, error) {
	n := a.N
	m := incomplete(a)
	x, r := make([]float64, n), append([]float64(nil), b...)
	goal := tolerance * norm(b)
	z := m.solve(r)
	p := append([]float64(nil), z...)
	rz := dot(r, z)
	for step := range steps {
		if norm(r) <= goal {
			return x, step, nil
		}
		if step&0xf == 0 && ctx.Err() != nil {
			return nil, step, ctx.Err()
		}
		ap := a.Mul(p)
		pap := dot(p, ap)
		if !(pap > 0) {
			return nil, step, ErrSingular
		}
		alpha := rz / pap
		for i := range x {
			x[i] += alpha * p[i]
			r[i] -= alpha * ap[i]
		}
		z = m.solve(r)
		next := dot(r, z)
		beta := next / rz
		rz = next
		for i := range p {
			p[i] = z[i] + beta*p[i]
		}
	}
	if norm(r) <= goal {
		return x, steps, nil
	}
	return nil, steps, ErrNoConvergence
}

func norm(a []float64) float64 { return math.Sqrt(dot(a, a)) }

// preconditioner is an incomplete factor: U with a unit diagonal by columns, and D.
type preconditioner struct {
	start, row []int32
	val, d     []float64
}

// incomplete factors a on its own pattern. Where a pivot would vanish or turn
// negative, that of the matrix stands in: a worse preconditioner still is one.
func incomplete(a *Symmetric) *preconditioner {
	m := &preconditioner{start: a.ColStart, row: a.Row, val: make([]float64, len(a.Val)), d: make([]float64, a.N)}
	place := make([]int32, a.N) // entry of the column under way by row, plus one
	for j := range a.N {
		lo, hi := a.ColStart[j], a.ColStart[j+1]
		var diag float64
		for p := lo; p < hi; p++ {
			if int(a.Row[p]) == j {
				diag = a.Val[p]
				continue
			}
			m.val[p] = a.Val[p]
			place[a.Row[p]] = p + 1
		}
		pivot := diag
		for p := lo; p < hi; p++ {
			i := a.Row[p]
			if int(i) == j {
				continue
			}
			// m.val[p] holds u_ij·d_i once all earlier rows are taken out.
			for q := a.ColStart[i]; q < a.ColStart[i+1]; q++ {
				if k := a.Row[q]; k != i && place[k] != 0 {
					m.val[p] -= m.val[q] * m.val[place[k]-1] * m.d[k]
				}
			}
			u := m.val[p] / m.d[i]
			pivot -= u * m.val[p]
			m.val[p] = u
		}
		for p := lo; p < hi; p++ {
			place[a.Row[p]] = 0
		}
		if !(pivot > 1e-3*math.Abs(diag)) {
			pivot = math.Max(math.Abs(diag), 1e-300)
		}
		m.d[j] = pivot
	}
	return m
}

func (m *preconditioner) solve(b []float64) []float64 {
	x := append([]float64(nil), b...)
	for j := range x {
		for p := m.start[j]; p < m.start[j+1]; p++ {
			if i := m.row[p]; int(i) != j {
				x[j] -= m.val[p] * x[i]
			}
		}
	}
	for j := range x {
		x[j] /= m.d[j]
	}
	for j := len(x) - 1; j >= 0; j-- {
		for p := m.start[j]; p < m.start[j+1]; p++ {
			if i := m.row[p]; int(i) != j {
				x[i] -= m.val[p] * x[j]
			}
		}
	}
	return x
}
