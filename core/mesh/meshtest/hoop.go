package meshtest

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// Hoop sweeps a profile of (offset, height) round a rectangle of half sides a and b whose corners have a radius, n
// facets to each, about Y: open above and below, faces outwards when the profile runs upwards.
func Hoop(t testing.TB, a, b, radius float64, n int, profile ...r2.Vec) *mesh.Mesh {
	t.Helper()
	w := NewWelder()
	at := func(q r2.Vec, k int) mesh.PointID {
		k %= 4 * (n + 1)
		s, c := math.Sincos(math.Pi / 2 * (float64(k/(n+1)) + float64(k%(n+1))/float64(n)))
		side := func(turn int, half float64) float64 {
			if (k/(n+1)+turn)%4 < 2 {
				return half - radius
			}
			return radius - half
		}
		return w.Point(r3.Vec{X: side(0, a) + (radius+q.X)*s, Y: q.Y, Z: side(1, b) + (radius+q.X)*c})
	}
	for k := range len(profile) - 1 {
		for i := range 4 * (n + 1) {
			w.Face(at(profile[k], i), at(profile[k], i+1), at(profile[k+1], i+1), at(profile[k+1], i))
		}
	}
	return w.Mesh(t)
}
