package sheet

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
)

// What is left of another, or above it, mostly is so on the sheet; nothing overlaps, nothing is
// too close, and much of the sheet is used.
func TestShellsAreArrangedAsTheirPlaces(t *testing.T) {
	rng := rand.New(rand.NewPCG(4, 8))
	shells := somewhere(rng, 60, 1)
	at := make([]r2.Vec, len(shells))
	for i := range at {
		at[i] = r2.Vec{X: 100 * rng.NormFloat64(), Y: math.Round(5*rng.Float64()) / 5} // some at one height
	}
	o := Options{SizePx: 1024, PaddingPx: 5, MarginPx: 7, Turns: HalfTurns, Tiles: 1}
	placed, err := Arrange(context.Background(), shells, at, o, nil)
	if err != nil {
		t.Fatal(err)
	}
	apart(t, shells, placed, yes(len(shells)), nil, o)
	right, wrong := 0, 0
	for i := range at {
		for k := range at {
			a, b := placed[i].Apply(shells[i].Measured().box.Middle()), placed[k].Apply(shells[k].Measured().box.Middle())
			for _, d := range [2][2]float64{{at[i].X - at[k].X, a.X - b.X}, {at[i].Y - at[k].Y, a.Y - b.Y}} {
				if d[0]*d[1] > 0 {
					right++
				} else if d[0]*d[1] < 0 {
					wrong++
				}
			}
		}
	}
	if share := float64(right) / float64(right+wrong); share < 0.85 {
		t.Errorf("%.2f of the pairs lie as they should", share)
	}
	if c := coverage(shells, placed[0].Scale); c < 0.45 {
		t.Errorf("coverage %.2f", c)
	}
	again, err := Arrange(context.Background(), shells, at, o, nil)
	if err != nil {
		t.Fatal(err)
	}
	for i := range placed {
		if placed[i] != again[i] {
			t.Fatalf("again, shell %d lies elsewhere", i)
		}
	}
}
