package planar

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
)

// WayOff returns the direction and the least distance along which o must go so that it no longer lies on t:
// across one of their sides (separating axes, Gottschalk 1996). The distance is negative where they are
// apart, +Inf where neither has a side.
func (t Triangle) WayOff(o Triangle) (n r2.Vec, depth float64) {
	depth = math.Inf(1)
	for _, s := range [2]Triangle{t, o} {
		for k := range 3 {
			side := r2.Sub(s[(k+1)%3], s[k])
			l := r2.Norm(side)
			if l == 0 {
				continue
			}
			axis := r2.Vec{X: -side.Y / l, Y: side.X / l}
			t0, t1 := t.along(axis)
			o0, o1 := o.along(axis)
			if d := t1 - o0; d < depth {
				n, depth = axis, d
			}
			if d := o1 - t0; d < depth {
				n, depth = r2.Scale(-1, axis), d
			}
		}
	}
	return n, depth
}

// along is the range of a triangle along an axis.
func (t Triangle) along(axis r2.Vec) (lo, hi float64) {
	a, b, c := r2.Dot(t[0], axis), r2.Dot(t[1], axis), r2.Dot(t[2], axis)
	return min(a, b, c), max(a, b, c)
}
