package sheet

import (
	"context"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// On a sheet twice as wide as high padding and margin hold in all turns, around what stays too,
// and two packings are the same.
func TestAWideSheetKeepsPaddingExactly(t *testing.T) {
	for k, turns := range []Turns{NoTurns, HalfTurns, QuarterTurns, AnyTurns} {
		rng := rand.New(rand.NewPCG(uint64(k), 5))
		o := Options{SizePx: 1024, PaddingPx: 6, MarginPx: 5, Turns: turns, Tiles: 1, Wide: true}
		shells := somewhere(rng, 40, 0.3)
		a, err := Pack(context.Background(), shells, o, nil)
		if err != nil {
			t.Fatal(err)
		}
		checkPlaced(t, shells, a, o)
		b, err := Pack(context.Background(), shells, o, nil)
		if err != nil {
			t.Fatal(err)
		}
		right := 0
		for i := range a {
			if a[i] != b[i] {
				t.Fatalf("two packings differ at shell %d", i)
			}
			if a[i].Apply(shells[i].Tris[0][0]).X > 1 {
				right++
			}
		}
		if right == 0 || right == len(a) {
			t.Errorf("%d of %d shells lie in the right half", right, len(a))
		}
		var around []planar.Triangle // stands across the middle
		for _, tri := range rect(0.4, 0.7).Tris {
			around = append(around, Placement{Scale: 1, Shift: r2.Vec{X: 0.9, Y: 0.1}}.triangle(tri))
		}
		c, err := PackAround(context.Background(), shells, around, o, nil)
		if err != nil {
			t.Fatal(err)
		}
		checkPlaced(t, shells, c, o)
		apart(t, shells, c, yes(len(shells)), around, o)
	}
}

// A strip as long as the sheet is wide takes its whole width, and a fixed size has room there
// that a square has not.
func TestAWideSheetTakesLongStrips(t *testing.T) {
	o := Options{SizePx: 512, PaddingPx: 2, MarginPx: 2, Turns: HalfTurns, Tiles: 1, Wide: true}
	shells := []Shell{rect(19, 1), rect(19, 2), rect(9, 5)}
	p, err := Pack(context.Background(), shells, o, nil)
	if err != nil {
		t.Fatal(err)
	}
	checkPlaced(t, shells, p, o)
	if long := 19 * p[0].Scale; long < 1.9 {
		t.Errorf("the strip is %g long on a sheet of 2", long)
	}
	for _, wide := range []bool{true, false} {
		o.Wide = wide
		if _, laid, err := Fill(context.Background(), []Shell{rect(1.8, 0.1)}, nil, o); err != nil || laid[0] != wide {
			t.Errorf("wide %v: a strip of 1.8 was laid: %v, %v", wide, laid, err)
		}
	}
	o.Wide, o.Tiles = true, 2
	if _, err := Pack(context.Background(), shells, o, nil); err == nil {
		t.Error("two wide tiles were accepted")
	}
}
