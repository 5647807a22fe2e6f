package planar

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
)

// Turn is how places turn about their middle a to lie like as many others about theirs, b, by least squares
// (Procrustes in the plane): by an angle of which it gives the cosine and the sine; 1 and 0 where none is better.
func Turn(from, to []r2.Vec) (a, b r2.Vec, cos, sin float64) {
	n := 1 / float64(max(1, len(from)))
	for i := range from {
		a, b = r2.Add(a, r2.Scale(n, from[i])), r2.Add(b, r2.Scale(n, to[i]))
	}
	for i := range from {
		p, q := r2.Sub(from[i], a), r2.Sub(to[i], b)
		cos += r2.Dot(p, q)
		sin += r2.Cross(p, q)
	}
	l := math.Hypot(cos, sin)
	if l == 0 {
		cos, l = 1, 1
	}
	return a, b, cos / l, sin / l
}
