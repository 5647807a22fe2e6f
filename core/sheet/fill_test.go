package sheet

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// somewhere are shells of many forms: rings, fans, boards, crescents.
func somewhere(rng *rand.Rand, n int, size float64) (out []Shell) {
	for range n {
		s := size * (0.2 + rng.Float64())
		switch rng.IntN(4) {
		case 0:
			out = append(out, fan(s/2, 5+rng.IntN(20)))
		case 1:
			out = append(out, rect(3*s, s/3))
		case 2: // a ring
			var ring Shell
			for i := range 16 {
				a, b := 2*math.Pi*float64(i)/16, 2*math.Pi*float64(i+1)/16
				at := func(r, x float64) r2.Vec { return r2.Vec{X: r * math.Cos(x), Y: r * math.Sin(x)} }
				ring.Tris = append(ring.Tris, planar.Triangle{at(s/2, a), at(s, a), at(s, b)}, planar.Triangle{at(s/2, a), at(s, b), at(s/2, b)})
			}
			out = append(out, ring)
		default:
			out = append(out, rect(s, s))
		}
	}
	return out
}

// apart checks in exact geometry that what was laid keeps away from what stays, from each other
// and from the border.
func apart(t *testing.T, shells []Shell, placed []Placement, laid []bool, around []planar.Triangle, o Options) {
	t.Helper()
	var segs []planar.Segment
	var tris []planar.Triangle
	size := float64(o.SizePx)
	add := func(q planar.Triangle, group int32) {
		tris = append(tris, q)
		for k := range 3 {
			segs = append(segs, planar.Segment{A: q[k], B: q[(k+1)%3], Group: group})
		}
	}
	for _, q := range around {
		add(q, -1)
	}
	stay := len(tris)
	for i, s := range shells {
		if !laid[i] {
			continue
		}
		for _, tri := range s.Tris {
			var q planar.Triangle
			for k, c := range tri {
				q[k] = placed[i].Apply(c)
				x := q[k].X - float64(placed[i].Tile)
				if m := o.MarginPx/size - 1e-9; x < m || x > o.width()-m || q[k].Y < m || q[k].Y > 1-m {
					t.Fatalf("shell %d lies in the margin: %v", i, q[k])
				}
			}
			add(q, int32(i))
		}
	}
	gap, _ := planar.MinGap(segs, o.PaddingPx/size)
	if px := gap.Distance * size; px < o.PaddingPx-1e-6 {
		t.Fatalf("gap of %g px between %d and %d, asked for %g", px, segs[gap.A].Group, segs[gap.B].Group, o.PaddingPx)
	}
	for _, over := range planar.Overlaps(tris, 1e-6) {
		if a, b := segs[3*over.A].Group, segs[3*over.B].Group; a != b && (int(over.A) >= stay || int(over.B) >= stay) {
			t.Fatalf("%d lies on %d", a, b)
		}
	}
}

// Shells keep the padding to what stays and to each other, on several tiles too; what finds no
// room is told.
func TestFillKeepsAwayFromWhatStays(t *testing.T) {
	left := 0
	for seed := range uint64(8) {
		rng := rand.New(rand.NewPCG(seed, 3))
		o := Options{SizePx: 1024, PaddingPx: float64(rng.IntN(17)), MarginPx: float64(rng.IntN(9)), Turns: []Turns{NoTurns, HalfTurns, QuarterTurns, AnyTurns}[seed%4], Tiles: 1 + int(seed%3)}
		first := somewhere(rng, 12, 0.2)
		placed, laid, err := Fill(context.Background(), first, nil, o)
		if err != nil {
			t.Fatal(err)
		}
		apart(t, first, placed, laid, nil, o)
		var around []planar.Triangle
		for i, s := range first {
			for _, tri := range s.Tris {
				if laid[i] {
					around = append(around, placed[i].triangle(tri))
				}
			}
		}
		more := somewhere(rng, 60, 0.08)
		placed, laid, err = Fill(context.Background(), more, around, o)
		if err != nil {
			t.Fatal(err)
		}
		apart(t, more, placed, laid, around, o)
		for i := range more {
			if !laid[i] {
				left++
			} else if placed[i].Scale != 1 {
				t.Fatalf("shell %d has another size", i)
			}
		}
		all, err := PackAround(context.Background(), more, around, o, nil)
		if err != nil {
			t.Fatal(err)
		}
		apart(t, more, all, yes(len(more)), around, o)
	}
	if left == 0 {
		t.Error("all found room: this tries nothing")
	}
}

func yes(n int) []bool {
	out := make([]bool, n)
	for i := range out {
		out[i] = true
	}
	return out
}

// Small shells go into the hole of a ring and between boards, where there is no other room.
func TestFillUsesHoles(t *testing.T) {
	var around []planar.Triangle
	at := func(r, a float64) r2.Vec { return r2.Vec{X: 0.5 + r*math.Cos(a), Y: 0.5 + r*math.Sin(a)} }
	for i := range 64 { // from the hole to beyond the corners
		a, b := 2*math.Pi*float64(i)/64, 2*math.Pi*float64(i+1)/64
		around = append(around, planar.Triangle{at(0.2, a), at(0.8, a), at(0.8, b)}, planar.Triangle{at(0.2, a), at(0.8, b), at(0.2, b)})
	}
	o := Options{SizePx: 1024, PaddingPx: 4, MarginPx: 4, Turns: HalfTurns, Tiles: 1}
	shells := []Shell{rect(0.2, 0.2), rect(0.3, 0.5)}
	placed, laid, err := Fill(context.Background(), shells, around, o)
	if err != nil {
		t.Fatal(err)
	}
	if !laid[0] || laid[1] {
		t.Fatalf("laid %v", laid)
	}
	apart(t, shells, placed, laid, around, o)
}

// A shell that is taken off a full sheet finds room there again: at least the hole that it left.
func TestFillFindsTheHoleThatWasLeft(t *testing.T) {
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
		for i := range laid {
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
}
