package meshtest

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// Link is a flat chain link with round ends: a plate on each side, an outer and an inner
// wall, and between them bevels of so many rows, all round. Straights are 4 long, the band
// is 2 wide and 1.6 thick, the ends turn about radii of 1 to 3, in n facets; a bevel takes
// 0.3 off each side.
func Link(t testing.TB, n, rows int) *mesh.Mesh {
	const bevel, thick = 0.3, 0.8
	var path, out []r3.Vec // of the middle, and away from it
	for end := range 2 {
		for i := range n + 1 {
			s, c := math.Sincos(math.Pi*float64(end) + math.Pi*float64(i)/float64(n) - math.Pi/2)
			d := r3.Vec{X: c, Y: s}
			path = append(path, r3.Add(r3.Vec{X: 2 - 4*float64(end)}, r3.Scale(2, d)))
			out = append(out, d)
		}
	}
	var section [][2]float64 // away from the middle, and up
	for side := range 4 {
		corner := func(a float64) {
			s, c := math.Sincos(math.Pi/2*float64(side) + a)
			x, y := bevel*c, bevel*s
			sx, sy := 1-bevel, thick-bevel
			if side == 1 || side == 2 {
				sx = -sx
			}
			if side > 1 {
				sy = -sy
			}
			section = append(section, [2]float64{sx + x, sy + y})
		}
		for k := range rows + 1 {
			corner(math.Pi / 2 * float64(k) / float64(rows))
		}
	}
	w := NewWelder()
	at := func(i, k int) mesh.PointID {
		i, k = i%len(path), k%len(section)
		q := section[k]
		return w.Point(r3.Add(r3.Add(path[i], r3.Scale(q[0], out[i])), r3.Vec{Z: q[1]}))
	}
	for i := range path {
		for k := range section {
			w.Face(at(i, k), at(i+1, k), at(i+1, k+1), at(i, k+1))
		}
	}
	return w.Mesh(t)
}
