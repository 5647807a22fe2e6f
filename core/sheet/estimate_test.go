package sheet

import (
	"context"
	"errors"
	"math/rand/v2"
	"testing"
)

// A bound on an estimate changes nothing but that what is not above it is not told.
func TestEstimateAboveABound(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 5))
	o := Options{SizePx: 1024, PaddingPx: 4, MarginPx: 4, Turns: HalfTurns}
	for n := 3; n <= 48; n *= 2 {
		shells := somewhere(rng, n, 1)
		all, err := Estimate(context.Background(), shells, o, 0)
		if err != nil || all <= 0 {
			t.Fatalf("%d shells: scale %v, %v", n, all, err)
		}
		for _, c := range []struct{ above, want float64 }{{0.5 * all, all}, {0.999 * all, all}, {all, 0}, {1.001 * all, 0}, {3 * all, 0}} {
			if got, err := Estimate(context.Background(), shells, o, c.above); err != nil || got != c.want {
				t.Errorf("%d shells, above %.4g of the scale: %v, %v, want %v", n, c.above/all, got, err, c.want)
			}
		}
	}
	if _, err := Estimate(context.Background(), somewhere(rng, 400, 1), Options{SizePx: 64, PaddingPx: 8, Turns: HalfTurns}, 0); !errors.Is(err, ErrNoRoom) {
		t.Errorf("400 shells on 64 pixels: %v, want ErrNoRoom", err)
	}
}

// What more turns promise is hardly found: on a square sheet plans are those for half turns.
func TestEstimateWithMoreTurns(t *testing.T) {
	shells := append(somewhere(rand.New(rand.NewPCG(2, 5)), 12, 1), rect(0.5, 9))
	scales := map[Turns]float64{}
	for _, wide := range []bool{false, true} {
		for _, turns := range []Turns{HalfTurns, QuarterTurns, AnyTurns} {
			s, err := Estimate(context.Background(), shells, Options{SizePx: 1024, PaddingPx: 4, MarginPx: 4, Turns: turns, Wide: wide}, 0)
			if err != nil {
				t.Fatal(err)
			}
			scales[turns] = s
		}
		if half, quarter := scales[HalfTurns], scales[QuarterTurns]; !wide && (quarter != half || scales[AnyTurns] != half) || wide && quarter <= half {
			t.Errorf("wide %v: %v", wide, scales)
		}
	}
}
