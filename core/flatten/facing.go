package flatten

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
)

// facing turns and moves a map as a whole to where the constraints ask for least of it:
// pins by least squares, else shared coordinates along their axis.
func (c *Constraints) facing(uv []r2.Vec) []r2.Vec {
	cos, sin, about, to := c.turn(uv)
	out := make([]r2.Vec, len(uv))
	for v, q := range uv {
		q = r2.Sub(q, about)
		out[v] = r2.Add(to, r2.Vec{X: cos*q.X - sin*q.Y, Y: sin*q.X + cos*q.Y})
	}
	return out
}

func (c *Constraints) turn(uv []r2.Vec) (cos, sin float64, about, to r2.Vec) {
	if n := float64(len(c.Pins)); n > 0 {
		for _, p := range c.Pins {
			about, to = r2.Add(about, r2.Scale(1/n, uv[p.Vertex])), r2.Add(to, r2.Scale(1/n, p.At))
		}
	}
	if len(c.Pins) > 1 {
		for _, p := range c.Pins {
			a, b := r2.Sub(uv[p.Vertex], about), r2.Sub(p.At, to)
			cos += r2.Dot(a, b)
			sin += r2.Cross(a, b)
		}
		if l := math.Hypot(cos, sin); l > 0 {
			return cos / l, sin / l, about, to
		}
	}
	// The spread of the groups across their axis, as a form of the direction of V.
	var xx, xy, yy float64
	for axis, groups := range [2][][]int32{c.ShareU, c.ShareV} {
		for _, g := range groups {
			var mean r2.Vec
			for _, v := range g {
				mean = r2.Add(mean, r2.Scale(1/float64(len(g)), uv[v]))
			}
			for _, v := range g {
				d := r2.Sub(uv[v], mean)
				if axis == 0 { // U runs a quarter turn before V
					d = r2.Vec{X: -d.Y, Y: d.X}
				}
				xx, xy, yy = xx+d.X*d.X, xy+d.X*d.Y, yy+d.Y*d.Y
			}
		}
	}
	if xx+yy == 0 {
		return 1, 0, about, to
	}
	// V goes where the spread is least, and rather up than down.
	along := math.Atan2(2*xy, xx-yy) / 2
	s, k := math.Sincos(along)
	if k < 0 {
		s, k = -s, -k
	}
	return k, -s, about, to
}
