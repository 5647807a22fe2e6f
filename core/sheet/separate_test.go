package sheet

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

func randomMask(rng *rand.Rand) *mask {
	m := newMask(1+rng.IntN(700), 1+rng.IntN(40))
	for y := range m.h {
		for x := range m.w {
			if rng.IntN(30) == 0 {
				m.setRun(y, x, x)
			}
		}
	}
	return m
}

func TestMeetCountsCommonCells(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 1))
	for range 500 {
		a, b := randomMask(rng), randomMask(rng)
		dx, dy := rng.IntN(1400)-700, rng.IntN(90)-45
		want := 0
		for y := range a.h {
			for x := range a.w {
				if a.has(x, y) && b.has(x+dx, y+dy) {
					want++
				}
			}
		}
		if got, _ := a.meet(b, a.blocks(), b.blocksFrom(), dx, dy, math.MaxInt); got != want {
			t.Fatalf("%d × %d on %d × %d at (%d, %d): %d cells, want %d", a.w, a.h, b.w, b.h, dx, dy, got, want)
		}
	}
}

// heaped lays all shells on one place in the middle of the first tile.
func heaped(p *packer, scale float64) []Placement {
	out := make([]Placement, len(p.shells))
	for i, s := range p.shells {
		out[i] = Placement{Scale: scale}
		out[i].Shift = r2.Sub(r2.Vec{X: 0.5, Y: 0.5}, r2.Scale(scale, s.box.Middle()))
	}
	return out
}

func TestSeparatorMovesAHeapApart(t *testing.T) {
	for _, tiles := range []int{1, 2} {
		o := Options{SizePx: 1024, PaddingPx: 8, MarginPx: 4, Turns: HalfTurns, Tiles: tiles}
		shells := []Shell{rect(3, 1), rect(2, 2), fan(1, 12), fan(0.8, 5), rect(1, 3), rect(0.5, 0.5), {}}
		p := newPacker(shells, o)
		const scale = 0.13
		s := p.newSeparator(heaped(p, scale), scale, p.fineCells())
		ok, err := s.run(context.Background(), 50_000_000)
		if !ok || err != nil {
			t.Fatalf("%d tiles: moved apart %v, %v", tiles, ok, err)
		}
		checkPlaced(t, shells, s.placements(scale), o)
	}
}

func TestSeparatorGivesUp(t *testing.T) {
	o := Options{SizePx: 1024, PaddingPx: 8, MarginPx: 4, Turns: HalfTurns, Tiles: 1}
	p := newPacker([]Shell{rect(1, 1), rect(1, 1), rect(1, 1)}, o)
	const scale = 0.52
	s := p.newSeparator(heaped(p, scale), scale, p.fitting(coarseCells))
	if ok, err := s.run(context.Background(), 50_000_000); ok || err != nil {
		t.Fatalf("three squares of half a side and more were laid on one sheet: %v, %v", ok, err)
	}
}

func TestSeparatorStopsAtOnce(t *testing.T) {
	o := Options{SizePx: 1024, PaddingPx: 8, Turns: HalfTurns, Tiles: 1}
	p := newPacker([]Shell{rect(1, 1), rect(1, 1)}, o)
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := p.newSeparator(heaped(p, 0.3), 0.3, 256).run(ctx, 1_000_000); err == nil {
		t.Fatal("a cancelled run goes on")
	}
}

func TestSettleEnlarges(t *testing.T) {
	o := Options{SizePx: 1024, PaddingPx: 8, MarginPx: 4, Turns: HalfTurns, Tiles: 1}
	shells := []Shell{rect(1, 1), rect(1, 1), rect(1, 1), rect(1, 1)}
	p := newPacker(shells, o)
	q := newPacker(shells, o)
	q.shells[0] = rect(1.2, 1.2).Measured() // laid as if one were larger
	q.boxes[0] = q.shells[0].box
	first, err := q.searcher(), error(nil)
	if err = first.run(context.Background(), 1_000_000); err != nil {
		t.Fatal(err)
	}
	p.best = first.best
	before := p.best[0].Scale
	if err := p.settle(context.Background(), func(float64) {}); err != nil {
		t.Fatal(err)
	}
	checkPlaced(t, shells, p.best, o)
	// Two squares and the padding between them fill the sheet: (1024 − 2·4 − 8) / 2 px.
	if most := 504.0 / 1024; p.best[0].Scale <= before || p.best[0].Scale < 0.99*most {
		t.Fatalf("scale %.4f after %.4f, of %.4f", p.best[0].Scale, before, most)
	}
}

// What nearly fills the sheet stays off its margin: its raster may be a cell larger than it.
func TestSettleKeepsTheMargin(t *testing.T) {
	o := Options{SizePx: 2048, PaddingPx: 8, MarginPx: 8, Turns: HalfTurns, Tiles: 1}
	a, b, c := r2.Vec{X: 2.0963380926252433, Y: -0.21132806845061664}, r2.Vec{Y: -0.9205495607695429}, r2.Vec{X: 1.969417014636628, Y: -0.8153227724625072}
	d, e, f := r2.Vec{X: 0.7192251821234558, Y: -2.487266677607679}, r2.Vec{X: 2.213058635409087, Y: -3.065692902043551}, r2.Vec{X: 1.8992687046925576, Y: -2.5342284705967053}
	shells := []Shell{{Tris: []planar.Triangle{{a, b, c}, {b, d, c}}}, {Tris: []planar.Triangle{{e, f, {Y: -3.065692902043551}}}}}
	placed, err := Pack(context.Background(), shells, o, nil)
	if err != nil {
		t.Fatal(err)
	}
	checkPlaced(t, shells, placed, o)
}

// A padding of whole cells costs no cell more.
func TestCellsFitThePadding(t *testing.T) {
	for _, o := range []Options{{SizePx: 2048, PaddingPx: 8, MarginPx: 4}, {SizePx: 1024, PaddingPx: 6, MarginPx: 5}, {SizePx: 4096, PaddingPx: 3}} {
		p := newPacker([]Shell{rect(1, 1)}, o)
		for _, cells := range []int{p.fineCells(), p.fitting(coarseCells)} {
			_, _, reach := p.raster(cells)
			_, by := newMask(1, 1).dilate(reach)
			if whole := int(reach + 0.5); reach > float64(whole) || reach < float64(whole)-0.05 || by != whole+1 {
				t.Errorf("%+v: the padding is %g of %d cells", o, reach, cells)
			}
		}
	}
}
