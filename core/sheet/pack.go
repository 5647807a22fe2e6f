package sheet

import (
	"context"
	"errors"
	"fmt"
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/parallel"
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

// freer are the next turns with more freedom.
func freer(t Turns) Turns {
	switch t {
	case NoTurns:
		return HalfTurns
	case HalfTurns:
		return QuarterTurns
	}
	return AnyTurns
}

// Options of a packing.
type Options struct {
	SizePx    int // edge of the sheet in pixels
	PaddingPx float64
	MarginPx  float64 // least distance to the border of the sheet
	Turns     Turns
	Tiles     int  // number of sheets, 0 means 1
	Wide      bool // the sheet is twice as wide as high; it is one tile then
}

// Shell is what packing needs to know: its triangles in model units.
type Shell struct {
	Tris  []planar.Triangle
	Still bool // it must not be turned
	Free  bool // it has no grain: quarter turns are as good as half turns

	rim [][2]r2.Vec // its outline, where that tells inside from outside
	box planar.Box
	all float64 // area of its triangles
}

// Measured returns the shell with what packing measures first, for shells that are packed
// more than once.
func (s Shell) Measured() Shell {
	if len(s.Tris) == 0 || s.all > 0 {
		return s
	}
	s.box = planar.Bounds(s.Tris[0][:]...)
	for _, t := range s.Tris {
		s.all += math.Abs(t.Area())
		b := planar.Bounds(t[:]...)
		s.box = planar.Bounds(s.box.Min, s.box.Max, b.Min, b.Max)
	}
	if rim, ok := outline(s.Tris); ok && len(rim) < len(s.Tris) {
		s.rim = rim
	}
	return s
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
	return r2.Add(r2.Scale(p.Scale, planar.Quarter(q, p.Quarter)), p.Shift)
}

func (p Placement) triangle(t planar.Triangle) planar.Triangle {
	return planar.Triangle{p.Apply(t[0]), p.Apply(t[1]), p.Apply(t[2])}
}

// ErrNoRoom is returned when padding and margin leave no room for the shells.
var ErrNoRoom = errors.New("the shells do not fit on the sheet with this padding; choose a larger sheet, more tiles or less padding")

// Pack places all shells at one scale, as large as it finds. Positions are
// searched on a raster of cells with bit-parallel tests; rasters take in every
// cell that is touched, so the padding holds in exact geometry.
func Pack(ctx context.Context, shells []Shell, o Options, progress func(float64)) ([]Placement, error) {
	return PackAround(ctx, shells, nil, o, progress)
}

// PackAround places shells around others that stay: triangles in sheet units, tile n lies n to
// the right.
func PackAround(ctx context.Context, shells []Shell, around []planar.Triangle, o Options, progress func(float64)) ([]Placement, error) {
	if err := o.check(); err != nil {
		return nil, err
	}
	if len(shells) == 0 {
		return nil, nil
	}
	p := newPacker(shells, o)
	p.ground = newGround(around, p.o)
	if p.total == 0 {
		return p.allAtMargin(), nil
	}
	tell := func(share float64) {
		if progress != nil {
			progress(share)
		}
	}
	s, err := p.explore(ctx, tell)
	if err != nil {
		return nil, err
	}
	tell(0.5)
	s.order = s.kept
	s.relate()
	if err := s.enlarge(ctx, s.reached); err != nil {
		return nil, err
	}
	tell(0.6)
	turns := []Turns{s.o.Turns}
	for s.o.Turns != p.o.Turns { // what got furthest had not all the freedom there is
		s.o.Turns = freer(s.o.Turns)
		turns = append(turns, s.o.Turns)
	}
	for k, t := range turns {
		s.o.Turns = t
		if err := s.settle(ctx, func(share float64) { tell(0.6 + 0.4*(float64(k)+share)/float64(len(turns))) }); err != nil {
			return nil, err
		}
	}
	tell(1)
	if s.across {
		for i := range s.best {
			s.best[i] = s.best[i].across()
		}
	}
	return s.best, nil
}

// across is a placement of what was packed with its axes exchanged.
func (p Placement) across() Placement {
	p.Turn, p.Quarter = -p.Turn, (4-p.Quarter)%4
	tile := float64(p.Tile)
	p.Shift = r2.Vec{X: p.Shift.Y + tile, Y: p.Shift.X - tile}
	return p
}

// across is the shell with its axes exchanged, so that a packing from below is one from the
// left.
func (s Shell) across() Shell {
	out := s
	out.Tris = make([]planar.Triangle, len(s.Tris))
	for i, t := range s.Tris {
		out.Tris[i] = exchanged(t)
	}
	if s.rim != nil {
		out.rim = make([][2]r2.Vec, len(s.rim))
		for i, e := range s.rim {
			out.rim[i] = [2]r2.Vec{swap(e[1]), swap(e[0])}
		}
	}
	out.box = planar.Box{Min: swap(s.box.Min), Max: swap(s.box.Max)}
	return out
}

func swap(q r2.Vec) r2.Vec { return r2.Vec{X: q.Y, Y: q.X} }

// exchanged is a triangle with its axes exchanged, facing up again.
func exchanged(t planar.Triangle) planar.Triangle {
	return planar.Triangle{swap(t[0]), swap(t[2]), swap(t[1])}
}

// check fills in defaults.
func (o *Options) check() error {
	if o.Tiles <= 0 {
		o.Tiles = 1
	}
	if o.Wide && o.Tiles > 1 {
		return errors.New("a sheet twice as wide as high is one tile; choose one tile, or square ones")
	}
	if o.Tiles > 1 { // shells on either side of a border between tiles keep the padding too
		o.MarginPx = max(o.MarginPx, o.PaddingPx/2)
	}
	if o.SizePx < 16 || o.PaddingPx < 0 || o.MarginPx < 0 || 2*o.MarginPx >= float64(o.SizePx) {
		return fmt.Errorf("a sheet of %d px with %g px padding and %g px margin is not possible", o.SizePx, o.PaddingPx, o.MarginPx)
	}
	return nil
}

// area is that of all tiles, in sheet units.
func (o Options) area() float64 { return float64(o.Tiles) * o.width() }

// width is that of a tile in sheet units: it is as high as one.
func (o Options) width() float64 {
	if o.Wide {
		return 2
	}
	return 1
}

// enlarge finds the largest scale at which the order of the packer fits on a fine
// raster, starting from what it reached on a coarse one: a fine raster wastes less
// between shells. Two steps are tried at a time.
func (p *packer) enlarge(ctx context.Context, scale float64) error {
	step := 1.04
	rounds := fineRounds
	if len(p.shells) > manyShells {
		rounds++
	}
	for range rounds {
		tries := []*packer{p.copy(), p.copy()}
		tries[0].stride, tries[1].stride = 1, 1
		steps := []float64{step, math.Sqrt(step)}
		fits := make([]bool, 2)
		g, gctx := parallel.WithContext(ctx)
		for k, q := range tries {
			g.Go(func() (err error) {
				fits[k], err = q.place(gctx, scale*steps[k], p.fineCells())
				return err
			})
		}
		if err := g.Wait(); err != nil {
			return err
		}
		for k, q := range tries {
			if fits[k] {
				scale *= steps[k]
				p.best = q.found
				break
			}
		}
		if !fits[0] {
			step = math.Pow(step, 0.25)
		}
	}
	return nil
}

// fineRounds is how often the fine raster is tried, once more where shells are not moved apart then.
const fineRounds = 2

type packer struct {
	o       Options
	shells  []Shell
	order   []int
	alike   []int // an earlier shell of the same form in order, or -1
	twin    []int // an earlier shell that is the same, or itself
	total   float64
	longest float64 // side of a box
	boxes   []planar.Box
	areas   []float64

	found   []Placement // of the last try
	best    []Placement // of the largest scale so far
	failed  int         // the shell that found no room
	top     int         // the highest row that was taken, of all tries
	ceiling int         // the row above which a try has failed; 0 for none
	tested  int         // words of rasters looked at, the measure of work
	stride  int         // rows passed over at a time while there is no place
	taste   taste
	across  bool // the axes of its shells are exchanged
	ground  *ground
	high    float64 // of what it packs on, times its width; 0 means 1
	some    bool    // those that find no room are left out
	laid    []bool  // which were laid, in the last try
	less    float64 // cells of the padding that are left to exact geometry
	cache   *formCache
	trail   trail
}

func newPacker(shells []Shell, o Options) *packer {
	p := &packer{o: o, taste: usual, cache: &formCache{}, alike: make([]int, len(shells))}
	for i, s := range shells {
		s = s.Measured()
		p.shells = append(p.shells, s)
		p.boxes, p.areas = append(p.boxes, s.box), append(p.areas, s.all)
		p.total += s.all
		p.longest = max(p.longest, s.box.Size().X, s.box.Size().Y)
		p.order = append(p.order, i)
	}
	p.findTwins()
	// Long things first, then large ones: strips are the hardest to place late.
	p.sortBy(longFirst)
	p.relate()
	return p
}

// fineCells chooses cells of about a quarter of the padding.
func (p *packer) fineCells() int {
	usable := float64(p.o.SizePx) - 2*p.o.MarginPx
	most := 1536.
	if len(p.shells) > verySmall { // finer ones take longer than they bring
		most = 1024
	}
	return p.fitting(max(512, min(most, usable/max(p.o.PaddingPx, 1e-9)*4)))
}

// verySmall is the number of shells from which on a sheet is filled by small ones.
const verySmall = 2500

// fitting returns about so many cells, but that the padding is a whole number of them: what
// is touched in part is kept away from by a whole cell.
func (p *packer) fitting(cells float64) int {
	usable := float64(p.o.SizePx) - 2*p.o.MarginPx
	if p.o.PaddingPx <= 0 {
		return int(cells)
	}
	reach := max(1, math.Round(cells*p.o.PaddingPx/usable))
	return int(reach * usable / (p.o.PaddingPx * (1 + hair)))
}

// hair keeps rounding from taking a padding of whole cells for more.
const hair = 1e-6

// place tries to put every shell on the tiles at a scale (sheet units per model
// unit) with a raster of cells² per tile.
func (p *packer) place(ctx context.Context, scale float64, cells int) (bool, error) {
	return p.placeOn(ctx, scale, cells, p.occupied(cells))
}

func (p *packer) placeOn(ctx context.Context, scale float64, cells int, tiles []*occupancy) (bool, error) {
	_, _, reach := p.raster(cells)
	level := p.cache.level(p, scale, cells)
	p.found, p.laid = make([]Placement, len(p.shells)), make([]bool, len(p.shells))
	for _, t := range tiles {
		t.stride, t.taste = max(1, p.stride), p.taste
	}
	defer func() {
		for _, t := range tiles {
			p.tested += t.tested
		}
	}()
	hint := make([]spot, len(p.shells))
	known := p.trail.known(scale, cells, p.order)
	p.trail = trail{scale: scale, cells: cells}
	for rank, i := range p.order {
		if err := ctx.Err(); err != nil {
			return false, err
		}
		s := p.shells[i]
		if len(s.Tris) == 0 {
			p.found[i], p.laid[i] = p.atMargin(scale), true
			p.trail.add(i, spot{})
			continue
		}
		if p.tooLarge(i, scale) {
			if p.some {
				continue
			}
			p.failed = i
			return false, nil
		}
		if a := p.alike[i]; p.some && a >= 0 && !p.laid[a] { // its like found no room
			continue
		}
		forms := level.get(p, p.twin[i])
		best := spot{tile: -1}
		if rank < len(known) {
			best = known[rank]
		} else {
			best = p.seek(tiles, forms, i, hint, rank < snugShells)
		}
		if best.tile < 0 {
			if p.some {
				continue
			}
			p.failed = i
			return false, nil
		}
		p.trail.add(i, best)
		hint[i] = best
		fm := forms[best.form]
		grown, by := fm.grow(reach)
		tiles[best.tile].add(grown, best.x-by, best.y-by)
		if p.top = max(p.top, best.y+fm.mask.h); p.ceiling > 0 && p.top > p.ceiling {
			p.failed = i
			return false, nil
		}
		p.found[i], p.laid[i] = p.asTwin(i, p.placed(fm, best, scale, cells)), true
	}
	return true, nil
}

// seek looks for the best place of a shell on the first tile that has one.
func (p *packer) seek(tiles []*occupancy, forms []*form, i int, hint []spot, snug bool) spot {
	best := spot{tile: -1}
	for t, tile := range tiles {
		for f, fm := range forms {
			from := 0
			if a := p.alike[i]; a >= 0 && hint[a].tile == t && hint[a].form == f {
				from = hint[a].y // what was full for its like is still full
			}
			c, ok := tile.seek(fm, from, tile.high, snug)
			gain := 1e-9
			if fm.quarter >= 2 { // what stands upright stays so unless turning it pays
				gain = turnPays
				if !snug {
					gain = turnPaysLow
				}
			}
			if ok && (best.tile < 0 || c.score > best.score+gain) {
				best = c
				best.tile, best.form = t, f
			}
		}
		if best.tile >= 0 {
			break
		}
	}
	return best
}

// trail is where shells were laid in the last try, in order: as long as the order is the
// same they will lie there again.
type trail struct {
	scale float64
	cells int
	order []int
	spots []spot
}

func (t *trail) add(shell int, at spot) {
	t.order, t.spots = append(t.order, shell), append(t.spots, at)
}

// known returns the places of the first shells of an order.
func (t *trail) known(scale float64, cells int, order []int) []spot {
	n := 0
	if t.scale == scale && t.cells == cells {
		for n < len(t.order) && t.order[n] == order[n] {
			n++
		}
	}
	return t.spots[:n]
}

// tooLarge tells whether a shell is larger than a tile at a scale, however it is turned.
func (p *packer) tooLarge(i int, scale float64) bool {
	s := p.boxes[i].Size()
	return scale*max(s.X, s.Y) > p.room()*max(1, p.high)
}

// largest is the scale at which the longest shell just fits.
func (p *packer) largest() float64 { return p.room() / p.longest }

// room is the longest side that a box of a shell, as it came, may have on a tile.
func (p *packer) room() float64 {
	usable := p.o.width() - 2*p.o.MarginPx/float64(p.o.SizePx)
	if p.o.Turns == AnyTurns {
		usable *= math.Sqrt2
	}
	return usable
}

// grid is how many cells a tile has across and up, where its shorter side has so many.
func (p *packer) grid(cells int) (across, up int) {
	if !p.o.Wide {
		return cells, cells
	}
	margin, cell, _ := p.raster(cells)
	long := int((2-2*margin)/cell + hair)
	if p.across {
		return cells, long
	}
	return long, cells
}

// raster returns the margin and the size of a cell in sheet units, and the
// padding in cells.
func (p *packer) raster(cells int) (margin, cell, reach float64) {
	margin = p.o.MarginPx / float64(p.o.SizePx)
	cell = (1 - 2*margin) / float64(cells)
	reach = p.o.PaddingPx / float64(p.o.SizePx) / cell
	if p.less > 0 {
		reach = max(leastReach, reach-p.less)
	}
	return margin, cell, reach
}

// leastReach is that of a shell that only its neighbours may touch, in cells.
const leastReach = 0.1

// leaving returns a packer of the same shells whose rasters leave some cells of the padding to exact
// geometry: cells that are touched in part keep shells apart by more than they must.
func (p *packer) leaving(less float64) *packer {
	q := p.copy()
	q.less, q.cache, q.trail = less, &formCache{}, trail{}
	return q
}

// spot is a place found for a form of a shell.
type spot struct {
	tile, form, x, y int
	score            float64
}

// turnPays and turnPaysLow are what turning a shell upside down must gain: contact, as a
// share of its rim, or height, in cells.
const (
	turnPays    = 0.02
	turnPaysLow = 1.5
)

// snugShells is how many shells, the first in the order, are laid where they
// touch most; those that fill in behind just go as low as they can.
const snugShells = 90

// placed is where a form of a shell lies at a spot.
func (p *packer) placed(f *form, at spot, scale float64, cells int) Placement {
	margin, cell, _ := p.raster(cells)
	corner := r2.Vec{X: margin + float64(at.x)*cell, Y: margin + float64(at.y)*cell}
	return Placement{Turn: f.turn, Quarter: f.quarter, Scale: scale, Tile: at.tile,
		Shift: r2.Add(r2.Sub(corner, f.box.Min), r2.Vec{X: float64(at.tile)})}
}

// atMargin is where a shell without any area lies.
func (p *packer) atMargin(scale float64) Placement {
	m := p.o.MarginPx / float64(p.o.SizePx)
	return Placement{Scale: scale, Shift: r2.Vec{X: m, Y: m}}
}

// allAtMargin is the answer for shells without any area.
func (p *packer) allAtMargin() []Placement {
	out := make([]Placement, len(p.shells))
	for i := range out {
		out[i] = p.atMargin(0)
	}
	return out
}
