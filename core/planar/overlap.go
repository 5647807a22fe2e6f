package planar

import (
	"math"
	"runtime"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/parallel"
)

// Overlap is a pair of triangles that share an area.
type Overlap struct {
	A, B int32
	Area float64
}

// Overlaps returns the pairs of triangles whose common area exceeds share of
// the smaller one, in order of (A, B) cells. Degenerate triangles never count.
func Overlaps(tris []Triangle, share float64) []Overlap { return OverlapsOf(tris, share, nil) }

// OverlapsOf returns those of Overlaps in which one of the triangles is fresh; nil: all.
func OverlapsOf(tris []Triangle, share float64, fresh []bool) []Overlap {
	boxes := make([]Box, len(tris))
	area := make([]float64, len(tris))
	for i, t := range tris {
		boxes[i] = Bounds(t[:]...)
		area[i] = math.Abs(t.Area())
	}
	g := newGrid(boxes, meanSide(boxes))
	in := func(from, to int) (out []Overlap) { // cells
		for c := from; c < to; c++ {
			items := g.item[g.start[c]:g.start[c+1]]
			for k, i := range items {
				if area[i] == 0 {
					continue
				}
				for _, j := range items[k+1:] {
					if area[j] == 0 || fresh != nil && !fresh[i] && !fresh[j] || !boxes[i].meets(boxes[j]) || !g.firstShared(c, boxes[i], boxes[j]) || separated(tris[i], tris[j]) {
						continue
					}
					if a := commonArea(tris[i], tris[j]); a > share*min(area[i], area[j]) {
						out = append(out, Overlap{i, j, a})
					}
				}
			}
		}
		return out
	}
	cells := g.nx * g.ny
	if len(tris) < many {
		return in(0, cells)
	}
	// Side by side in blocks, put together in order.
	blocks := 8 * runtime.GOMAXPROCS(0)
	found := make([][]Overlap, blocks)
	var wg parallel.Group
	for b := range blocks {
		wg.Do(func() { found[b] = in(b*cells/blocks, (b+1)*cells/blocks) })
	}
	_ = wg.Wait()
	return slices.Concat(found...)
}

// many is the number of triangles from which it is worth while to work side by side.
const many = 20_000

// separated finds a side of either triangle with the other wholly beyond it.
func separated(a, b Triangle) bool { return sideSeparates(a, b) || sideSeparates(b, a) }

func sideSeparates(a, b Triangle) bool {
	sign := 1.0
	if a.Area() < 0 {
		sign = -1
	}
	for k := range 3 {
		p, d := a[k], r2.Sub(a[(k+1)%3], a[k])
		if sign*r2.Cross(d, r2.Sub(b[0], p)) <= 0 && sign*r2.Cross(d, r2.Sub(b[1], p)) <= 0 && sign*r2.Cross(d, r2.Sub(b[2], p)) <= 0 {
			return true
		}
	}
	return false
}

// commonArea clips a by b (Sutherland & Hodgman 1974).
func commonArea(a, b Triangle) float64 {
	if b.Area() < 0 {
		b[1], b[2] = b[2], b[1]
	}
	poly := append(make([]r2.Vec, 0, 8), a[:]...)
	next := make([]r2.Vec, 0, 8)
	for k := range 3 {
		p, d := b[k], r2.Sub(b[(k+1)%3], b[k])
		next = next[:0]
		for i, q := range poly {
			o := poly[(i+1)%len(poly)]
			sq, so := r2.Cross(d, r2.Sub(q, p)), r2.Cross(d, r2.Sub(o, p))
			if sq >= 0 {
				next = append(next, q)
			}
			if (sq > 0 && so < 0) || (sq < 0 && so > 0) {
				next = append(next, r2.Add(q, r2.Scale(sq/(sq-so), r2.Sub(o, q))))
			}
		}
		poly, next = next, poly
		if len(poly) < 3 {
			return 0
		}
	}
	var sum float64
	for i := 1; i+1 < len(poly); i++ {
		sum += r2.Cross(r2.Sub(poly[i], poly[0]), r2.Sub(poly[i+1], poly[0]))
	}
	return math.Abs(sum) / 2
}
