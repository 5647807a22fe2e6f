package sheet

import "math/bits"

// occupancy is the raster of a tile: cells no shell may touch any more.
type occupancy struct {
	n, words int
	rows     [][]uint64
}

func newOccupancy(n int) *occupancy {
	o := &occupancy{n: n, words: (n + 63) / 64, rows: make([][]uint64, n)}
	all := make([]uint64, n*o.words)
	for y := range o.rows {
		o.rows[y] = all[y*o.words : (y+1)*o.words]
	}
	return o
}

// add takes the cells of a mask whose lower left corner is at (x, y); what
// reaches over the rim is dropped.
func (o *occupancy) add(m *mask, x, y int) {
	for r := range m.h {
		if y+r < 0 || y+r >= o.n {
			continue
		}
		row, src := o.rows[y+r], m.row(r)
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
}

// find returns the lowest, then leftmost position of a mask at or above row
// from and not above limit. All columns of a row are tried at once: a column is
// ruled out if any run of the mask would meet a taken cell there.
func (o *occupancy) find(m *mask, from, limit int) (x, y int, ok bool) {
	last := o.n - m.w
	if last < 0 || m.h > o.n {
		return 0, 0, false
	}
	runs := m.runs()
	taken := make([]uint64, o.words)
	smear := make([]uint64, o.words+1)
	for y := max(0, from); y <= min(limit, o.n-m.h); y++ {
		clear(taken)
		for x := last + 1; x < o.words*64; { // columns the mask would stick out from
			n := min(64-x%64, o.words*64-x)
			taken[x/64] |= (^uint64(0) >> (64 - n)) << (x % 64)
			x += n
		}
		blocked := false
		for _, r := range runs {
			o.smear(smear, o.rows[y+r.y], r.n)
			if orShifted(taken, smear, r.x) {
				blocked = true
				break
			}
		}
		if blocked {
			continue
		}
		for w, v := range taken {
			if v != ^uint64(0) {
				return w*64 + bits.TrailingZeros64(^v), y, true
			}
		}
	}
	return 0, 0, false
}

// run is n cells in a row of a mask from column x.
type run struct{ y, x, n int }

// runs lists the runs of a mask, those of the widest rows first because they
// rule out most.
func (m *mask) runs() []run {
	var out []run
	step := max(1, m.h/8)
	for phase := range step { // a coarse sweep over the height first, then between
		for y := phase; y < m.h; y += step {
			for x := 0; x < m.w; {
				x0, ok := m.nextSet(y, x)
				if !ok {
					break
				}
				x1 := m.lastOfRun(y, x0)
				out = append(out, run{y, x0, x1 - x0 + 1})
				x = x1 + 1
			}
		}
	}
	return out
}

// smear sets bit x where any of the n cells from x on is taken, by doubling.
func (o *occupancy) smear(dst, src []uint64, n int) {
	copy(dst, src)
	dst[len(src)] = 0
	for done := 1; done < n; {
		step := min(done, n-done)
		shiftOr(dst[:len(src)], step)
		done += step
	}
}

// shiftOr ors a bitset with itself shifted down by s.
func shiftOr(b []uint64, s int) {
	w, r := s/64, uint(s%64)
	for i := range b {
		var v uint64
		if i+w < len(b) {
			v = b[i+w] >> r
			if r > 0 && i+w+1 < len(b) {
				v |= b[i+w+1] << (64 - r)
			}
		}
		b[i] |= v
	}
}

// orShifted ors src shifted down by s into dst and tells whether all is set.
func orShifted(dst, src []uint64, s int) bool {
	w, r := s/64, uint(s%64)
	all := ^uint64(0)
	for i := range dst {
		if i+w < len(dst) {
			v := src[i+w] >> r
			if r > 0 {
				v |= src[i+w+1] << (64 - r)
			}
			dst[i] |= v
		}
		all &= dst[i]
	}
	return all == ^uint64(0)
}
