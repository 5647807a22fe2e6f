package shape

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
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

// Centred moves and tilts an axis a little, so that each row of points lies on a circle about it as near
// as may be: by least squares, after the first terms of what the motion does to their radii and heights.
// An axis that they do not tell stays as it is.
func Centred(rows [][]r3.Vec, axis, origin r3.Vec) (r3.Vec, r3.Vec) {
	for range 2 {
		u, v := mesh.Basis(axis)
		n := normal{size: 4} // shift along u and v, tilt towards u and v
		for _, row := range rows {
			var radii, heights [][5]float64 // what is off, and what each unknown does to it
			for _, p := range row {
				d := r3.Sub(p, origin)
				rho, t := Meridian(p, axis, origin)
				if rho == 0 {
					continue
				}
				x, y := r3.Dot(d, u)/rho, r3.Dot(d, v)/rho
				radii = append(radii, [5]float64{rho, x, y, t * x, t * y})
				heights = append(heights, [5]float64{t, 0, 0, -rho * x, -rho * y})
			}
			for _, list := range [][][5]float64{radii, heights} {
				var mean [5]float64
				for _, e := range list {
					for k := range e {
						mean[k] += e[k] / float64(len(list))
					}
				}
				for _, e := range list {
					n.add(e[0]-mean[0], e[1]-mean[1], e[2]-mean[2], e[3]-mean[3], e[4]-mean[4])
				}
			}
		}
		x, ok := n.solve()
		if !ok {
			break
		}
		origin = r3.Add(origin, r3.Add(r3.Scale(x[0], u), r3.Scale(x[1], v)))
		axis = mesh.Unit(r3.Add(axis, r3.Add(r3.Scale(x[2], u), r3.Scale(x[3], v))))
	}
	return axis, origin
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
		if t, r, ok := dome(p, r2.Scale(1/size, mid)); ok {
			f.Origin, f.Radius = r3.Add(origin, r3.Scale(size*t, axis)), size*r
		}
	}
	f.measure(s)
	return f
}

// dome fits the circle with its centre on the axis to a profile that is given from mid: the height of the
// centre, and the radius.
func dome(p []r2.Vec, mid r2.Vec) (t, r float64, ok bool) {
	n := normal{size: 2}
	for _, q := range p {
		rho := q.X + mid.X
		n.add(rho*rho+q.Y*q.Y, q.Y, 1)
	}
	x, ok := n.solve()
	if !ok {
		return 0, 0, false
	}
	return x[0]/2 + mid.Y, math.Sqrt(max(0, x[1]+x[0]*x[0]/4)), true
}
