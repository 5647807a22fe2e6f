package shape

import (
	"math"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// FitPlane returns the plane of mean normal through the mean of the corners.
func FitPlane(s Faces) Fit {
	var n r3.Vec
	for i, v := range s.Normals {
		n = r3.Add(n, r3.Scale(s.Areas[i], v))
	}
	f := Fit{Kind: Plane, Axis: mesh.Unit(n), Origin: mean(s.Points)}
	var area float64
	for _, a := range s.Areas {
		area += a
	}
	if r3.Norm(n) <= 1e-3*area { // a closed surface faces nowhere
		f.Error, f.Bend = math.Inf(1), math.Pi
		return f
	}
	f.measure(s)
	return f
}

// AcrossAxis returns the direction that the normals avoid, and how well: the
// root mean square of sin(angle to the plane across it), weighted by area.
func AcrossAxis(s Faces) (axis r3.Vec, spread float64) {
	m := mat.NewSymDense(3, nil)
	var total float64
	for i, n := range s.Normals {
		addOuter(m, n, s.Areas[i])
		total += s.Areas[i]
	}
	v, l := smallest(m)
	if total == 0 {
		return v, 1
	}
	return v, math.Sqrt(max(0, l) / total)
}

// FitCylinder fits a circular cylinder, starting from an axis direction.
func FitCylinder(s Faces, axis r3.Vec) Fit {
	axis = canonical(axis)
	l := localise(s.Points)
	c, r, _ := circleAcross(l.p, axis)
	own := []float64{r}
	a, o := s.round(l, axis, l.out(c), own, func(own []float64, rho, _ float64, by []float64) (d, byRho, byT float64) {
		by[0] = -1
		return rho - own[0], 1, 0
	})
	f := Fit{Kind: Cylinder, Axis: canonical(a), Origin: o, Radius: math.Abs(own[0]) * l.scale}
	f.measure(s)
	return f
}

// circleAcross fits a circle to points seen along an axis, not ok where they lie on none.
func circleAcross(p []r3.Vec, axis r3.Vec) (c r3.Vec, r float64, ok bool) {
	u, v := mesh.Basis(axis)
	flat := make([]r2.Vec, len(p))
	for i, q := range p {
		flat[i] = r2.Vec{X: r3.Dot(q, u), Y: r3.Dot(q, v)}
	}
	k, r, ok := circle(flat)
	return r3.Add(r3.Scale(k.X, u), r3.Scale(k.Y, v)), r, ok
}

// circle is the algebraic fit of a circle (Kåsa 1976), not ok where the points lie on none.
func circle(p []r2.Vec) (c r2.Vec, r float64, ok bool) {
	n := normal{size: 3}
	for _, q := range p {
		n.add(r2.Norm2(q), q.X, q.Y, 1)
	}
	x, ok := n.solve()
	if !ok {
		return c, 1, false
	}
	c = r2.Vec{X: x[0] / 2, Y: x[1] / 2}
	return c, math.Sqrt(max(0, x[2]+r2.Norm2(c))), true
}

// ConeAxis returns the axis to which all normals keep one angle, and the root
// mean square deviation of n·axis from its mean.
func ConeAxis(s Faces) (axis r3.Vec, height, spread float64) {
	var total float64
	var m r3.Vec
	for i, n := range s.Normals {
		m = r3.Add(m, r3.Scale(s.Areas[i], n))
		total += s.Areas[i]
	}
	if total == 0 {
		return r3.Vec{Z: 1}, 0, 1
	}
	m = r3.Scale(1/total, m)
	sc := mat.NewSymDense(3, nil)
	for i, n := range s.Normals {
		addOuter(sc, r3.Sub(n, m), s.Areas[i])
	}
	v, l := smallest(sc)
	h := r3.Dot(v, m)
	if h < 0 {
		v, h = r3.Scale(-1, v), -h
	}
	return v, h, math.Sqrt(max(0, l) / total)
}

// FitCone fits a circular cone whose normals lean along axis by height = n·axis.
func FitCone(s Faces, axis r3.Vec, height float64) Fit {
	axis = mesh.Unit(axis)
	l := localise(s.Points)
	slope := height / math.Sqrt(max(1e-12, 1-height*height)) // radius lost per unit along the axis
	c, r := coneAcross(l.p, axis, slope)
	for range 4 { // facets lean less than the cone through their corners
		slope = slopeAt(l.p, c, axis, slope)
		c, r = coneAcross(l.p, axis, slope)
	}
	own := []float64{r, math.Atan(slope)}
	a, o := s.round(l, axis, l.out(c), own, func(own []float64, rho, t float64, by []float64) (d, byRho, byT float64) {
		sin, cos := math.Sincos(own[1])
		by[0], by[1] = -cos, t*cos-(rho-own[0])*sin
		return (rho-own[0])*cos + t*sin, cos, sin
	})
	f := Fit{Kind: Cone, Axis: a, Origin: o, Major: own[0] * l.scale, HalfAngle: own[1]}
	if f.HalfAngle < 0 {
		f.Axis, f.HalfAngle = r3.Scale(-1, f.Axis), -f.HalfAngle
	}
	for _, p := range s.Points {
		t := r3.Dot(r3.Sub(p, f.Origin), f.Axis)
		f.Radius = max(f.Radius, f.Major-t*math.Tan(f.HalfAngle))
	}
	f.measure(s)
	return f
}

// slopeAt is the radius lost per unit of height that the corners tell, given the
// place of the axis; was if they all have one height.
func slopeAt(p []r3.Vec, c, axis r3.Vec, was float64) float64 {
	var n, st, sr, stt, str float64
	for _, q := range p {
		d := r3.Sub(q, c)
		t := r3.Dot(d, axis)
		rho := math.Sqrt(max(0, r3.Norm2(d)-t*t))
		n++
		st += t
		sr += rho
		stt += t * t
		str += t * rho
	}
	if den := n*stt - st*st; den > 1e-12*n*n {
		return -(n*str - st*sr) / den
	}
	return was
}

// coneAcross places a cone of known axis and slope: |q−c| = r − slope·t, squared
// and solved linearly for the place c of the axis, the radius r at height 0 and
// |c|²−r².
func coneAcross(p []r3.Vec, axis r3.Vec, slope float64) (c r3.Vec, r float64) {
	u, v := mesh.Basis(axis)
	n := normal{size: 4}
	for _, q := range p {
		x, y, t := r3.Dot(q, u), r3.Dot(q, v), r3.Dot(q, axis)
		n.add(x*x+y*y-slope*slope*t*t, 2*x, 2*y, -2*slope*t, -1)
	}
	x, ok := n.solve()
	if !ok {
		c, r, _ = circleAcross(p, axis)
		return c, r
	}
	return r3.Add(r3.Scale(x[0], u), r3.Scale(x[1], v)), x[2]
}

// FitSphere fits a sphere: algebraic start, then the distance of the corners.
func FitSphere(s Faces) Fit {
	l := localise(s.Points)
	n := normal{size: 4}
	for _, q := range l.p {
		n.add(r3.Norm2(q), q.X, q.Y, q.Z, 1)
	}
	x, ok := n.solve()
	if !ok {
		return Fit{Kind: Sphere, Origin: l.o, Radius: l.scale, Error: math.Inf(1), Bend: math.Pi}
	}
	c := r3.Vec{X: x[0] / 2, Y: x[1] / 2, Z: x[2] / 2}
	y := []float64{c.X, c.Y, c.Z, math.Sqrt(max(0, x[3]+r3.Norm2(c)))}
	if !s.Rough {
		leastSquares(y, l.p, func(y []float64) func(r3.Vec, []float64) float64 {
			return func(p r3.Vec, by []float64) float64 {
				d := r3.Sub(p, r3.Vec{X: y[0], Y: y[1], Z: y[2]})
				rho := math.Sqrt(r3.Norm2(d))
				n := max(rho, 1e-300)
				by[0], by[1], by[2], by[3] = -d.X/n, -d.Y/n, -d.Z/n, -1
				return rho - y[3]
			}
		})
	}
	f := Fit{Kind: Sphere, Origin: l.out(r3.Vec{X: y[0], Y: y[1], Z: y[2]}), Radius: math.Abs(y[3]) * l.scale}
	f.measure(s)
	return f
}

// FitTorus fits a torus, starting from its axis. The height of the centre and
// both radii come from a circle through the profile.
func FitTorus(s Faces, axis, origin r3.Vec) Fit {
	l := localise(s.Points)
	o := l.in(origin)
	c, r, _ := circle(profileOf(l.p, axis, o))
	own := []float64{c.X, c.Y, r}
	a, at := s.round(l, axis, origin, own, func(own []float64, rho, t float64, by []float64) (d, byRho, byT float64) {
		rho, t = rho-own[0], t-own[1]
		n := math.Sqrt(rho*rho + t*t)
		if n > 0 {
			byRho, byT = rho/n, t/n
		}
		by[0], by[1], by[2] = -byRho, -byT, -1
		return n - own[2], byRho, byT
	})
	f := Fit{Kind: Torus, Axis: canonical(a), Major: own[0] * l.scale, Radius: math.Abs(own[2]) * l.scale}
	f.Origin = r3.Add(at, r3.Scale(own[1]*l.scale, a))
	f.measure(s)
	return f
}

// FitExtruded returns the direction all normals stay across.
func FitExtruded(s Faces) Fit {
	axis, _ := AcrossAxis(s)
	f := Fit{Kind: Extruded, Axis: canonical(axis), Origin: s.centroid()}
	f.measure(s)
	return f
}

// FitTurned returns the axis all normals meet. The radius is the largest.
func FitTurned(s Faces) Fit {
	axis, origin, ok := RevolutionAxis(s)
	if !ok {
		return Fit{Kind: Turned, Origin: s.centroid(), Error: math.Inf(1), Bend: math.Pi}
	}
	return AsTurned(s, axis, origin)
}

// AsTurned measures faces as turned about a given axis.
func AsTurned(s Faces, axis, origin r3.Vec) Fit {
	c := s.centroid()
	origin = r3.Add(origin, r3.Scale(r3.Dot(r3.Sub(c, origin), axis), axis))
	f := Fit{Kind: Turned, Axis: canonical(axis), Origin: origin}
	for _, p := range s.Points {
		rho, _ := Meridian(p, axis, origin)
		f.Radius = max(f.Radius, rho)
	}
	f.measure(s)
	return f
}

func addOuter(m *mat.SymDense, n r3.Vec, w float64) {
	v := [3]float64{n.X, n.Y, n.Z}
	for i := range 3 {
		for j := i; j < 3; j++ {
			m.SetSym(i, j, m.At(i, j)+w*v[i]*v[j])
		}
	}
}

func smallest(m *mat.SymDense) (r3.Vec, float64) {
	var e mat.EigenSym
	if !e.Factorize(m, true) {
		return r3.Vec{Z: 1}, 0
	}
	var v mat.Dense
	e.VectorsTo(&v)
	return mesh.Unit(r3.Vec{X: v.At(0, 0), Y: v.At(1, 0), Z: v.At(2, 0)}), e.Values(nil)[0]
}
