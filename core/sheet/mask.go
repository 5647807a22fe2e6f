// Package sheet lays shells on the sheet: one texel density for all, packed
// without overlap and with the padding that was asked for.
package sheet

import (
	"math"
	"math/bits"

	"morvek/core/planar"
)

// mask is a conservative raster of a shell: every cell its triangles touch.
// Rows are runs of 64-bit words, bit x%64 of word x/64.
type mask struct {
	w, h  int
	words int
	bits  []uint64
}

func newMask(w, h int) *mask {
	words := (w + 63) / 64
	return &mask{w: w, h: h, words: words, bits: make([]uint64, words*h)}
}

func (m *mask) row(y int) []uint64 { return m.bits[y*m.words : (y+1)*m.words] }

func (m *mask) setRun(y, x0, x1 int) { planar.SetRun(m.row(y), x0, x1) }

// reversed is the mask after a half turn.
func (m *mask) reversed() *mask {
	out := newMask(m.w, m.h)
	shift := uint(m.words*64 - m.w) // free bits at the end, which come to the front
	for y := range m.h {
		src, dst := m.row(y), out.row(m.h-1-y)
		for w, v := range src {
			v = bits.Reverse64(v)
			at := m.words - 1 - w
			dst[at] |= v >> shift
			if at > 0 && shift > 0 {
				dst[at-1] |= v << (64 - shift)
			}
		}
	}
	return out
}

// rasterise marks every cell of size cell that a triangle touches; the lower
// left of the box of all triangles becomes the origin.
func rasterise(tris []planar.Triangle, box planar.Box, cell float64) *mask {
	// A hair wider, so that rounding never loses a touched cell.
	return rasteriseWithin(tris, box, cell, 1e-9)
}

// rasteriseWithin is rasterise with triangles that are some cells wider, or narrower.
func rasteriseWithin(tris []planar.Triangle, box planar.Box, cell, wider float64) *mask {
	size := box.Size()
	m := newMask(int(size.X/cell)+1, int(size.Y/cell)+1)
	narrower := max(0, -wider)
	for _, t := range tris {
		b := planar.Bounds(t[:]...)
		y0 := max(0, int((b.Min.Y-box.Min.Y)/cell+narrower))
		y1 := min(m.h-1, int((b.Max.Y-box.Min.Y)/cell-narrower))
		for y := y0; y <= y1; y++ {
			lo, hi := span(t, box.Min.Y+float64(y)*cell, box.Min.Y+float64(y+1)*cell)
			if lo > hi {
				continue
			}
			x0 := max(0, int(math.Floor((lo-box.Min.X)/cell-wider)))
			x1 := min(m.w-1, int((hi-box.Min.X)/cell+wider))
			if x0 <= x1 {
				m.setRun(y, x0, x1)
			}
		}
	}
	return m
}

// span returns the range of x a triangle covers between two heights.
func span(t planar.Triangle, y0, y1 float64) (lo, hi float64) {
	lo, hi = math.Inf(1), math.Inf(-1)
	take := func(x float64) { lo, hi = min(lo, x), max(hi, x) }
	for k := range 3 {
		a, b := t[k], t[(k+1)%3]
		if a.Y >= y0 && a.Y <= y1 {
			take(a.X)
		}
		for _, y := range [2]float64{y0, y1} {
			if (a.Y < y) != (b.Y < y) {
				take(a.X + (b.X-a.X)*(y-a.Y)/(b.Y-a.Y))
			}
		}
	}
	return lo, hi
}

// dilate grows a mask so that a cell outside it is at least reach cells (inner
// distance, corner to corner) from any cell set in m. The result is larger by
// margin cells on every side.
func (m *mask) dilate(reach float64) (out *mask, margin int) {
	margin = int(math.Ceil(reach)) + 1
	out = newMask(m.w+2*margin, m.h+2*margin)
	// Cells dy rows and dx columns apart are max(|d|-1, 0) apart at the least.
	width := make([]int, margin+1)
	for dy := range width {
		gy := float64(max(dy-1, 0))
		width[dy] = -1
		for dx := 0; dx <= margin; dx++ {
			if gx := float64(max(dx-1, 0)); gx*gx+gy*gy < reach*reach || dx+dy == 0 {
				width[dy] = dx
			}
		}
	}
	for y := range m.h {
		for x := 0; x < m.w; {
			x0, ok := m.nextSet(y, x)
			if !ok {
				break
			}
			x1 := m.lastOfRun(y, x0)
			for dy := -margin; dy <= margin; dy++ {
				if w := width[max(dy, -dy)]; w >= 0 {
					out.setRun(y+dy+margin, max(0, x0+margin-w), min(out.w-1, x1+margin+w))
				}
			}
			x = x1 + 1
		}
	}
	return out, margin
}

func (m *mask) nextSet(y, x int) (int, bool) {
	row := m.row(y)
	for word := x / 64; word < m.words; word++ {
		w := row[word]
		if word == x/64 {
			w &= ^uint64(0) << (x % 64)
		}
		if w != 0 {
			if p := word*64 + bits.TrailingZeros64(w); p < m.w {
				return p, true
			}
			return 0, false
		}
	}
	return 0, false
}

func (m *mask) lastOfRun(y, x int) int {
	row := m.row(y)
	for word := x / 64; word < m.words; word++ {
		w := ^row[word]
		if word == x/64 {
			w &= ^uint64(0) << (x % 64)
		}
		if w != 0 {
			return min(word*64+bits.TrailingZeros64(w), m.w) - 1
		}
	}
	return m.w - 1
}
