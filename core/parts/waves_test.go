package parts

import (
	"context"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// A bellows is one wall though its radii differ by a quarter; a spool and a wall with two ridges stay as they are.
func TestCorrugatedWall(t *testing.T) {
	var bellows []r2.Vec
	for k := range 73 {
		bellows = append(bellows, r2.Vec{X: 4 + 0.5*(1-math.Cos(math.Pi*float64(k)/6)), Y: float64(k) / 6})
	}
	steps := func(radii ...float64) (out []r2.Vec) { // walls with cones of 45° between
		y := 0.
		for k, r := range radii {
			if k > 0 {
				y += math.Abs(r - radii[k-1])
			}
			out = append(out, r2.Vec{X: r, Y: y}, r2.Vec{X: r, Y: y + 2})
			y += 2
		}
		return out
	}
	for name, c := range map[string]struct {
		profile []r2.Vec
		parts   int
	}{
		"bellows":         {bellows, 1},
		"spool":           {steps(6, 4, 6), 5},
		"wall with ridge": {steps(4, 5, 4), 5},
	} {
		m := meshtest.Lathe(t, 40, c.profile...)
		parts, err := Recognise(context.Background(), m, Default(), nil)
		if err != nil {
			t.Fatal(err)
		}
		if len(parts) != c.parts || c.parts == 1 && (parts[0].Fit.Kind != shape.Turned || len(parts[0].Pieces) < 8) {
			t.Errorf("%s: %d parts, want %d; the first a %s of %d pieces", name, len(parts), c.parts, parts[0].Fit.Kind, len(parts[0].Pieces))
		}
	}
}

// A link of a chain is one bar that closes on itself.
func TestLink(t *testing.T) {
	var path []r3.Vec
	for k := range 26 {
		s, c := math.Sincos(math.Pi*float64(k-k/13)/12 - math.Pi/2)
		path = append(path, r3.Vec{X: 8 - 16*float64(k/13) + 5*c, Z: 5 * s})
	}
	m := bar(t, path, 12, 1.4, 1.4, true)
	parts, err := Recognise(context.Background(), m, Default(), nil)
	if err != nil {
		t.Fatal(err)
	}
	if len(parts) != 1 || parts[0].Fit.Kind != shape.Swept || len(parts[0].Pieces) != 4 {
		t.Errorf("%d parts, the first a %s of %d pieces", len(parts), parts[0].Fit.Kind, len(parts[0].Pieces))
	}
}
