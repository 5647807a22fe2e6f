package shape

import "math"

// most is how many unknowns a fit has at the most: the place and lean of a torus, and its
// three sizes.
const most = 7

// normal collects the normal equations of a small least-squares problem, up to most
// unknowns: fits solve thousands of them, so they live on the stack.
type normal struct {
	size int
	a    [most][most]float64
	b    [most]float64
}

// add takes the equation Σ g·x = z.
func (n *normal) add(z float64, g ...float64) {
	for i := range n.size {
		n.b[i] += g[i] * z
		row := &n.a[i]
		for j := i; j < n.size; j++ { // the upper half
			row[j] += g[i] * g[j]
		}
	}
}

// damped returns the equations with their diagonal raised by a share and a little.
func (n normal) damped(share float64) normal {
	for i := range n.size {
		n.a[i][i] += n.a[i][i]*share + 1e-30
	}
	return n
}

// solve eliminates with pivoting; ok is false if the equations leave something
// free.
func (n *normal) solve() (x [most]float64, ok bool) {
	a, b := n.a, n.b
	for i := range n.size {
		for j := range i {
			a[i][j] = a[j][i]
		}
	}
	var scale float64
	for i := range n.size {
		scale = max(scale, a[i][i])
	}
	for k := range n.size {
		p := k
		for i := k + 1; i < n.size; i++ {
			if math.Abs(a[i][k]) > math.Abs(a[p][k]) {
				p = i
			}
		}
		if math.Abs(a[p][k]) <= 1e-14*scale {
			return x, false
		}
		a[k], a[p] = a[p], a[k]
		b[k], b[p] = b[p], b[k]
		for i := k + 1; i < n.size; i++ {
			f := a[i][k] / a[k][k]
			for j := k; j < n.size; j++ {
				a[i][j] -= f * a[k][j]
			}
			b[i] -= f * b[k]
		}
	}
	for k := n.size - 1; k >= 0; k-- {
		x[k] = b[k]
		for j := k + 1; j < n.size; j++ {
			x[k] -= a[k][j] * x[j]
		}
		x[k] /= a[k][k]
	}
	return x, true
}
