package shape

import (
	"math"

	"gonum.org/v1/gonum/floats"
	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// sampleLimit bounds how many corners a refinement looks at; evenly spaced ones
// stand for the rest.
const sampleLimit = 600

// local is a set of corners moved to their mean and scaled to unit size, so that
// refinement takes the same steps whatever the place and size of a model.
type local struct {
	p     []r3.Vec
	o     r3.Vec
	scale float64
}

func localise(points []r3.Vec) local {
	l := local{o: mean(points)}
	step := (len(points) + sampleLimit - 1) / sampleLimit
	for i := 0; i < len(points); i += max(1, step) {
		d := r3.Sub(points[i], l.o)
		l.p = append(l.p, d)
		l.scale = max(l.scale, r3.Norm(d))
	}
	if l.scale == 0 {
		l.scale = 1
	}
	for i := range l.p {
		l.p[i] = r3.Scale(1/l.scale, l.p[i])
	}
	return l
}

func (l local) in(p r3.Vec) r3.Vec  { return r3.Scale(1/l.scale, r3.Sub(p, l.o)) }
func (l local) out(p r3.Vec) r3.Vec { return r3.Add(l.o, r3.Scale(l.scale, p)) }

// leastSquares lowers Σ at(x)(p)² over the parameters x by Levenberg-Marquardt
// with central differences. It changes x in place; at prepares the distance
// function of a set of parameters.
func leastSquares(x []float64, p []r3.Vec, at func(x []float64) func(r3.Vec) float64) {
	k, n := len(x), len(p)
	const h = 1e-6
	eval := func(x []float64, out []float64) (sum float64) {
		dist := at(x)
		for i, q := range p {
			d := dist(q)
			out[i] = d
			sum += d * d
		}
		return sum
	}
	resid, next := make([]float64, n), make([]float64, n)
	grad := make([][]float64, k)
	for i := range grad {
		grad[i] = make([]float64, n)
	}
	now := eval(x, resid)
	damping := 1e-3
	try := make([]float64, k)
	for range 40 {
		if now < 1e-26*float64(n) {
			return
		}
		for i := range k {
			keep := x[i]
			x[i] = keep + h
			eval(x, grad[i])
			x[i] = keep - h
			eval(x, next)
			x[i] = keep
			for j := range next {
				grad[i][j] = (grad[i][j] - next[j]) / (2 * h)
			}
		}
		a := mat.NewSymDense(k, nil)
		b := mat.NewVecDense(k, nil)
		for i := range k {
			b.SetVec(i, -floats.Dot(grad[i], resid))
			for j := i; j < k; j++ {
				a.SetSym(i, j, floats.Dot(grad[i], grad[j]))
			}
		}
		better := false
		var moved float64
		for range 8 {
			damped := mat.NewSymDense(k, nil)
			damped.CopySym(a)
			for i := range k {
				damped.SetSym(i, i, a.At(i, i)*(1+damping)+1e-30)
			}
			var chol mat.Cholesky
			var dx mat.VecDense
			if chol.Factorize(damped) && chol.SolveVecTo(&dx, b) == nil {
				for i := range k {
					try[i] = x[i] + dx.AtVec(i)
				}
				if t := eval(try, next); t < now {
					moved, better = mat.Norm(&dx, 2), true
					copy(x, try)
					resid, next = next, resid
					now = t
					damping = max(damping/10, 1e-12)
					break
				}
			}
			damping *= 10
		}
		if !better || moved < 1e-11 {
			return
		}
	}
}

// tilted is the axis a leaned by two small parameters, so that refinement may
// turn it freely.
func tilted(a, u, v r3.Vec, x, y float64) r3.Vec {
	return mesh.Unit(r3.Add(a, r3.Add(r3.Scale(x, u), r3.Scale(y, v))))
}

// round refines an axial shape: parameters are the tilt of the axis (2), the
// place of the axis across it (2), then the shape's own; dist gets distance from
// the axis and height along it.
func (s Faces) round(l local, axis, origin r3.Vec, own []float64, dist func(own []float64, rho, t float64) float64) (r3.Vec, r3.Vec) {
	if s.Rough {
		return axis, origin
	}
	u, v := mesh.Basis(axis)
	o := l.in(origin)
	x := append(make([]float64, 4), own...)
	place := func(x []float64) (a, c r3.Vec) {
		return tilted(axis, u, v, x[0], x[1]), r3.Add(o, r3.Add(r3.Scale(x[2], u), r3.Scale(x[3], v)))
	}
	leastSquares(x, l.p, func(x []float64) func(r3.Vec) float64 {
		a, c := place(x)
		return func(p r3.Vec) float64 {
			d := r3.Sub(p, c)
			t := r3.Dot(d, a)
			return dist(x[4:], math.Sqrt(max(0, r3.Norm2(d)-t*t)), t)
		}
	})
	copy(own, x[4:])
	a, c := place(x)
	return a, l.out(c)
}
