package sheet

import (
	"cmp"
	"math"
	"math/bits"
	"slices"

	"morvek/core/planar"
)

// occupancy is the raster of a tile: cells no shell may touch any more. Level k
// holds for each row the union of the 2^k rows from it on, so that a block of rows
// is looked at in two steps.
type occupancy struct {
	n, high int // cells across and up
	words   int
	levels  [][]uint64
	taste   taste
	tested  int      // words looked at by scan, the measure of work
	stride  int      // rows passed over at a time while there is no place
	taken   []uint64 // columns that are ruled out
	rows    []uint64 // union of a block of rows
	gaps    []int    // longest run of free cells of each row
}

func newOccupancy(n, high int) *occupancy {
	words := (n + 63) / 64
	o := &occupancy{n: n, high: high, words: words, taste: usual, stride: 1,
		taken: make([]uint64, words), rows: make([]uint64, words), gaps: make([]int, high)}
	for y := range o.gaps {
		o.gaps[y] = n
	}
	for rows := 1; rows <= min(high, bandRows); rows *= 2 {
		o.levels = append(o.levels, make([]uint64, high*words))
	}
	return o
}

func (o *occupancy) row(y int) []uint64 { return o.levels[0][y*o.words : (y+1)*o.words] }

// union writes the union of some rows into rows and tells whether anything is there.
func (o *occupancy) union(y, rows int) bool {
	k := bits.Len(uint(rows)) - 1
	a := o.levels[k][y*o.words : (y+1)*o.words]
	b := o.levels[k][(y+rows-1<<k)*o.words : (y+rows-1<<k+1)*o.words]
	var any uint64
	for i := range a {
		v := a[i] | b[i]
		o.rows[i] = v
		any |= v
	}
	return any != 0
}

// renew brings the levels up to date after rows lo to hi changed.
func (o *occupancy) renew(lo, hi int) {
	for k := 1; k < len(o.levels); k++ {
		half := 1 << (k - 1)
		src, dst := o.levels[k-1], o.levels[k]
		for y := max(0, lo-2*half+1); y <= hi; y++ {
			other := min(y+half, o.high-1)
			for w := range o.words {
				dst[y*o.words+w] = src[y*o.words+w] | src[other*o.words+w]
			}
		}
	}
}

// add takes the cells of a mask whose lower left corner is at (x, y); what
// reaches over the rim is dropped.
func (o *occupancy) add(m *mask, x, y int) {
	for r := range m.h {
		if y+r < 0 || y+r >= o.high {
			continue
		}
		row, src := o.row(y+r), m.row(r)
		for w, v := range src {
			if v == 0 {
				continue
			}
			at := x + w*64
			if at < 0 {
				if at <= -64 {
					continue
				}
				v >>= -at
				at = 0
			}
			if at >= o.n {
				continue
			}
			row[at/64] |= v << (at % 64)
			if s := at % 64; s > 0 && at/64+1 < o.words {
				row[at/64+1] |= v >> (64 - s)
			}
		}
		if extra := o.words*64 - o.n; extra > 0 {
			row[o.words-1] &= ^uint64(0) >> extra
		}
	}
	lo, hi := max(0, y), min(o.high-1, y+m.h-1)
	for y := lo; y <= hi; y++ {
		o.gaps[y] = o.longestGap(o.row(y))
	}
	o.renew(lo, hi)
}

func (o *occupancy) longestGap(row []uint64) (most int) {
	for at := 0; at < o.n; {
		lo := nextFree(row, at)
		if lo >= o.n {
			break
		}
		at = min(nextTaken(row, lo), o.n)
		most = max(most, at-lo)
	}
	return most
}

// narrow returns by how many rows a form must rise at least before the gaps of no row are
// narrower than its widest blocks.
func (o *occupancy) narrow(f *form, y int) int {
	for _, b := range f.bands[:min(4, len(f.bands))] {
		for r := b.rows - 1; r >= 0; r-- {
			if o.gaps[y+b.y+r] < b.n {
				return r + 1
			}
		}
	}
	return 0
}

// scan visits the rows from from to limit in which a form has a place, with the
// columns that are taken; visit tells how many rows to skip and whether to go
// on. All columns of a row are tried at once: a column is
// ruled out if any run of the form would meet a taken cell there.
func (o *occupancy) scan(f *form, from, limit int, visit func(y int, taken []uint64) (skip int, on bool)) {
	m := f.mask
	last := o.n - m.w
	if last < 0 || m.h > o.high {
		return
	}
	full := func(y int) bool {
		clear(o.taken)
		planar.SetRun(o.taken, last+1, o.words*64-1) // columns the mask would stick out from
		return o.blocked(f.bands, y) || !f.exact && o.blocked(f.runs, y)
	}
	limit = min(limit, o.high-m.h)
	y := max(0, from)
	for seen := y - 1; y <= limit; { // rows up to seen are done with
		if n := o.narrow(f, y); n > 0 {
			y += n
			seen = y - 1
			continue
		}
		if full(y) {
			seen = y
			y += o.stride
			continue
		}
		for ; y-1 > seen; y-- { // rows that were passed over
			if full(y - 1) {
				full(y)
				break
			}
		}
		skip, on := visit(y, o.taken)
		if !on {
			return
		}
		y += skip + 1
		seen = y - 1
	}
}

// blocked rules out the columns in which blocks of a form meet something taken
// and tells whether none is left.
func (o *occupancy) blocked(blocks []block, y int) bool {
	for _, b := range blocks {
		o.tested += o.words
		if o.union(y+b.y, b.rows) && o.forbid(b) {
			return true
		}
	}
	return false
}

// forbid rules out the columns in which a block of a form meets a cell of union and tells
// whether none is left. Runs of cells closer than the block is long rule out one interval.
func (o *occupancy) forbid(b block) bool {
	end := o.words * 64
	for at := 0; ; {
		lo := nextTaken(o.rows, at)
		if lo >= end {
			break
		}
		hi := nextFree(o.rows, lo)
		for {
			next := nextTaken(o.rows, hi)
			if next >= end || next-hi >= b.n {
				at = next
				break
			}
			hi = nextFree(o.rows, next)
		}
		if last := hi - 1 - b.x; last >= 0 {
			planar.SetRun(o.taken, max(0, lo-b.x-b.n+1), last)
		}
		if at >= end {
			break
		}
	}
	for _, v := range o.taken {
		if v != ^uint64(0) {
			return false
		}
	}
	return true
}

// find returns the lowest, then leftmost position of a form at or above row from
// and not above limit.
func (o *occupancy) find(f *form, from, limit int) (x, y int, ok bool) {
	o.scan(f, from, limit, func(row int, taken []uint64) (int, bool) {
		for w, v := range taken {
			if v != ^uint64(0) {
				x, y, ok = w*64+bits.TrailingZeros64(^v), row, true
				return 0, false
			}
		}
		return 0, true
	})
	return x, y, ok
}

// seek looks for a place, snug or just as low as possible.
func (o *occupancy) seek(f *form, from, limit int, snug bool) (spot, bool) {
	if snug {
		return o.snug(f, from, limit)
	}
	x, y, ok := o.find(f, from, limit)
	return spot{x: x, y: y, score: -float64(y+f.mask.h) - float64(x)/float64(2*o.n)}, ok
}

// snug returns the position of a form, in a band of rows above the lowest it fits
// at, where it touches most of what is there, held against how high it reaches.
func (o *occupancy) snug(f *form, from, limit int) (best spot, ok bool) {
	lowest := -1
	o.scan(f, from, limit, func(row int, taken []uint64) (int, bool) {
		if lowest < 0 {
			lowest = row
		} else if row > lowest+o.n/o.taste.band {
			return 0, false
		}
		count := 0
		for at := 0; at < o.n && count < 4; count++ { // both ends of each gap
			lo := nextFree(taken, at)
			if lo >= o.n {
				break
			}
			hi := nextTaken(taken, lo) - 1
			for _, c := range [2]int{lo, min(hi, o.n-1)} {
				high := o.taste.height * float64(row+f.mask.h) / float64(o.n)
				least := math.Inf(-1)
				if ok {
					least = best.score + 1e-9 + high
				}
				if touch := o.contact(f, c, row, least); touch > least {
					best, ok = spot{x: c, y: row, score: touch - high}, true
				}
			}
			at = hi + 1
		}
		return o.n / 200, true
	})
	return best, ok
}

// taste says what makes a place better than another.
type taste struct {
	band   int     // the part of the sheet, in rows above the lowest place, in which a snugger one is looked for
	height float64 // the contact, as a share of the rim, that rising by the whole sheet costs
}

var usual = taste{8, 1.5}

func nextFree(row []uint64, at int) int {
	for w := at / 64; w < len(row); w++ {
		v := ^row[w]
		if w == at/64 {
			v &= ^uint64(0) << (at % 64)
		}
		if v != 0 {
			return w*64 + bits.TrailingZeros64(v)
		}
	}
	return len(row) * 64
}

func nextTaken(row []uint64, at int) int {
	for w := at / 64; w < len(row); w++ {
		v := row[w]
		if w == at/64 {
			v &= ^uint64(0) << (at % 64)
		}
		if v != 0 {
			return w*64 + bits.TrailingZeros64(v)
		}
	}
	return len(row) * 64
}

// contact is the share of the rim of a form at a place that touches something
// taken or the border of the tile; not exact where it is not more than a least one.
func (o *occupancy) contact(f *form, x, y int, least float64) float64 {
	touch := 0
	rim := f.outline()
	spare := len(rim) // cells that may touch nothing
	if least > 0 {
		spare -= int(least * float64(len(rim)))
	}
	for k, c := range rim {
		if k-touch > spare {
			break
		}
		cx, cy := x+int(c.x), y+int(c.y)
		if cx < 0 || cy < 0 || cx >= o.n || cy >= o.high || o.levels[0][cy*o.words+cx/64]>>(cx%64)&1 == 1 {
			touch++
		}
	}
	return float64(touch) / float64(max(1, len(rim)))
}

// cell is a place relative to the corner of a form.
type cell struct{ x, y int16 }

// rimOf lists cells just outside a mask, beside its runs and above and below them, evenly
// thinned to some dozens.
func rimOf(m *mask) []cell {
	const off = 2
	var all []cell
	add := func(x, y int) { all = append(all, cell{int16(x), int16(y)}) }
	bare := func(y, beside, at int) { // cells of a row that are free in the next
		row := m.row(y)
		for w, v := range row {
			if beside >= 0 && beside < m.h {
				v &^= m.row(beside)[w]
			}
			for ; v != 0; v &= v - 1 {
				add(w*64+bits.TrailingZeros64(v), at)
			}
		}
	}
	for y := range m.h {
		bare(y, y-1, y-off)
		bare(y, y+1, y+off)
		for x := 0; x < m.w; {
			x0, ok := m.nextSet(y, x)
			if !ok {
				break
			}
			x1 := m.lastOfRun(y, x0)
			add(x0-off, y)
			add(x1+off, y)
			x = x1 + 1
		}
	}
	step := max(1, len(all)/rimCells)
	out := all[:0]
	for i := 0; i < len(all); i += step {
		out = append(out, all[i])
	}
	return slices.Clone(out)
}

const rimCells = 72

// block is n cells from column x in a number of rows of a mask.
type block struct{ y, rows, x, n int }

// runs lists the runs of a mask row by row, a coarse sweep over the height first,
// which rules out most.
func (m *mask) runs() []block {
	var out []block
	step := max(1, m.h/8)
	for phase := range step {
		for y := phase; y < m.h; y += step {
			for x := 0; x < m.w; {
				x0, ok := m.nextSet(y, x)
				if !ok {
					break
				}
				x1 := m.lastOfRun(y, x0)
				out = append(out, block{y, 1, x0, x1 - x0 + 1})
				x = x1 + 1
			}
		}
	}
	return out
}

// bandRows is the most rows a band may have.
const bandRows = 64

// bands lists blocks that lie inside a mask, the longest common run of each of a
// few groups of rows: what they rule out is ruled out. exact tells whether they
// make up the whole mask.
func (m *mask) bands() (out []block, exact bool) {
	groups := min(m.h, max(10, (m.h+bandRows-1)/bandRows))
	exact = true
	for g := range groups {
		lo, hi := g*m.h/groups, (g+1)*m.h/groups
		common := newMask(m.w, 1)
		copy(common.bits, m.row(lo))
		for y := lo + 1; y < hi; y++ {
			for w, v := range m.row(y) {
				if common.bits[w] != v {
					exact = false
				}
				common.bits[w] &= v
			}
		}
		best := block{}
		runs := 0
		for x := 0; x < m.w; {
			x0, ok := common.nextSet(0, x)
			if !ok {
				break
			}
			x1 := common.lastOfRun(0, x0)
			if n := x1 - x0 + 1; n > best.n {
				best = block{lo, hi - lo, x0, n}
			}
			runs++
			x = x1 + 1
		}
		exact = exact && runs == 1
		if best.n > 0 {
			out = append(out, best)
		}
	}
	slices.SortStableFunc(out, func(a, b block) int { return cmp.Compare(b.n, a.n) }) // what rules out most first
	return out, exact
}
