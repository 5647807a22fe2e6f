package shape

import (
	"math"

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

// leastSquares lowers Σ d(p)² over the parameters x by Levenberg-Marquardt, changing x in
// place. at prepares the distance d of a set of parameters; it returns the distance of a
// point and fills in its derivatives by the parameters.
func leastSquares(x []float64, p []r3.Vec, at func(x []float64) func(q r3.Vec, by []float64) float64) {
	k := len(x)
	var by, moved [most]float64
	eval := func(x []float64) (sum float64, n normal) {
		n.size = k
		dist := at(x)
		for _, q := range p {
			d := dist(q, by[:k])
			sum += d * d
			n.add(-d, by[:k]...)
		}
		return sum, n
	}
	now, equations := eval(x)
	damping := 1e-3
	for range 40 {
		if now < 1e-26*float64(len(p)) {
			return
		}
		var before, size float64
		for range 8 {
			damped := equations.damped(damping)
			if dx, ok := damped.solve(); ok {
				size = 0
				for i := range k {
					moved[i] = x[i] + dx[i]
					size += dx[i] * dx[i]
				}
				if sum, next := eval(moved[:k]); sum < now {
					copy(x, moved[:k])
					before, now, equations = now, sum, next
					damping = max(damping/10, 1e-12)
					break
				}
			}
			damping *= 10
		}
		if before == 0 || size < 1e-22 || before-now < settled*before {
			return
		}
	}
}

// settled is the share of what is left below which one more step of a refinement gains
// nothing that matters: exact shapes come nearer by powers of ten a step.
const settled = 1e-4

// tilted is the axis a leaned by two small parameters, so that refinement may
// turn it freely, and how it changes by each of them.
func tilted(a, u, v r3.Vec, x, y float64) (axis, byX, byY r3.Vec) {
	n := r3.Add(a, r3.Add(r3.Scale(x, u), r3.Scale(y, v)))
	l := r3.Norm(n)
	axis = r3.Scale(1/l, n)
	across := func(d r3.Vec) r3.Vec { return r3.Scale(1/l, r3.Sub(d, r3.Scale(r3.Dot(d, axis), axis))) }
	return axis, across(u), across(v)
}

// profile is the distance of a point of an axial shape at a distance rho from the axis and
// the height t along it, and its derivatives by both; by own it fills those by the
// parameters of the shape itself.
type profile func(own []float64, rho, t float64, by []float64) (d, byRho, byT float64)

// round refines an axial shape: parameters are the tilt of the axis (2), the
// place of the axis across it (2), then the shape's own.
func (s Faces) round(l local, axis, origin r3.Vec, own []float64, dist profile) (r3.Vec, r3.Vec) {
	if s.Rough {
		return axis, origin
	}
	u, v := mesh.Basis(axis)
	o := l.in(origin)
	x := append(make([]float64, 4, most), own...)
	place := func(x []float64) r3.Vec { return r3.Add(o, r3.Add(r3.Scale(x[2], u), r3.Scale(x[3], v))) }
	leastSquares(x, l.p, func(x []float64) func(r3.Vec, []float64) float64 {
		a, byX, byY := tilted(axis, u, v, x[0], x[1])
		c := place(x)
		return func(p r3.Vec, by []float64) float64 {
			d := r3.Sub(p, c)
			t := r3.Dot(d, a)
			out := r3.Sub(d, r3.Scale(t, a))
			rho := math.Sqrt(r3.Norm2(out))
			e, byRho, byT := dist(x[4:], rho, t, by[4:])
			lean := byT // of the distance by the height alone, rho following
			if rho > 0 {
				out = r3.Scale(1/rho, out)
				lean -= byRho * t / rho
			}
			by[0], by[1] = lean*r3.Dot(d, byX), lean*r3.Dot(d, byY)
			by[2] = -byRho*r3.Dot(out, u) - byT*r3.Dot(a, u)
			by[3] = -byRho*r3.Dot(out, v) - byT*r3.Dot(a, v)
			return e
		}
	})
	copy(own, x[4:])
	a, _, _ := tilted(axis, u, v, x[0], x[1])
	return a, l.out(place(x))
}
