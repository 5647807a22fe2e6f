package parts

import (
	"context"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// toothed builds a ring of teeth that are so much smaller at its upper end.
func toothed(t *testing.T, teeth int, shrink float64) *mesh.Mesh {
	var rows [2][]r3.Vec
	for end := range rows {
		r := 20 * (1 - shrink*float64(end))
		for k := range teeth {
			for _, p := range [][2]float64{{-0.3, 0.88}, {-0.12, 1.08}, {0.12, 1.08}, {0.3, 0.88}} {
				s, c := math.Sincos(2 * math.Pi * (float64(k) + p[0]) / float64(teeth))
				rows[end] = append(rows[end], r3.Vec{X: r * p[1] * c, Y: r * p[1] * s, Z: 6 * float64(end)})
			}
		}
	}
	return loft(t, true, true, rows[:]...)
}

// The teeth of a gear are one part whether they taper or not; a prism of few sides keeps its walls.
func TestToothedRings(t *testing.T) {
	for _, c := range []struct {
		teeth  int
		shrink float64
		parts  int
		kind   shape.Kind
	}{{16, 0, 3, shape.Extruded}, {16, 0.3, 3, shape.Free}, {24, 0.05, 3, shape.Free}, {2, 0.3, 10, shape.Plane}} {
		m := toothed(t, c.teeth, c.shrink)
		parts, err := Recognise(context.Background(), m, Default(), nil)
		if err != nil {
			t.Fatal(err)
		}
		if len(parts) != c.parts {
			t.Errorf("%d teeth, smaller by %g: %d parts, want %d", c.teeth, c.shrink, len(parts), c.parts)
		}
		rings := 0
		for _, p := range parts {
			if p.Fit.Kind == c.kind && len(p.Faces) == 4*c.teeth {
				rings++
				if c.kind == shape.Free && math.Abs(p.Fit.Axis.Z) < 0.999 {
					t.Errorf("%d teeth, smaller by %g: axis %v", c.teeth, c.shrink, p.Fit.Axis)
				}
			}
		}
		if (rings == 1) != (c.kind != shape.Plane) {
			t.Errorf("%d teeth, smaller by %g: %d toothed rings", c.teeth, c.shrink, rings)
		}
	}
}

// Teeth that wind round their gear and those of a crown are one ring each, of quads and of triangles.
func TestTeethThatWind(t *testing.T) {
	var helical [][]r3.Vec
	for row := range 5 {
		var section []r3.Vec
		for k := range 20 {
			for _, p := range [][2]float64{{-0.3, 0.88}, {-0.22, 0.9}, {-0.12, 1.08}, {0.12, 1.08}, {0.22, 0.9}, {0.3, 0.88}} {
				s, c := math.Sincos(2*math.Pi*(float64(k)+p[0])/20 + 0.06*float64(row))
				section = append(section, r3.Vec{X: 20 * p[1] * c, Y: 20 * p[1] * s, Z: 2.5 * float64(row)})
			}
		}
		helical = append(helical, section)
	}
	counted(t, "helical gear", loft(t, true, true, helical...), 3, 480, shape.Free)
	crown := make([][]r3.Vec, 5)
	for k := range 128 {
		s, c := math.Sincos(2 * math.Pi * float64(k) / 128)
		top := 8 + 3*float64(k%4/2)
		for i, p := range []r2.Vec{{X: 17}, {X: 20}, {X: 20, Y: top}, {X: 17, Y: top}, {X: 17}} {
			crown[i] = append(crown[i], r3.Vec{X: p.X * c, Y: p.X * s, Z: p.Y})
		}
	}
	counted(t, "crown", loft(t, true, false, crown...), 4, 128, shape.Free)
}
