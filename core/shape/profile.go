package shape

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"
)

// A surface turned about a known axis is its profile: the points (radius, height) of its
// corners. Straight runs of a profile are walls, cones and flat rings; circular runs are
// fillets, domes and rings. Both have closed forms, so that hardly anything tells them
// apart from what they are: no axis has to be found for a run of two rows.

// Meridian returns how far a point is from an axis, and its height along it from origin.
func Meridian(p, axis, origin r3.Vec) (rho, t float64) {
	d := r3.Sub(p, origin)
	t = r3.Dot(d, axis)
	return math.Sqrt(max(0, r3.Norm2(d)-t*t)), t
}

// profileOf returns points as (radius, height) about an axis.
func profileOf(points []r3.Vec, axis, origin r3.Vec) []r2.Vec {
	out := make([]r2.Vec, len(points))
	for i, p := range points {
		out[i].X, out[i].Y = Meridian(p, axis, origin)
	}
	return out
}

func middle(p []r2.Vec) (c r2.Vec) {
	for _, q := range p {
		c = r2.Add(c, q)
	}
	return r2.Scale(1/float64(max(1, len(p))), c)
}

// Straight fits the wall, cone or flat ring about a given axis that the corners lie on:
// the line of least squares through their profile. Angles to the axis and to the plane
// across it below least, in radians, make a cylinder and a plane of it.
func Straight(s Faces, axis, origin r3.Vec, least float64) Fit {
	p := profileOf(s.Points, axis, origin)
	c := middle(p)
	var xx, xy, yy float64
	for _, q := range p {
		d := r2.Sub(q, c)
		xx += d.X * d.X
		xy += d.X * d.Y
		yy += d.Y * d.Y
	}
	turn := 0.5 * math.Atan2(2*xy, xx-yy) // of the line, from the radius
	slope := math.Abs(math.Pi/2 - math.Abs(turn))
	f := Fit{Axis: axis, Origin: origin}
	switch {
	case slope <= least:
		f.Kind, f.Radius = Cylinder, c.X
		f.Axis = canonical(axis)
	case slope >= math.Pi/2-least:
		f.Kind = Plane
		f.Origin = r3.Add(origin, r3.Scale(c.Y, axis))
	default:
		f.Kind, f.HalfAngle = Cone, slope
		if turn > 0 && turn < math.Pi/2 || turn < -math.Pi/2 { // the radius grows along the axis
			f.Axis = r3.Scale(-1, axis)
		}
		f.Origin, f.Major = r3.Add(origin, r3.Scale(c.Y, axis)), c.X
		for _, q := range p {
			f.Radius = max(f.Radius, q.X)
		}
	}
	f.measure(s)
	return f
}

// Arc fits the dome or ring about a given axis that the corners lie on: the circle through
// their profile. A circle whose centre is off the axis by less than the share near of its
// radius is a sphere. The error is infinite where the profile is no arc.
func Arc(s Faces, axis, origin r3.Vec, near float64) Fit {
	p := profileOf(s.Points, axis, origin)
	mid := middle(p)
	size := 0.0
	for _, q := range p {
		size = max(size, r2.Norm(r2.Sub(q, mid)))
	}
	bad := Fit{Kind: Torus, Axis: axis, Origin: origin, Error: math.Inf(1), Bend: math.Pi}
	if size == 0 {
		return bad
	}
	for i, q := range p {
		p[i] = r2.Scale(1/size, r2.Sub(q, mid))
	}
	c, r, ok := circle(p)
	if !ok {
		return bad
	}
	r *= size
	c = r2.Add(mid, r2.Scale(size, c))
	f := Fit{Kind: Torus, Axis: canonical(axis), Origin: r3.Add(origin, r3.Scale(c.Y, axis)), Major: c.X, Radius: r}
	if math.Abs(c.X) < near*r {
		f.Kind, f.Axis, f.Major = Sphere, r3.Vec{}, 0
	}
	f.measure(s)
	return f
}
