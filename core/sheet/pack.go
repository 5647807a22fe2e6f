package sheet

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// Turns says which turns packing may use.
type Turns string

// The allowed turns. Half turns keep the grain.
const (
	NoTurns      Turns = "0"
	HalfTurns    Turns = "180"
	QuarterTurns Turns = "90"
	AnyTurns     Turns = "any"
)

// Options of a packing.
type Options struct {
	SizePx    int // edge of the sheet in pixels
	PaddingPx float64
	MarginPx  float64 // least distance to the border of the sheet
	Turns     Turns
	Tiles     int // number of sheets, 0 means 1
}

// Shell is what packing needs to know: its triangles in model units.
type Shell struct {
	Tris []planar.Triangle
}

// Placement moves a shell onto the sheet: turned by quarters about the origin
// (and before that by Turn radians), scaled, shifted. Sheet units: 1 is the
// edge of a tile, tile n lies n units to the right.
type Placement struct {
	Turn    float64
	Quarter int
	Scale   float64
	Shift   r2.Vec
	Tile    int
}

// Apply maps a point in model units onto the sheet.
func (p Placement) Apply(q r2.Vec) r2.Vec {
	if p.Turn != 0 {
		s, c := math.Sincos(p.Turn)
		q = r2.Vec{X: c*q.X - s*q.Y, Y: s*q.X + c*q.Y}
	}
	return r2.Add(r2.Scale(p.Scale, quarter(q, p.Quarter)), p.Shift)
}

// ErrNoRoom is returned when padding and margin leave no room for the shells.
var ErrNoRoom = errors.New("the shells do not fit on the sheet with this padding; choose a larger sheet, more tiles or less padding")

// Pack places all shells at one scale, as large as it finds. Positions are
// searched on a raster of cells with bit-parallel tests; rasters take in every
// cell that is touched, so the padding holds in exact geometry.
func Pack(ctx context.Context, shells []Shell, o Options, progress func(float64)) ([]Placement, error) {
	if o.Tiles <= 0 {
		o.Tiles = 1
	}
	if o.SizePx < 16 || o.PaddingPx < 0 || o.MarginPx < 0 || 2*o.MarginPx >= float64(o.SizePx) {
		return nil, fmt.Errorf("a sheet of %d px with %g px padding and %g px margin is not possible", o.SizePx, o.PaddingPx, o.MarginPx)
	}
	if len(shells) == 0 {
		return nil, nil
	}
	p := newPacker(shells, o)
	if p.total == 0 {
		return p.allAtMargin(), nil
	}
	steps := 0
	try := func(scale float64, cells int) (bool, error) {
		steps++
		if progress != nil {
			progress(min(0.95, float64(steps)/20))
		}
		return p.place(ctx, scale, cells)
	}
	// Bisection on a coarse raster, then the last steps on a fine one.
	usable := 1 - 2*o.MarginPx/float64(o.SizePx)
	high := usable * math.Sqrt(float64(o.Tiles)/p.total)
	low := 0.0
	for low == 0 {
		probe := high * 0.75
		ok, err := try(probe, coarseCells)
		if err != nil {
			return nil, err
		}
		if ok {
			low = probe
		} else if high = probe; high*math.Sqrt(p.total) < 1e-4 {
			return nil, ErrNoRoom
		}
	}
	best := p.keep()
	search := func(cells, rounds int) error {
		for range rounds {
			mid := (low + high) / 2
			ok, err := try(mid, cells)
			if err != nil {
				return err
			}
			if ok {
				low, best = mid, p.keep()
			} else {
				high = mid
			}
			if high/low < 1.002 {
				return nil
			}
		}
		return nil
	}
	if err := search(coarseCells, 6); err != nil {
		return nil, err
	}
	high = low * 1.08
	if err := search(p.fineCells(), 5); err != nil {
		return nil, err
	}
	if progress != nil {
		progress(1)
	}
	return best, nil
}

const coarseCells = 512

type packer struct {
	o      Options
	shells []Shell
	order  []int
	alike  []int // an earlier shell of the same form in order, or -1
	total  float64
	found  []Placement
	boxes  []planar.Box
}

func newPacker(shells []Shell, o Options) *packer {
	p := &packer{o: o, shells: shells, boxes: make([]planar.Box, len(shells)), alike: make([]int, len(shells))}
	areas := make([]float64, len(shells))
	for i, s := range shells {
		for k, t := range s.Tris {
			areas[i] += math.Abs(t.Area())
			b := planar.Bounds(t[:]...)
			if k == 0 {
				p.boxes[i] = b
			}
			p.boxes[i] = planar.Bounds(p.boxes[i].Min, p.boxes[i].Max, b.Min, b.Max)
		}
		p.total += areas[i]
		p.order = append(p.order, i)
	}
	// Long things first, then large ones: strips are the hardest to place late.
	weight := make([]float64, len(shells))
	for i, b := range p.boxes {
		s := b.Size()
		weight[i] = max(s.X, s.Y) * (max(s.X, s.Y) + 2*min(s.X, s.Y))
	}
	slices.SortStableFunc(p.order, func(a, b int) int { return cmp.Compare(float32(weight[b]), float32(weight[a])) })
	for k, i := range p.order {
		p.alike[i] = -1
		if k > 0 {
			j := p.order[k-1]
			a, b := p.boxes[i].Size(), p.boxes[j].Size()
			if near(a.X, b.X) && near(a.Y, b.Y) && near(areas[i], areas[j]) && len(shells[i].Tris) == len(shells[j].Tris) {
				p.alike[i] = j
			}
		}
	}
	return p
}

func near(a, b float64) bool { return math.Abs(a-b) <= 1e-6*max(math.Abs(a), math.Abs(b)) }

// fineCells chooses cells of about a quarter of the padding.
func (p *packer) fineCells() int {
	n := float64(p.o.SizePx)
	if p.o.PaddingPx > 0 {
		n = float64(p.o.SizePx) / p.o.PaddingPx * 4
	}
	return int(max(512, min(1536, n)))
}

func (p *packer) keep() []Placement { return slices.Clone(p.found) }

// place tries to put every shell on the tiles at a scale (sheet units per model
// unit) with a raster of cells² per tile.
func (p *packer) place(ctx context.Context, scale float64, cells int) (bool, error) {
	margin := p.o.MarginPx / float64(p.o.SizePx)
	cell := (1 - 2*margin) / float64(cells)
	reach := p.o.PaddingPx / float64(p.o.SizePx) / cell
	p.found = make([]Placement, len(p.shells))
	tiles := make([]*occupancy, p.o.Tiles)
	for i := range tiles {
		tiles[i] = newOccupancy(cells)
	}
	hint := make([]spot, len(p.shells))
	for _, i := range p.order {
		if err := ctx.Err(); err != nil {
			return false, err
		}
		s := p.shells[i]
		if len(s.Tris) == 0 {
			p.found[i] = Placement{Scale: scale, Shift: r2.Vec{X: margin, Y: margin}}
			continue
		}
		forms := p.forms(i, scale, cell)
		best := spot{tile: -1}
		for t := range tiles {
			for f, fm := range forms {
				from := 0
				if a := p.alike[i]; a >= 0 && hint[a].tile == t && hint[a].form == f {
					from = hint[a].y // what was full for its like is still full
				}
				if x, y, ok := tiles[t].find(fm.mask, from, best.limit(t, fm.mask.h)); ok {
					c := spot{tile: t, form: f, x: x, y: y, top: y + fm.mask.h}
					if best.tile < 0 || c.better(best) {
						best = c
					}
				}
			}
			if best.tile >= 0 {
				break
			}
		}
		if best.tile < 0 {
			return false, nil
		}
		hint[i] = best
		fm := forms[best.form]
		grown, by := fm.mask.dilate(reach)
		tiles[best.tile].add(grown, best.x-by, best.y-by)
		corner := r2.Vec{X: margin + float64(best.x)*cell, Y: margin + float64(best.y)*cell}
		p.found[i] = Placement{Turn: fm.turn, Quarter: fm.quarter, Scale: scale, Tile: best.tile,
			Shift: r2.Add(r2.Sub(corner, fm.box.Min), r2.Vec{X: float64(best.tile)})}
	}
	return true, nil
}

// spot is a place found for a form of a shell.
type spot struct{ tile, form, x, y, top int }

func (s spot) better(o spot) bool {
	if s.top != o.top {
		return s.top < o.top
	}
	return s.x < o.x
}

// limit is the highest row worth looking at for a form of height h.
func (s spot) limit(tile, h int) int {
	if s.tile != tile {
		return math.MaxInt
	}
	return s.top - h
}

type form struct {
	mask    *mask
	box     planar.Box // of the turned and scaled triangles
	quarter int
	turn    float64
}

// forms returns the rasters of a shell in its allowed turns.
func (p *packer) forms(i int, scale, cell float64) []form {
	quarters, turns := []int{0}, []float64{0}
	switch p.o.Turns {
	case HalfTurns:
		quarters = []int{0, 2}
	case QuarterTurns:
		quarters = []int{0, 1, 2, 3}
	case AnyTurns:
		quarters, turns = []int{0, 1, 2, 3}, []float64{0, math.Pi / 12, math.Pi / 6, math.Pi / 4, math.Pi / 3, 5 * math.Pi / 12}
	}
	var out []form
	for _, a := range turns {
		for _, q := range quarters {
			pl := Placement{Turn: a, Quarter: q, Scale: scale}
			tris := make([]planar.Triangle, len(p.shells[i].Tris))
			var box planar.Box
			for k, t := range p.shells[i].Tris {
				for c := range t {
					tris[k][c] = pl.Apply(t[c])
				}
				b := planar.Bounds(tris[k][:]...)
				if k == 0 {
					box = b
				}
				box = planar.Bounds(box.Min, box.Max, b.Min, b.Max)
			}
			f := form{mask: rasterise(tris, box, cell), box: box, quarter: q, turn: a}
			same := slices.ContainsFunc(out, func(o form) bool {
				return o.mask.w == f.mask.w && o.mask.h == f.mask.h && slices.Equal(o.mask.bits, f.mask.bits)
			})
			if !same {
				out = append(out, f)
			}
		}
	}
	return out
}

// allAtMargin is the answer for shells without any area.
func (p *packer) allAtMargin() []Placement {
	m := p.o.MarginPx / float64(p.o.SizePx)
	out := make([]Placement, len(p.shells))
	for i := range out {
		out[i] = Placement{Scale: 0, Shift: r2.Vec{X: m, Y: m}}
	}
	return out
}
