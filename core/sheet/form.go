package sheet

import (
	"math"
	"slices"
	"sync"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// form is the raster of a shell in one of its turns, with what is worked out from it.
type form struct {
	mask    *mask
	bands   []block // inside the mask, for a first look
	exact   bool    // the bands are the whole mask
	runs    []block
	box     planar.Box // of the turned and scaled triangles, its lower left that of the mask
	quarter int
	turn    float64

	once  sync.Once
	grown *mask // by the padding
	by    int

	near *mask // blocks of the mask
	far  *mask // blocksFrom of the grown one

	rimOnce sync.Once
	rim     []cell
}

// grow returns the mask with the padding around it, and how far it reaches out.
func (f *form) grow(reach float64) (*mask, int) {
	f.once.Do(func() { f.grown, f.by = f.mask.dilate(reach) })
	return f.grown, f.by
}

func (f *form) outline() []cell {
	f.rimOnce.Do(func() { f.rim = rimOf(f.mask) })
	return f.rim
}

// formCache keeps the rasters of all shells at the scales that were tried last; searchers
// that try the same scales share them.
type formCache struct {
	mu     sync.Mutex
	levels []*formLevel // the last used at the end
}

// keptLevels is how many scales are kept: two searchers climb the same ladder, one a
// little ahead of the other.
const keptLevels = 12

type formLevel struct {
	scale, cell float64
	cells       int
	forms       []shellForms
}

type shellForms struct {
	once  sync.Once
	forms []*form
}

// level returns the rasters at a scale, with cells² cells per tile.
func (c *formCache) level(p *packer, scale float64, cells int) *formLevel {
	c.mu.Lock()
	defer c.mu.Unlock()
	at := slices.IndexFunc(c.levels, func(l *formLevel) bool { return l.scale == scale && l.cells == cells })
	var l *formLevel
	if at >= 0 {
		l = c.levels[at]
		c.levels = slices.Delete(c.levels, at, at+1)
	} else {
		_, cell, _ := p.raster(cells)
		l = &formLevel{scale: scale, cell: cell, cells: cells, forms: make([]shellForms, len(p.shells))}
		if len(c.levels) == keptLevels {
			c.levels = slices.Delete(c.levels, 0, 1)
		}
	}
	c.levels = append(c.levels, l)
	return l
}

// get returns the rasters of a shell in all turns that packing may use.
func (l *formLevel) get(p *packer, i int) []*form {
	s := &l.forms[i]
	s.once.Do(func() { s.forms = p.forms(i, l.scale, l.cell) })
	return s.forms
}

// forms returns the rasters of a shell in its allowed turns, with what searching for a
// place needs.
func (p *packer) forms(i int, scale, cell float64) []*form {
	out := p.shapes(i, scale, cell)
	for _, f := range out {
		f.bands, f.exact = f.mask.bands()
		f.runs = f.mask.runs()
	}
	return out
}

// shapes returns the bare rasters of a shell in its allowed turns.
func (p *packer) shapes(i int, scale, cell float64) (out []*form) {
	quarters, turns := 1, []float64{0}
	half := true
	switch allowed := p.o.Turns; {
	case p.shells[i].Still || allowed == NoTurns:
		half = false
	case allowed == QuarterTurns, allowed == HalfTurns && p.shells[i].Free && p.areas[i] > smallShare*p.total:
		quarters = 2
	case allowed == AnyTurns:
		quarters, turns = 2, []float64{0, math.Pi / 12, math.Pi / 6, math.Pi / 4, math.Pi / 3, 5 * math.Pi / 12}
	}
	add := func(f *form) {
		if slices.ContainsFunc(out, f.same) {
			return
		}
		out = append(out, f)
	}
	for _, a := range turns {
		for q := range quarters {
			f := p.form(i, Placement{Turn: a, Quarter: q, Scale: scale}, cell)
			add(f)
			if half {
				add(f.reversed(cell))
			}
		}
	}
	return out
}

// smallShare is the share of all area below which shells fit in anywhere, and need not be
// tried in more turns.
const smallShare = 0.005

// form is a shell as a placement would lay it.
func (p *packer) form(i int, pl Placement, cell float64) *form {
	f := &form{quarter: pl.Quarter, turn: pl.Turn}
	if rim := p.shells[i].rim; rim != nil {
		edges := make([][2]r2.Vec, len(rim))
		f.box = planar.Bounds(pl.Apply(rim[0][0]))
		for k, e := range rim {
			edges[k] = [2]r2.Vec{pl.Apply(e[0]), pl.Apply(e[1])}
			f.box = planar.Bounds(f.box.Min, f.box.Max, edges[k][0], edges[k][1])
		}
		f.mask = rasteriseOutline(edges, f.box, cell)
		return f
	}
	tris := make([]planar.Triangle, len(p.shells[i].Tris))
	for k, t := range p.shells[i].Tris {
		tris[k] = pl.triangle(t)
		b := planar.Bounds(tris[k][:]...)
		if k == 0 {
			f.box = b
		}
		f.box = planar.Bounds(f.box.Min, f.box.Max, b.Min, b.Max)
	}
	f.mask = rasterise(tris, f.box, cell)
	return f
}

// reversed is a form after a half turn. Its cells are those of the form: its lower left is
// where the raster, not the shell, ends.
func (f *form) reversed(cell float64) *form {
	m := f.mask.reversed()
	box := planar.Box{
		Min: r2.Vec{X: -f.box.Min.X - float64(m.w)*cell, Y: -f.box.Min.Y - float64(m.h)*cell},
		Max: r2.Scale(-1, f.box.Min),
	}
	return &form{mask: m, box: box, quarter: f.quarter + 2, turn: f.turn}
}

// same tells whether two forms cover the same cells.
func (f *form) same(o *form) bool {
	return o.mask.w == f.mask.w && o.mask.h == f.mask.h && slices.Equal(o.mask.bits, f.mask.bits)
}
