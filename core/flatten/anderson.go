package flatten

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
)

// anderson looks at the last few steps of an iteration and guesses where they lead to
// (Anderson 1965; for local/global solvers Peng et al. 2018). What it guesses has to be
// checked by whoever takes it.
type anderson struct {
	last, lastTo []r2.Vec   // the step before and where it led
	dStep, dTo   [][]r2.Vec // how steps and targets changed, newest last
}

// memory is how many steps are looked back at.
const memory = 5

// guess takes in the step from a map to where it leads and returns where it seems to go
// in the end; nil as long as there is nothing to go by.
func (a *anderson) guess(step, to []r2.Vec) []r2.Vec {
	if a.last != nil {
		if len(a.dStep) == memory {
			a.dStep, a.dTo = a.dStep[1:], a.dTo[1:]
		}
		a.dStep, a.dTo = append(a.dStep, difference(step, a.last)), append(a.dTo, difference(to, a.lastTo))
	}
	a.last, a.lastTo = step, to
	m := len(a.dStep)
	if m == 0 {
		return nil
	}
	// Normal equations of the least squares over how steps changed, held back a little.
	var n [memory][memory + 1]float64
	for i := range m {
		for j := range i + 1 {
			n[i][j] = inner(a.dStep[i], a.dStep[j])
			n[j][i] = n[i][j]
		}
		n[i][m] = inner(a.dStep[i], step)
	}
	var largest float64
	for i := range m {
		largest = max(largest, n[i][i])
	}
	for i := range m {
		n[i][i] += 1e-10 * largest
	}
	for i := range m { // elimination; the matrix is symmetric and positive
		if !(n[i][i] > 0) {
			return nil
		}
		for k := i + 1; k < m; k++ {
			q := n[k][i] / n[i][i]
			for j := i; j <= m; j++ {
				n[k][j] -= q * n[i][j]
			}
		}
	}
	var theta [memory]float64
	for i := m - 1; i >= 0; i-- {
		theta[i] = n[i][m]
		for j := i + 1; j < m; j++ {
			theta[i] -= n[i][j] * theta[j]
		}
		if theta[i] /= n[i][i]; math.IsNaN(theta[i]) || math.Abs(theta[i]) > 1e6 {
			return nil
		}
	}
	out := make([]r2.Vec, len(to))
	for v, q := range to {
		for j := range m {
			q = r2.Sub(q, r2.Scale(theta[j], a.dTo[j][v]))
		}
		out[v] = q
	}
	return out
}

func difference(a, b []r2.Vec) []r2.Vec {
	out := make([]r2.Vec, len(a))
	for i := range a {
		out[i] = r2.Sub(a[i], b[i])
	}
	return out
}

func inner(a, b []r2.Vec) float64 {
	return sum(len(a), func(lo, hi int) (s float64) {
		for i := lo; i < hi; i++ {
			s += r2.Dot(a[i], b[i])
		}
		return s
	})
}
