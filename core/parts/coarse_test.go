package parts

import (
	"context"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// bar sweeps an oval section of so many sides along a path in the plane of x and z; a bar that
// is closed goes on into its beginning.
func bar(t *testing.T, path []r3.Vec, sides int, wide, thick float64, closed bool) *mesh.Mesh {
	w := meshtest.NewWelder()
	n := len(path)
	at := func(i, k int) mesh.PointID {
		before, after := path[max(i-1, 0)], path[min(i+1, n-1)]
		if closed {
			before, after = path[(i+n-1)%n], path[(i+1)%n]
		}
		up := r3.Vec{Y: 1}
		out := r3.Unit(r3.Cross(up, r3.Sub(after, before)))
		s, c := math.Sincos(2 * math.Pi * float64(k%sides) / float64(sides))
		return w.Point(r3.Add(path[i%n], r3.Add(r3.Scale(wide*c, up), r3.Scale(thick*s, out))))
	}
	last := n - 1
	if closed {
		last = n
	}
	for i := range last {
		for k := range sides {
			w.Face(at(i%n, k), at(i%n, k+1), at((i+1)%n, k+1), at((i+1)%n, k))
		}
	}
	return w.Mesh(t)
}

// Bent bars are one part though their sections have corners that would be creases elsewhere, wires of five sides and
// more though they bend coarsely; a thick hexagonal bar is one of six strips, and straight and square ones keep
// their sides.
func TestCoarseBars(t *testing.T) {
	arc := func(turn float64) (path []r3.Vec) {
		for k := range 19 {
			s, c := math.Sincos(turn * float64(k) / 18)
			path = append(path, r3.Vec{X: 4 * c, Z: 4 * s})
		}
		return path
	}
	ring := arc(2 * math.Pi)[:18]
	kinked := []r3.Vec{{}, {Z: 6}, {X: 4, Z: 9.5}, {X: 11, Z: 9.5}}
	long := []r3.Vec{{}, {Z: 2}, {Z: 5}, {Z: 9}, {Z: 12}}
	for _, c := range []struct {
		name        string
		path        []r3.Vec
		sides       int
		wide, thick float64
		closed      bool
		parts       int
		kind        shape.Kind
	}{
		{"handle of flat section", arc(2.6), 12, 0.6, 0.36, false, 1, shape.Swept},
		{"handle of eight sides", arc(2.6), 8, 0.5, 0.5, false, 1, shape.Swept},
		{"ring of eight sides", ring, 8, 0.5, 0.5, true, 1, shape.Torus},
		{"bent hexagonal bar", arc(2.6), 6, 0.7, 0.7, false, 1, shape.Swept}, // of six strips
		{"hexagonal wire", arc(2.6), 6, 0.2, 0.2, false, 1, shape.Swept},
		{"wire of five sides, bent coarsely", kinked, 5, 0.2, 0.2, false, 1, shape.Swept},
		{"wire of six sides, bent coarsely", kinked, 6, 0.2, 0.2, false, 1, shape.Swept},
		{"square bar, bent coarsely", kinked, 4, 0.2, 0.2, false, 12, shape.Plane},
		{"straight octagonal bar", long, 8, 0.5, 0.5, false, 8, shape.Plane},
	} {
		m := bar(t, c.path, c.sides, c.wide, c.thick, c.closed)
		parts, err := Recognise(context.Background(), m, Default(), nil)
		if err != nil {
			t.Fatal(err)
		}
		if len(parts) != c.parts || parts[0].Fit.Kind != c.kind {
			t.Errorf("%s: %d parts, the first a %s; want %d, a %s", c.name, len(parts), parts[0].Fit.Kind, c.parts, c.kind)
		}
		if strips := len(parts[0].Pieces); c.parts == 1 && (strips > 0) != (c.sides == 6 && c.wide > 0.5) {
			t.Errorf("%s: %d pieces", c.name, strips)
		}
	}
}
