package planar_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

func TestTurnIsFoundAgain(t *testing.T) {
	from := []r2.Vec{{X: 1}, {X: 3, Y: 1}, {X: -2, Y: 4}, {Y: -1}}
	for _, angle := range []float64{0, 0.3, math.Pi / 2, -2.5} {
		want, sine := math.Cos(angle), math.Sin(angle)
		var to []r2.Vec
		for _, q := range from {
			to = append(to, r2.Vec{X: 2*(want*q.X-sine*q.Y) + 7, Y: 2*(sine*q.X+want*q.Y) - 1}) // larger and elsewhere
		}
		if _, _, cos, sin := planar.Turn(from, to); math.Hypot(cos-want, sin-sine) > 1e-12 {
			t.Errorf("turned by %g: %g, %g", angle, cos, sin)
		}
	}
	if _, _, cos, sin := planar.Turn(nil, nil); cos != 1 || sin != 0 {
		t.Errorf("of nothing: %g, %g", cos, sin)
	}
}
