package sheet

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"morvek/core/planar"
)

// mixed are shells of many forms and sizes, as a machine has: few large, many small.
func mixed(n int) []Shell {
	rng := rand.New(rand.NewPCG(11, uint64(n)))
	var out []Shell
	for range n {
		out = append(out, somewhere(rng, 1, math.Exp(0.7*rng.NormFloat64()))...)
	}
	return out
}

// coverage is the share of the sheet that shells cover at a scale.
func coverage(shells []Shell, scale float64) (sum float64) {
	for _, s := range shells {
		for _, t := range s.Tris {
			sum += math.Abs(t.Area()) * scale * scale
		}
	}
	return sum
}

// shelves is the largest scale at which the boxes of shells, the highest first, stand on shelves
// (next fit decreasing height, Coffman et al. 1980).
func shelves(shells []Shell, o Options) float64 {
	type size struct{ w, h float64 }
	var list []size
	for _, s := range shells {
		b := s.Measured().box.Size()
		list = append(list, size{b.X, b.Y})
	}
	slices.SortFunc(list, func(a, b size) int { return cmp.Compare(b.h, a.h) })
	pad, room := o.PaddingPx/float64(o.SizePx), 1-2*o.MarginPx/float64(o.SizePx)
	fits := func(scale float64) bool {
		var x, y, row float64
		for _, s := range list {
			if x > 0 && x+s.w*scale > room {
				x, y, row = 0, y+row+pad, 0
			}
			if row = max(row, s.h*scale); s.w*scale > room || y+row > room {
				return false
			}
			x += s.w*scale + pad
		}
		return true
	}
	lo, hi := 0., 1e3
	for range 60 {
		if mid := (lo + hi) / 2; fits(mid) {
			lo = mid
		} else {
			hi = mid
		}
	}
	return lo
}

// bound is a scale that no packing reaches: at which the shells, grown by half the padding all
// around as rasters, would cover the whole sheet.
func bound(shells []Shell, o Options) float64 {
	side := float64(o.SizePx) - 2*o.MarginPx + o.PaddingPx
	grown := func(scale float64) (cells float64) {
		for _, s := range shells {
			m := s.Measured()
			k := scale * float64(o.SizePx)
			var tris []planar.Triangle
			for _, t := range m.Tris {
				for c := range t {
					t[c].X, t[c].Y = t[c].X*k, t[c].Y*k
				}
				tris = append(tris, t)
			}
			b := planar.Bounds(tris[0][:]...)
			for _, t := range tris {
				tb := planar.Bounds(t[:]...)
				b = planar.Bounds(b.Min, b.Max, tb.Min, tb.Max)
			}
			g, _ := rasterise(tris, b, 1).dilate(o.PaddingPx/2 - 1) // less than what is kept away from
			for y := range g.h {
				for x := 0; x < g.w; {
					x0, ok := g.nextSet(y, x)
					if !ok {
						break
					}
					x = g.lastOfRun(y, x0) + 1
					cells += float64(x - x0)
				}
			}
		}
		return cells
	}
	lo, hi := 0., math.Sqrt(1/coverage(shells, 1))
	for range 12 {
		if mid := (lo + hi) / 2; grown(mid) < side*side {
			lo = mid
		} else {
			hi = mid
		}
	}
	return hi
}

// How large shells become of a generated set, against boxes on shelves and against what is
// possible at all, and how the time grows with their number.
func BenchmarkPackMixed(b *testing.B) {
	o := Options{SizePx: 2048, PaddingPx: 4, MarginPx: 4, Turns: HalfTurns}
	for _, n := range []int{100, 500, 1000, 5000} {
		shells := mixed(n)
		b.Run(fmt.Sprint(n), func(b *testing.B) {
			for range b.N {
				placed, err := Pack(context.Background(), shells, o, nil)
				if err != nil {
					b.Fatal(err)
				}
				scale := placed[0].Scale
				b.ReportMetric(coverage(shells, scale), "coverage")
				b.ReportMetric(coverage(shells, scale)/coverage(shells, shelves(shells, o)), "xshelves")
				b.ReportMetric(math.Pow(scale/bound(shells, o), 2), "ofpossible")
			}
		})
	}
}

// Picked shells laid into the room the others leave: the picture a person waits for.
func BenchmarkFillPicked(b *testing.B) {
	o := Options{SizePx: 2048, PaddingPx: 8, MarginPx: 8, Turns: HalfTurns}
	shells := mixed(200)
	placed, err := Pack(context.Background(), shells, o, nil)
	if err != nil {
		b.Fatal(err)
	}
	var around []planar.Triangle
	var picked []Shell
	for i, s := range shells {
		var moved Shell
		for _, t := range s.Tris {
			moved.Tris = append(moved.Tris, placed[i].triangle(t))
		}
		if i%20 == 0 {
			picked = append(picked, moved)
		} else {
			around = append(around, moved.Tris...)
		}
	}
	b.ResetTimer()
	for range b.N {
		if _, _, err := Fill(context.Background(), picked, around, o); err != nil {
			b.Fatal(err)
		}
	}
}
