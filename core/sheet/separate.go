package sheet

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"
)

// separator moves shells that overlap apart: each in turn goes where it overlaps least with
// the others, and pairs that stay in conflict weigh more the longer they do (guided local
// search over overlaps, Egeblad, Nielsen & Odgaard 2007; Umetani et al. 2009).
type separator struct {
	*packer
	cells  int
	grid   [2]int // cells across and up
	reach  float64
	forms  [][]*form // of each shell, none for those without triangles
	at     []spot
	zones  []zone    // of each, and of what stays on each tile
	weight []float32 // of each pair of a shell and a zone
	random *rand.Rand
	work   int  // about the words looked at
	local  bool // shells go no farther than they must
}

// zone is where others may not be: the mask of a shell, or of what stays on a tile, grown by the
// padding, at its place.
type zone struct {
	x0, y0, x1, y1 int // x1 and y1 beyond the last cell
	tile           int
	mask, from     *mask // its cells, and where blocks of cells meet some
}

// What moving shells apart may take: sweeps over all conflicts that bring nothing, of which
// more are granted where next to nothing is left; and the conflict, in cells of the sheet,
// that is hopeless if it is still there after some sweeps.
const (
	stuckSweeps = 30
	nearSweeps  = 60
	nearCells   = 20
	lateSweep   = 20
	hopeless    = 600 // of 500 × 500

	farTries  = 6  // places elsewhere that a shell tries
	localPart = 12 // the part of the sheet that is not far

	// A pair in conflict weighs more from sweep to sweep, the worst most; others forget.
	weighMore, weighWorst, weighLess = 1.2, 0.8, 0.95
)

// newSeparator lays placed shells out at another scale, everything moving with it; nil if
// the raster of one of them is larger than the tile.
func (p *packer) newSeparator(from []Placement, scale float64, cells int) *separator {
	margin, cell, reach := p.raster(cells)
	n := len(p.shells)
	s := &separator{packer: p, cells: cells, reach: reach, forms: make([][]*form, n), at: make([]spot, n),
		zones: make([]zone, n), random: rand.New(rand.NewPCG(1, uint64(n)))}
	s.grid[0], s.grid[1] = p.grid(cells)
	if p.ground != nil {
		for tile, o := range p.occupied(cells) {
			m := &mask{w: o.n, h: o.high, words: o.words, bits: o.levels[0]}
			s.zones = append(s.zones, zone{x1: m.w, y1: m.h, tile: tile, mask: m, from: m.blocksFrom()})
		}
	}
	s.weight = make([]float32, n*len(s.zones))
	for i := range s.weight {
		s.weight[i] = 1
	}
	for i, sh := range p.shells {
		if len(sh.Tris) == 0 {
			continue // its zone has no cells, nothing comes near it
		}
		s.forms[i] = slices.DeleteFunc(p.shapes(i, scale, cell), func(f *form) bool { return f.mask.w > s.grid[0] || f.mask.h > s.grid[1] })
		if len(s.forms[i]) == 0 {
			return nil
		}
		for _, f := range s.forms[i] {
			s.work += rasterWork * len(f.mask.bits)
		}
		pl := from[i]
		f := max(0, slices.IndexFunc(s.forms[i], func(f *form) bool { return f.quarter == pl.Quarter && f.turn == pl.Turn }))
		origin := r2.Vec{X: margin + float64(pl.Tile), Y: margin}
		middle := r2.Scale(scale/pl.Scale, r2.Sub(pl.Apply(sh.box.Middle()), origin))
		corner := r2.Scale(1/cell, r2.Sub(middle, r2.Scale(0.5, s.forms[i][f].box.Size())))
		s.move(i, s.inside(i, spot{tile: pl.Tile, form: f, x: int(math.Round(corner.X)), y: int(math.Round(corner.Y))}))
	}
	return s
}

// rasterWork is what drawing a word of a raster costs beside looking at it.
const rasterWork = 8

// placements are the places as they are now.
func (s *separator) placements(scale float64) []Placement {
	out := make([]Placement, len(s.at))
	for i, at := range s.at {
		if s.forms[i] == nil {
			out[i] = s.atMargin(scale)
		} else {
			out[i] = s.placed(s.forms[i][at.form], at, scale, s.cells)
		}
	}
	return out
}

// inside is the spot nearest to one at which a shell lies on the tile.
func (s *separator) inside(i int, at spot) spot {
	m := s.forms[i][at.form].mask
	at.x = max(0, min(at.x, s.grid[0]-m.w))
	at.y = max(0, min(at.y, s.grid[1]-m.h))
	return at
}

func (s *separator) move(i int, at spot) {
	f := s.forms[i][at.form]
	g, by := f.grow(s.reach)
	if f.far == nil {
		f.far = g.blocksFrom()
	}
	x, y := at.x-by, at.y-by
	s.at[i], s.zones[i] = at, zone{x0: x, y0: y, x1: x + g.w, y1: y + g.h, tile: at.tile, mask: g, from: f.far}
}

// run moves shells until none is in conflict; ok is false if that was not reached, or not
// with so much work.
func (s *separator) run(ctx context.Context, words int) (ok bool, err error) {
	tooMany := hopeless * s.cells * s.cells / (500 * 500)
	least := math.MaxInt
	for sweep, since := 0, 0; s.work < words; sweep++ {
		if err := ctx.Err(); err != nil {
			return false, err
		}
		left, in := s.conflicts()
		if left == 0 {
			return true, nil
		}
		if since++; left < least {
			least, since = left, 0
		}
		if since >= nearSweeps || since >= stuckSweeps && least >= nearCells || sweep >= lateSweep && least > tooMany {
			return false, nil
		}
		s.random.Shuffle(len(in), func(a, b int) { in[a], in[b] = in[b], in[a] })
		for _, i := range in {
			s.improve(i)
		}
	}
	return false, nil
}

// conflicts counts the cells of all overlaps, lists the shells that have some, and weighs
// the pairs anew.
func (s *separator) conflicts() (cells int, in []int) {
	type pair struct{ i, j, cells int }
	var pairs []pair
	n, worst := len(s.zones), 0
	weigh := func(i, j int, w float32) {
		if s.weight[i*n+j] = w; j < len(s.at) {
			s.weight[j*n+i] = w
		}
	}
	for i := range s.at {
		if s.forms[i] == nil {
			continue
		}
		f := s.forms[i][s.at[i].form]
		for j := 0; j < n; j++ {
			if j == i { // the others find it themselves; what stays comes after them
				j = len(s.at) - 1
				continue
			}
			c := 0
			if z := &s.zones[j]; !z.clear(f.mask, s.at[i]) {
				c = s.overlap(f, s.at[i], z, math.MaxInt)
			}
			if c > 0 {
				pairs = append(pairs, pair{i, j, c})
				worst = max(worst, c)
				cells += c
			} else if w := s.weight[i*n+j]; w > 1 {
				weigh(i, j, max(1, w*weighLess))
			}
		}
	}
	for _, p := range pairs {
		weigh(p.i, p.j, s.weight[p.i*n+p.j]*(weighMore+weighWorst*float32(p.cells)/float32(worst)))
		if in = append(in, p.i); p.j < len(s.at) {
			in = append(in, p.j)
		}
	}
	slices.Sort(in)
	return cells, slices.Compact(in)
}

// clear tells whether the box of a shell at a spot keeps clear of a zone.
func (z *zone) clear(m *mask, at spot) bool {
	return at.x >= z.x1 || at.y >= z.y1 || at.x+m.w <= z.x0 || at.y+m.h <= z.y0 || z.tile != at.tile
}

// overlap counts the cells of a form at a spot that are in a zone, until there are enough.
func (s *separator) overlap(f *form, at spot, z *zone, enough int) int {
	if f.near == nil {
		f.near = f.mask.blocks()
	}
	n, looked := f.mask.meet(z.mask, f.near, z.from, at.x-z.x0, at.y-z.y0, enough)
	s.work += looked
	return n
}

// cost weighs the overlaps of a shell at a spot; from a bound on it is not exact.
func (s *separator) cost(i int, at spot, bound float64) (sum float64) {
	n := len(s.zones)
	s.work += n / 8
	f := s.forms[i][at.form]
	weight := s.weight[i*n : (i+1)*n]
	for j := range s.zones {
		z := &s.zones[j]
		if z.clear(f.mask, at) || j == i {
			continue
		}
		enough := math.MaxInt
		if most := (bound - sum) / float64(weight[j]); most < 1<<40 {
			enough = int(most) + 1
		}
		if c := s.overlap(f, at, z, enough); c > 0 {
			if sum += float64(c) * float64(weight[j]); sum >= bound {
				break
			}
		}
	}
	return sum
}

// improve moves a shell where it overlaps least, of the places around it, turned too, and a
// few others.
func (s *separator) improve(i int) {
	best, least := s.at[i], s.cost(i, s.at[i], math.Inf(1))
	try := func(at spot) {
		if at, c := s.descend(i, at); c < least {
			best, least = at, c
		}
	}
	for f := range s.forms[i] {
		if least > 0 {
			try(s.centred(i, f))
		}
	}
	for k := 0; k < farTries && least > 0; k++ {
		at := s.elsewhere(i)
		if promising := 4 * least; s.cost(i, at, promising) < promising {
			try(at)
		}
	}
	s.move(i, best)
}

// elsewhere is a spot at random: anywhere, or not far.
func (s *separator) elsewhere(i int) spot {
	f := s.random.IntN(len(s.forms[i]))
	if s.local {
		at, far := s.centred(i, f), s.cells/localPart
		at.x, at.y = at.x+s.random.IntN(2*far+1)-far, at.y+s.random.IntN(2*far+1)-far
		return s.inside(i, at)
	}
	m := s.forms[i][f].mask
	return spot{tile: s.random.IntN(s.o.Tiles), form: f, x: s.random.IntN(max(1, s.grid[0]-m.w+1)), y: s.random.IntN(max(1, s.grid[1]-m.h+1))}
}

// centred is the spot of another form of a shell about the same middle.
func (s *separator) centred(i, form int) spot {
	at := s.at[i]
	was, is := s.forms[i][at.form].mask, s.forms[i][form].mask
	at.form, at.x, at.y = form, at.x+(was.w-is.w)/2, at.y+(was.h-is.h)/2
	return s.inside(i, at)
}

// upright turns back shells that stand on their head for nothing.
func (s *separator) upright() {
	for i, forms := range s.forms {
		if forms == nil || forms[s.at[i].form].quarter < 2 {
			continue
		}
		f := forms[s.at[i].form]
		k := slices.IndexFunc(forms, func(g *form) bool { return g.turn == f.turn && g.quarter == f.quarter-2 })
		if k < 0 {
			continue
		}
		if at, c := s.descend(i, s.centred(i, k)); c == 0 {
			s.move(i, at)
		}
	}
}

// descend goes downhill from a spot, in steps that get shorter.
func (s *separator) descend(i int, at spot) (spot, float64) {
	c := s.cost(i, at, math.Inf(1))
	for step := max(1, s.cells/64); step >= 1 && c > 0; {
		moved := false
		for _, d := range [4][2]int{{step, 0}, {-step, 0}, {0, step}, {0, -step}} {
			to := at
			to.x, to.y = to.x+d[0], to.y+d[1]
			if to = s.inside(i, to); to == at {
				continue
			}
			if n := s.cost(i, to, c); n < c {
				at, c, moved = to, n, true
				break
			}
		}
		if !moved {
			step /= 2
		}
	}
	return at, c
}
