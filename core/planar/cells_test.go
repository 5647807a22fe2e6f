package planar

import (
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
)

// Runs has exactly the cells whose middles lie inside, each once, whichever way round the triangle is
// and however far it reaches beyond the grid.
func TestRunsAreTheMiddlesInside(t *testing.T) {
	rng := rand.New(rand.NewPCG(8, 9))
	const w, h = 17, 11
	for range 400 {
		var tri Triangle
		for k := range tri {
			tri[k] = r2.Vec{X: rng.Float64()*30 - 6, Y: rng.Float64()*24 - 6}
		}
		var got [h][w]int
		tri.Runs(w, h, func(y, first, last int) {
			for x := first; x <= last; x++ {
				got[y][x]++
			}
		})
		turn := math.Copysign(1, tri.Area())
		for y := range h {
			for x := range w {
				p, inside := r2.Vec{X: float64(x) + 0.5, Y: float64(y) + 0.5}, 1
				for k := range 3 {
					if turn*r2.Cross(r2.Sub(tri[(k+1)%3], tri[k]), r2.Sub(p, tri[k])) < 0 {
						inside = 0
					}
				}
				if got[y][x] != inside {
					t.Fatalf("%v: the cell %d, %d is there %d times, want %d", tri, x, y, got[y][x], inside)
				}
			}
		}
	}
}
