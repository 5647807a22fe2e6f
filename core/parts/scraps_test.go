package parts_test

import (
	"context"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/parts"
)

// eared is a plate of 20 × 20 with a triangle at its rim that rises from it by an angle.
func eared(t *testing.T, high, rises float64) *mesh.Mesh {
	t.Helper()
	w := meshtest.NewWelder()
	at := func(x, y int) mesh.PointID { return w.Point(r3.Vec{X: float64(x), Y: float64(y)}) }
	for x := range 20 {
		for y := range 20 {
			w.Face(at(x, y), at(x+1, y), at(x+1, y+1), at(x, y+1))
		}
	}
	s, c := math.Sincos(rises)
	w.Face(at(20, 11), at(20, 10), w.Point(r3.Vec{X: 20 + high*c, Y: 10.5, Z: high * s}))
	return w.Mesh(t)
}

// A triangle left over beside something large is no part of its own, one that stands up from
// it or is large itself is.
func TestScrapsGoWithWhatTheyLieBeside(t *testing.T) {
	for _, c := range []struct {
		high, degrees float64
		want          int
	}{{0.6, 25, 1}, {0.6, 38, 1}, {0.6, 60, 2}, {0.6, -90, 2}, {12, 25, 2}} {
		m := eared(t, c.high, c.degrees*math.Pi/180)
		got, err := parts.Recognise(context.Background(), m, parts.Default(), nil)
		if err != nil {
			t.Fatal(err)
		}
		faces := 0
		for _, p := range got {
			faces += len(p.Faces)
		}
		if len(got) != c.want || faces != m.NumFaces() {
			t.Errorf("%g high, %g°: %d parts of %d faces, want %d of %d", c.high, c.degrees, len(got), faces, c.want, m.NumFaces())
		}
	}
}
