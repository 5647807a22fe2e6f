package sheet

import (
	"context"
	"errors"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

func rect(w, h float64) Shell {
	a, b, c, d := r2.Vec{}, r2.Vec{X: w}, r2.Vec{X: w, Y: h}, r2.Vec{Y: h}
	return Shell{Tris: []planar.Triangle{{a, b, c}, {a, c, d}}}
}

func fan(r float64, n int) Shell {
	var s Shell
	for i := range n {
		s0, c0 := math.Sincos(2 * math.Pi * float64(i) / float64(n))
		s1, c1 := math.Sincos(2 * math.Pi * float64(i+1) / float64(n))
		s.Tris = append(s.Tris, planar.Triangle{{}, {X: r * c0, Y: r * s0}, {X: r * c1, Y: r * s1}})
	}
	return s
}

// checkPlaced measures gaps in exact geometry.
func checkPlaced(t *testing.T, shells []Shell, placed []Placement, o Options) {
	t.Helper()
	var segs []planar.Segment
	m := o.MarginPx/float64(o.SizePx) - 1e-9
	for i, s := range shells {
		for _, tri := range s.Tris {
			var q [3]r2.Vec
			for k, c := range tri {
				q[k] = placed[i].Apply(c)
				tile := float64(placed[i].Tile)
				if q[k].X < tile+m || q[k].X > tile+o.width()-m || q[k].Y < m || q[k].Y > 1-m {
					t.Fatalf("shell %d lies in the margin: %v", i, q[k])
				}
			}
			for k := range 3 {
				segs = append(segs, planar.Segment{A: q[k], B: q[(k+1)%3], Group: int32(i)})
			}
		}
		if placed[i].Scale != placed[0].Scale {
			t.Fatalf("shell %d has another scale", i)
		}
	}
	gap, _ := planar.MinGap(segs, o.PaddingPx/float64(o.SizePx))
	if px := gap.Distance * float64(o.SizePx); px < o.PaddingPx-1e-6 {
		t.Fatalf("gap of %g px between shells %d and %d, asked for %g", px, segs[gap.A].Group, segs[gap.B].Group, o.PaddingPx)
	}
}

// Without padding shells may touch, but none lies on another.
func TestPackWithoutPadding(t *testing.T) {
	for seed := range uint64(10) {
		rng := rand.New(rand.NewPCG(seed, 77))
		o := Options{SizePx: 256, MarginPx: 2, Turns: []Turns{HalfTurns, AnyTurns}[seed%2], Tiles: 1}
		shells := somewhere(rng, 10+rng.IntN(20), 0.5)
		placed, err := Pack(context.Background(), shells, o, nil)
		if err != nil {
			t.Fatal(err)
		}
		apart(t, shells, placed, yes(len(shells)), nil, o)
	}
}

func TestPackKeepsPaddingExactly(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 7))
	for _, turns := range []Turns{NoTurns, HalfTurns, QuarterTurns, AnyTurns} {
		var shells []Shell
		for range 40 {
			if rng.IntN(3) == 0 {
				shells = append(shells, fan(0.1+rng.Float64(), 5+rng.IntN(20)))
			} else {
				shells = append(shells, rect(0.1+3*rng.Float64(), 0.1+rng.Float64()))
			}
		}
		o := Options{SizePx: 1024, PaddingPx: 6, MarginPx: 5, Turns: turns, Tiles: 1}
		a, err := Pack(context.Background(), shells, o, nil)
		if err != nil {
			t.Fatal(err)
		}
		checkPlaced(t, shells, a, o)
		b, err := Pack(context.Background(), shells, o, nil)
		if err != nil {
			t.Fatal(err)
		}
		for i := range a {
			if a[i] != b[i] {
				t.Fatalf("two packings differ at shell %d", i)
			}
		}
	}
}

func TestPackUsesAllTiles(t *testing.T) {
	o := Options{SizePx: 512, PaddingPx: 2, MarginPx: 1, Turns: HalfTurns, Tiles: 2}
	shells := []Shell{rect(1, 1), rect(1, 1)}
	p, err := Pack(context.Background(), shells, o, nil)
	if err != nil {
		t.Fatal(err)
	}
	checkPlaced(t, shells, p, o)
	if p[0].Tile == p[1].Tile || p[0].Scale < 0.9 {
		t.Errorf("two squares on two tiles: tiles %d and %d at scale %g", p[0].Tile, p[1].Tile, p[0].Scale)
	}
}

func TestPackRefusesAndCancels(t *testing.T) {
	if _, err := Pack(context.Background(), []Shell{rect(1, 1)}, Options{SizePx: 64, MarginPx: 40}, nil); err == nil {
		t.Error("a margin larger than the sheet was accepted")
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := Pack(ctx, []Shell{rect(1, 1)}, Options{SizePx: 512}, nil); !errors.Is(err, context.Canceled) {
		t.Errorf("cancelled packing gave %v", err)
	}
}

func TestDilationIsNoLessThanAsked(t *testing.T) {
	m := newMask(1, 1)
	m.setRun(0, 0, 0)
	for _, reach := range []float64{0, 0.5, 1, 2.3, 5} {
		d, by := m.dilate(reach)
		for y := range d.h {
			for x := range d.w {
				dx, dy := max(abs(x-by)-1, 0), max(abs(y-by)-1, 0)
				set := d.row(y)[x/64]>>(x%64)&1 == 1
				if near := math.Hypot(float64(dx), float64(dy)) < reach; near && !set {
					t.Fatalf("reach %g: the cell at %d, %d is free", reach, x-by, y-by)
				}
			}
		}
	}
}

func abs(x int) int { return max(x, -x) }

// Shells stand as they were given unless turning them pays: plates with one corner cut do,
// triangles that fit together head to tail do not.
func TestShellsStandUprightUnlessTurningPays(t *testing.T) {
	o := Options{SizePx: 1024, PaddingPx: 4, MarginPx: 4, Turns: HalfTurns, Tiles: 1}
	var plates, wedges []Shell
	for i := range 30 {
		w, h := 3+0.1*float64(i%7), 1+0.05*float64(i%5)
		a, b, c, d, e := r2.Vec{}, r2.Vec{X: w}, r2.Vec{X: w, Y: h - 0.04}, r2.Vec{X: w - 0.04, Y: h}, r2.Vec{Y: h}
		plates = append(plates, Shell{Tris: []planar.Triangle{{a, b, c}, {a, c, d}, {a, d, e}}})
		wedges = append(wedges, Shell{Tris: []planar.Triangle{{{}, {X: 3}, {Y: 2}}}})
	}
	over := func(shells []Shell) (n int) {
		placed, err := Pack(context.Background(), shells, o, nil)
		if err != nil {
			t.Fatal(err)
		}
		for _, p := range placed {
			if p.Quarter >= 2 {
				n++
			}
		}
		return n
	}
	if n := over(plates); n > 2 {
		t.Errorf("%d of %d plates lie upside down for nothing", n, len(plates))
	}
	if n := over(wedges); n < 5 {
		t.Errorf("only %d of %d wedges are turned to fit", n, len(wedges))
	}
	for i := range wedges {
		wedges[i].Still = true
	}
	if n := over(wedges); n > 0 {
		t.Errorf("%d wedges were turned that must not be", n)
	}
}

// What is known from the last try is laid as it would be laid anew.
func TestTrailChangesNothing(t *testing.T) {
	rng := rand.New(rand.NewPCG(8, 8))
	var shells []Shell
	for range 30 {
		shells = append(shells, rect(0.1+rng.Float64(), 0.1+rng.Float64()), fan(0.1+0.3*rng.Float64(), 7))
	}
	o := Options{SizePx: 512, PaddingPx: 4, MarginPx: 4, Turns: HalfTurns, Tiles: 1}
	again, anew := newPacker(shells, o), newPacker(shells, o)
	const scale, cells = 0.12, 256
	for round := range 20 {
		i, j := rng.IntN(len(shells)), rng.IntN(len(shells))
		for _, p := range []*packer{again, anew} {
			p.order[i], p.order[j] = p.order[j], p.order[i]
			p.relate()
		}
		anew.trail = trail{}
		a, err := again.place(context.Background(), scale, cells)
		if err != nil {
			t.Fatal(err)
		}
		b, err := anew.place(context.Background(), scale, cells)
		if err != nil {
			t.Fatal(err)
		}
		if a != b || !slices.Equal(again.found, anew.found) {
			t.Fatalf("round %d: with what was known shells lie elsewhere", round)
		}
	}
}

// The raster of an outline is that of the triangles, holes and all.
func TestOutlineRaster(t *testing.T) {
	rng := rand.New(rand.NewPCG(6, 2))
	for range 30 {
		// A grid of cells some of which are left out, sheared.
		var tris []planar.Triangle
		shear := rng.Float64()
		n := 3 + rng.IntN(8)
		at := func(i, j int) r2.Vec { return r2.Vec{X: 0.37*float64(i) + shear*float64(j), Y: 0.29 * float64(j)} }
		for i := range n {
			for j := range n {
				if rng.IntN(4) > 0 {
					tris = append(tris, planar.Triangle{at(i, j), at(i+1, j), at(i+1, j+1)}, planar.Triangle{at(i, j), at(i+1, j+1), at(i, j+1)})
				}
			}
		}
		box := planar.Bounds(tris[0][:]...)
		for _, tr := range tris {
			b := planar.Bounds(tr[:]...)
			box = planar.Bounds(box.Min, box.Max, b.Min, b.Max)
		}
		cell := 0.02 + 0.1*rng.Float64()
		rim, ok := outline(tris)
		if !ok {
			t.Fatal("nothing is turned over here")
		}
		a, b := rasterise(tris, box, cell), rasteriseOutline(rim, box, cell)
		if a.w != b.w || a.h != b.h {
			t.Fatalf("%d × %d against %d × %d", a.w, a.h, b.w, b.h)
		}
		for y := range a.h {
			for x := range a.w {
				if a.has(x, y) && !b.has(x, y) {
					t.Fatalf("cell (%d, %d) is touched by a triangle but not in the outline", x, y)
				}
				if b.has(x, y) && !a.has(x, y) {
					t.Fatalf("cell (%d, %d) is not touched", x, y)
				}
			}
		}
	}
	if _, ok := outline([]planar.Triangle{{{}, {X: 1}, {Y: 1}}, {{}, {Y: 1}, {X: -1}}, {{}, {X: -1}, {Y: 2}}}); ok {
		t.Error("a triangle that is turned over should count")
	}
}

// What may be turned more is packed better, or no worse: freedom that is hard to use is tried last.
func TestMoreFreedomIsNoWorse(t *testing.T) {
	mean := map[Turns]float64{}
	for seed := range uint64(3) {
		shells := somewhere(rand.New(rand.NewPCG(seed, 29)), 25, 0.2)
		for _, turns := range []Turns{HalfTurns, QuarterTurns, AnyTurns} {
			o := Options{SizePx: 1024, PaddingPx: 6, MarginPx: 4, Turns: turns, Tiles: 1}
			placed, err := Pack(context.Background(), shells, o, nil)
			if err != nil {
				t.Fatal(err)
			}
			checkPlaced(t, shells, placed, o)
			mean[turns] += placed[0].Scale / 3
		}
	}
	if mean[QuarterTurns] <= mean[HalfTurns] || mean[AnyTurns] < mean[QuarterTurns] {
		t.Errorf("half turns %g, quarter turns %g, any %g", mean[HalfTurns], mean[QuarterTurns], mean[AnyTurns])
	}
}
