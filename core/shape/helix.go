package shape

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// A screw surface is one that a turn about an axis together with a shift along it leaves as
// it is: the flanks of a thread, a coil, a twisted bar. Its normals are across that motion
// everywhere (Pottmann & Randrup 1998), which is what slippage finds; the motion of least
// slip is refined by least squares over the angles of the normals.

// FitHelix fits a screw motion to faces. Radius is the largest distance from the axis,
// Pitch the way along it for a turn, positive for a right-handed screw. The error is
// infinite where the best motion has no turn or no shift.
func FitHelix(s Faces) Fit {
	none := Fit{Kind: Helix, Origin: s.centroid(), Error: math.Inf(1), Bend: math.Pi}
	var best Motion
	motions := Slippage(s)
	for _, m := range motions[:2] {
		if !m.Shift && m.Axis != (r3.Vec{}) && (best.Axis == (r3.Vec{}) || m.Slip < best.Slip) {
			best = m
		}
	}
	if best.Axis == (r3.Vec{}) || best.Pitch == 0 {
		return none
	}
	f := Fit{Kind: Helix, Axis: best.Axis, Origin: best.Origin, Pitch: 2 * math.Pi * best.Pitch}
	f = refineHelix(s, f)
	if c := canonical(f.Axis); r3.Dot(c, f.Axis) < 0 {
		f.Axis = c // the hand of a screw does not depend on how its axis points
	}
	f.Origin = r3.Add(f.Origin, r3.Scale(r3.Dot(r3.Sub(s.centroid(), f.Origin), f.Axis), f.Axis))
	for _, p := range s.Points {
		rho, _ := Meridian(p, f.Axis, f.Origin)
		f.Radius = max(f.Radius, rho)
	}
	f.measure(s)
	return f
}

// Motion returns the velocity of the screw motion of a helix at a place, for a turn of one
// radian.
func (f *Fit) Motion(p r3.Vec) r3.Vec {
	return r3.Add(r3.Cross(f.Axis, r3.Sub(p, f.Origin)), r3.Scale(f.Pitch/(2*math.Pi), f.Axis))
}

// refineHelix turns and shifts the axis and changes the pitch so that normals are across the
// motion as well as they can, each facet weighing by its area (Gauss and Newton).
func refineHelix(s Faces, f Fit) Fit {
	size := 0.0
	for _, c := range s.Centres {
		size = max(size, r3.Norm(r3.Sub(c, f.Origin)))
	}
	if size == 0 {
		return f
	}
	cost := func(f *Fit) (sum float64) {
		for i, n := range s.Normals {
			v := f.Motion(s.Centres[i])
			if l := r3.Norm2(v); l > 0 {
				d := r3.Dot(n, v)
				sum += s.Areas[i] * d * d / l
			}
		}
		return sum
	}
	was := cost(&f)
	for range 20 {
		u, w := mesh.Basis(f.Axis)
		n := normal{size: 5}
		for i, nn := range s.Normals {
			c := r3.Sub(s.Centres[i], f.Origin)
			v := f.Motion(s.Centres[i])
			l := r3.Norm(v)
			if l == 0 {
				continue
			}
			h := f.Pitch / (2 * math.Pi)
			k := math.Sqrt(s.Areas[i]) / l
			by := func(d r3.Vec) float64 { return k * r3.Dot(nn, d) }
			n.add(-by(v),
				by(r3.Add(r3.Cross(u, c), r3.Scale(h, u))), // the axis leans
				by(r3.Add(r3.Cross(w, c), r3.Scale(h, w))),
				by(r3.Scale(-1, r3.Cross(f.Axis, u))), // and shifts
				by(r3.Scale(-1, r3.Cross(f.Axis, w))),
				by(f.Axis)) // the shift for a radian
		}
		x, ok := n.solve()
		if !ok {
			break
		}
		next := f
		next.Axis = mesh.Unit(r3.Add(f.Axis, r3.Add(r3.Scale(x[0], u), r3.Scale(x[1], w))))
		next.Origin = r3.Add(f.Origin, r3.Add(r3.Scale(x[2], u), r3.Scale(x[3], w)))
		next.Pitch += 2 * math.Pi * x[4]
		now := cost(&next)
		if !(now < was*(1-1e-9)) {
			break
		}
		f, was = next, now
	}
	return f
}
