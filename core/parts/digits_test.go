package parts

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strconv"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"
)

// What writing with few digits rounded away is told by the numbers; where all digits are there, or a modeler
// chose round numbers, nothing is.
func TestLastDigit(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	points := func(format string) []r3.Vec {
		n := func() float64 {
			v, err := strconv.ParseFloat(fmt.Sprintf(format, 50*(2*r.Float64()-1)), 64)
			if err != nil {
				t.Fatal(err)
			}
			return v
		}
		out := []r3.Vec{{X: 50}}
		for range 400 {
			out = append(out, r3.Vec{X: n(), Y: n(), Z: n()})
		}
		return out
	}
	for format, want := range map[string]float64{"%.6g": 0.5e-4, "%.5g": 0.5e-3, "%.4f": 0.5e-4, "%.17g": 0, "%.9f": 0, "%.0f": 0, "%.2g": 0} {
		if got := lastDigit(points(format)); math.Abs(got-want) > 1e-3*want {
			t.Errorf("%s: %g, want %g", format, got, want)
		}
	}
	// Decimals of which most numbers need all, though few of them have as many digits as the largest.
	small := []r3.Vec{{X: 0.5}}
	for range 400 {
		small = append(small, r3.Vec{X: math.Round(4e4*r.Float64()) / 1e6, Y: math.Round(4e4*r.Float64()) / 1e6})
	}
	if got := lastDigit(small); math.Abs(got-0.5e-6) > 1e-9 {
		t.Errorf("six decimals: %g", got)
	}
	if got := lastDigit(nil); got != 0 {
		t.Errorf("no points: %g", got)
	}
}
