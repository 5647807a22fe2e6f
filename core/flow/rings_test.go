package flow

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// The flutes of a column vote for its grain, though it is longer round than along; a fluted knob that is flat has it around.
func TestGrainOfFlutes(t *testing.T) {
	for name, c := range map[string]struct {
		high float64
		want Mode
	}{"column": {40, Along}, "knob": {1, Around}} {
		w := meshtest.NewWelder()
		at := func(k int, z float64) mesh.PointID {
			s, c := math.Sincos(2 * math.Pi * float64(k%100) / 100)
			r := 6 - 0.6*math.Sin(math.Pi*float64(k%5)/5)
			return w.Point(r3.Vec{X: r * c, Y: r * s, Z: z})
		}
		for k := range 100 {
			w.Face(at(k, 0), at(k+1, 0), at(k+1, c.high), at(k, c.high))
		}
		m := w.Mesh(t)
		if g := DefaultGrain(m, meshtest.All(m), shape.Fit{Kind: shape.Extruded, Axis: r3.Vec{Z: 1}}); g.Mode != c.want {
			t.Errorf("%s: %v, want %v", name, g.Mode, c.want)
		}
	}
}

// A wall that leans all round has a grain around it, a ring of narrow flanks along its axis unless it fans out.
func TestGrainOfRings(t *testing.T) {
	star := func(k int, deep float64) r2.Vec {
		s, c := math.Sincos(2 * math.Pi * float64(k) / 40)
		r := 10 - deep*float64(k%2)
		return r2.Vec{X: r * c, Y: r * s}
	}
	for name, c := range map[string]struct {
		high, shrink, deep, wind float64
		want                     Mode
	}{
		"low wall that leans": {3, 0.2, 0, 0, Around},
		"flanks of teeth":     {14, 0.05, 2, 0, Along},
		"flanks that fan out": {14, 0.6, 2, 0, None},
		"flanks that wind":    {14, 0, 2, 0.5, Along},
	} {
		w := meshtest.NewWelder()
		at := func(k int, up float64) r3.Vec {
			p := r2.Rotate(r2.Scale(1-c.shrink*up, star(k%40, c.deep)), c.wind*up, r2.Vec{})
			return r3.Vec{X: p.X, Y: p.Y, Z: c.high * up}
		}
		for k := range 40 {
			w.Face(w.Point(at(k, 0)), w.Point(at(k+1, 0)), w.Point(at(k+1, 1)), w.Point(at(k, 1)))
		}
		m := w.Mesh(t)
		g := DefaultGrain(m, meshtest.All(m), shape.Fit{Kind: shape.Free, Axis: r3.Vec{Z: 1}})
		if g.Mode != c.want {
			t.Errorf("%s: %v, want %v", name, g.Mode, c.want)
		}
	}
}
