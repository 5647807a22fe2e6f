package sheet

import "math/bits"

// block8 is the side of the blocks of cells by which two masks are first held against each
// other; eight of them make up a word.
const block8 = 8

// blocks is a mask with one bit for each block of cells that has some in it.
func (m *mask) blocks() *mask {
	out := newMask((m.w+block8-1)/block8, (m.h+block8-1)/block8)
	for y := range m.h {
		to := out.row(y / block8)
		for w, v := range m.row(y) {
			v |= v >> 4
			v |= v >> 2
			v |= v >> 1
			v &= 0x0101010101010101
			v = v * 0x0102040810204080 >> 56 // the lowest bits of the bytes, side by side
			to[w/block8] |= v << (w % block8 * block8)
		}
	}
	return out
}

// blocksFrom is blocks of all cells from which on a block, set anywhere, has some in it: each
// bit stands for four blocks of which it is the first.
func (m *mask) blocksFrom() *mask {
	b := m.blocks()
	out := newMask(b.w+1, b.h+1) // from one block before the first
	for y := range b.h {
		for _, to := range [2]int{y, y + 1} {
			row := out.row(to)
			for w, v := range b.row(y) {
				row[w] |= v | v<<1
				if w+1 < out.words {
					row[w+1] |= v >> 63
				}
			}
		}
	}
	return out
}

// meet counts the cells that are set in another mask too, where cell (x, y) is (x+dx, y+dy)
// of that one, until there are enough, and tells about how many words it looked at. near are the
// blocks of the one, far the blocksFrom of the other.
func (m *mask) meet(o, near, far *mask, dx, dy, enough int) (cells, looked int) {
	bx, by := floorDiv(dx, block8)+1, floorDiv(dy, block8)+1 // the first block in far
	x0, x1 := max(0, -bx), min(near.w, far.w-bx)
	y0, y1 := max(0, -by), min(near.h, far.h-by)
	looked = 8
	if x0 >= x1 {
		return 0, looked
	}
	for y := y0; y < y1; y++ {
		row, other := near.row(y), far.row(y+by)
		for w := x0 / 64; w <= (x1-1)/64; w++ {
			looked++
			hit := row[w] & window(other, w*64+bx)
			for hit != 0 {
				k := bits.TrailingZeros64(hit) / block8 // the word of m with this block
				hit &^= 0xff << (k * block8)
				at := w*block8 + k
				n, rows := m.meetWord(o, at, y*block8, at*64+dx, dy)
				looked += rows
				if cells += n; cells >= enough {
					return cells, looked
				}
			}
		}
	}
	return cells, looked
}

// meetWord counts the common cells of one word in a row of blocks.
func (m *mask) meetWord(o *mask, word, y, bit, dy int) (cells, rows int) {
	at, shift := bit>>6, uint(bit&63) // the word of o with the first bit; the others are in the next
	first, next := at >= 0 && at < o.words, shift > 0 && at+1 >= 0 && at+1 < o.words
	lo, hi := max(y, -dy), min(y+block8, m.h, o.h-dy)
	i, j, back := lo*m.words+word, (lo+dy)*o.words+at, (64-shift)&63
	switch { // the innermost loop of moving shells apart
	case first && next:
		for y := lo; y < hi; y++ {
			cells += bits.OnesCount64(m.bits[i] & (o.bits[j]>>shift | o.bits[j+1]<<back))
			i, j = i+m.words, j+o.words
		}
	case first:
		for y := lo; y < hi; y++ {
			cells += bits.OnesCount64(m.bits[i] & (o.bits[j] >> shift))
			i, j = i+m.words, j+o.words
		}
	case next:
		for y := lo; y < hi; y++ {
			cells += bits.OnesCount64(m.bits[i] & (o.bits[j+1] << back))
			i, j = i+m.words, j+o.words
		}
	}
	return cells, max(0, hi-lo)
}

// window returns 64 bits of a row from a bit on, which may lie outside.
func window(row []uint64, at int) uint64 {
	w, shift := at>>6, uint(at&63)
	var v uint64
	if w >= 0 && w < len(row) {
		v = row[w] >> shift
	}
	if shift > 0 && w+1 >= 0 && w+1 < len(row) {
		v |= row[w+1] << (64 - shift)
	}
	return v
}

// floorDiv divides and rounds down.
func floorDiv(a, b int) int {
	q := a / b
	if a%b < 0 {
		q--
	}
	return q
}
