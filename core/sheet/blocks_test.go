package sheet

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// Groups lie in rectangles that are apart by the padding, at one scale, not much smaller than
// without them.
func TestGroupsLieInBlocks(t *testing.T) {
	for seed := range uint64(3) {
		rng := rand.New(rand.NewPCG(seed, 9))
		o := Options{SizePx: 1024, PaddingPx: 2 + float64(rng.IntN(8)), MarginPx: 4, Turns: []Turns{NoTurns, HalfTurns, QuarterTurns, AnyTurns}[seed%4], Tiles: 1 + int(seed/2)}
		shells := somewhere(rng, 22, 1)
		groups := make([]int, len(shells))
		for i := range groups {
			groups[i] = rng.IntN(4)
		}
		placed, err := PackBlocks(context.Background(), shells, groups, nil, o, nil)
		if err != nil {
			t.Fatal(err)
		}
		apart(t, shells, placed, yes(len(shells)), nil, o)
		boxes := map[int]planar.Box{}
		for i, s := range shells {
			for _, tri := range s.Tris {
				for _, c := range tri {
					q := placed[i].Apply(c)
					b, ok := boxes[groups[i]]
					if !ok {
						b = planar.Box{Min: q, Max: q}
					}
					boxes[groups[i]] = planar.Bounds(b.Min, b.Max, q)
				}
			}
			if placed[i].Scale != placed[0].Scale {
				t.Fatalf("shell %d has another scale", i)
			}
		}
		for g, a := range boxes {
			for h, b := range boxes {
				if g < h && a.Within(b, (o.PaddingPx-1e-6)/1024) {
					t.Errorf("seed %d: group %d at %v, group %d at %v", seed, g, a, h, b)
				}
			}
		}
		free, err := Pack(context.Background(), shells, o, nil)
		if err != nil {
			t.Fatal(err)
		}
		if share := placed[0].Scale / free[0].Scale; share < 0.75 && o.Tiles == 1 { // blocks are not divided between tiles
			t.Errorf("seed %d: in blocks it is %.2f as large", seed, share)
		}
	}
}

func TestBlocksRefuseAndCancel(t *testing.T) {
	two := []Shell{rect(1, 1), rect(2, 1)}
	if _, err := PackBlocks(context.Background(), two, []int{0, 1}, nil, Options{SizePx: 64, PaddingPx: 90, MarginPx: 4}, nil); err == nil {
		t.Error("there is no room, and it was found")
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := PackBlocks(ctx, two, []int{0, 1}, nil, Options{SizePx: 512}, nil); err == nil {
		t.Error("cancelled, it goes on")
	}
	flat := Shell{Tris: []planar.Triangle{{r2.Vec{}, r2.Vec{X: 1}, r2.Vec{X: 2}}}}
	if p, err := PackBlocks(context.Background(), []Shell{flat}, []int{0}, nil, Options{SizePx: 512}, nil); err != nil || math.IsNaN(p[0].Scale) {
		t.Errorf("without area: %v, %v", p, err)
	}
}
