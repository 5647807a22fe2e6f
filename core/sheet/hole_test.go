package sheet

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// onCells tells whether all shells lie on a raster as fine as the one that is filled by, by their
// lower left or, turned by a half, by their upper right. Sheets that were tightened in exact geometry do not.
func onCells(laid []Shell, o Options) bool {
	p := newPacker(laid, o)
	margin, cell, _ := p.raster(p.fineCells())
	for _, s := range laid {
		var corners []r2.Vec
		for _, tri := range s.Tris {
			corners = append(corners, tri[:]...)
		}
		b := planar.Bounds(corners...)
		off := func(q r2.Vec) bool {
			x, y := (q.X-margin)/cell, (q.Y-margin)/cell
			return math.Abs(x-math.Round(x)) > 1e-6 || math.Abs(y-math.Round(y)) > 1e-6
		}
		if off(b.Min) && off(b.Max) {
			return false
		}
	}
	return true
}

// A shell that is taken off a full sheet finds room there again: at least the hole that it left.
func TestFillFindsTheHoleThatWasLeft(t *testing.T) {
	tried := 0
	for seed := range uint64(6) {
		rng := rand.New(rand.NewPCG(seed, 11))
		o := Options{SizePx: 1024, PaddingPx: float64(1 + rng.IntN(16)), MarginPx: float64(rng.IntN(9)), Turns: []Turns{HalfTurns, QuarterTurns}[seed%2], Tiles: 1}
		shells := somewhere(rng, 10, 0.2)
		packed, err := Pack(context.Background(), shells, o, nil)
		if err != nil {
			t.Fatal(err)
		}
		laid := make([]Shell, len(shells)) // where they lie on the sheet
		for i, s := range shells {
			for _, tri := range s.Tris {
				for k, c := range tri {
					tri[k] = packed[i].Apply(c)
				}
				laid[i].Tris = append(laid[i].Tris, tri)
			}
		}
		if !onCells(laid, o) {
			continue
		}
		for i := range laid {
			tried++
			var around []planar.Triangle
			for k, s := range laid {
				if k != i {
					around = append(around, s.Tris...)
				}
			}
			placed, found, err := Fill(context.Background(), laid[i:i+1], around, o)
			if err != nil {
				t.Fatal(err)
			}
			if !found[0] {
				t.Errorf("seed %d, padding %g: shell %d of %d finds no room", seed, o.PaddingPx, i, len(laid))
				continue
			}
			apart(t, laid[i:i+1], placed, found, around, o)
		}
	}
	if tried < 30 {
		t.Errorf("only %d shells were tried", tried)
	}
}
