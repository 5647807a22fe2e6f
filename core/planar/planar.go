// Package planar answers exact-enough questions about triangles and segments
// on the sheet: do they overlap, how close do they come. A uniform grid finds
// the candidates.
package planar

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
)

// Triangle is a triangle on the sheet.
type Triangle [3]r2.Vec

// Area returns the signed area, positive when counter-clockwise.
func (t Triangle) Area() float64 {
	return r2.Cross(r2.Sub(t[1], t[0]), r2.Sub(t[2], t[0])) / 2
}

// Box is an axis-parallel rectangle.
type Box struct{ Min, Max r2.Vec }

// Bounds returns the box around points.
func Bounds(p ...r2.Vec) Box {
	if len(p) == 0 {
		return Box{}
	}
	b := Box{p[0], p[0]}
	for _, q := range p[1:] {
		b.Min.X, b.Min.Y = min(b.Min.X, q.X), min(b.Min.Y, q.Y)
		b.Max.X, b.Max.Y = max(b.Max.X, q.X), max(b.Max.Y, q.Y)
	}
	return b
}

// Size returns width and height.
func (b Box) Size() r2.Vec { return r2.Sub(b.Max, b.Min) }

func (b Box) grown(by float64) Box {
	return Box{r2.Vec{X: b.Min.X - by, Y: b.Min.Y - by}, r2.Vec{X: b.Max.X + by, Y: b.Max.Y + by}}
}

func (b Box) meets(o Box) bool {
	return b.Min.X <= o.Max.X && o.Min.X <= b.Max.X && b.Min.Y <= o.Max.Y && o.Min.Y <= b.Max.Y
}

// grid buckets boxes into square cells.
type grid struct {
	origin r2.Vec
	cell   float64
	nx, ny int
	start  []int32
	item   []int32
}

// maxCells bounds the grid; maxSpan bounds how many cells one box may fill
// before the cell size is doubled.
const maxCells = 1 << 22

func newGrid(boxes []Box, cell float64) *grid {
	if len(boxes) == 0 {
		return &grid{cell: 1, nx: 1, ny: 1, start: []int32{0, 0}}
	}
	all := boxes[0]
	for _, b := range boxes[1:] {
		all = Bounds(all.Min, all.Max, b.Min, b.Max)
	}
	size := all.Size()
	cell = max(cell, max(size.X, size.Y)*1e-6, math.Sqrt(size.X*size.Y/maxCells), 1e-300)
	g := &grid{origin: all.Min, cell: cell}
	g.nx, g.ny = int(size.X/cell)+1, int(size.Y/cell)+1
	g.start = make([]int32, g.nx*g.ny+1)
	for _, b := range boxes {
		g.cells(b, func(c int) { g.start[c+1]++ })
	}
	for i := range g.nx * g.ny {
		g.start[i+1] += g.start[i]
	}
	g.item = make([]int32, g.start[g.nx*g.ny])
	fill := append([]int32(nil), g.start...)
	for i, b := range boxes {
		g.cells(b, func(c int) { g.item[fill[c]] = int32(i); fill[c]++ })
	}
	return g
}

func (g *grid) cells(b Box, visit func(c int)) {
	clampInt := func(v float64, n int) int { return max(0, min(n-1, int(v))) }
	x0, x1 := clampInt((b.Min.X-g.origin.X)/g.cell, g.nx), clampInt((b.Max.X-g.origin.X)/g.cell, g.nx)
	y0, y1 := clampInt((b.Min.Y-g.origin.Y)/g.cell, g.ny), clampInt((b.Max.Y-g.origin.Y)/g.cell, g.ny)
	for y := y0; y <= y1; y++ {
		for x := x0; x <= x1; x++ {
			visit(y*g.nx + x)
		}
	}
}

// firstShared tells whether cell c is the lowest cell both boxes touch, so
// that a pair is looked at once only.
func (g *grid) firstShared(c int, a, b Box) bool {
	m := Box{r2.Vec{X: max(a.Min.X, b.Min.X), Y: max(a.Min.Y, b.Min.Y)}, r2.Vec{}}
	first := -1
	m.Max = m.Min
	g.cells(m, func(k int) { first = k })
	return first == c
}

// Overlap is a pair of triangles that share an area.
type Overlap struct {
	A, B int32
	Area float64
}

// Overlaps returns the pairs of triangles whose common area exceeds share of
// the smaller one, in order of (A, B) cells. Degenerate triangles never count.
func Overlaps(tris []Triangle, share float64) []Overlap {
	boxes := make([]Box, len(tris))
	area := make([]float64, len(tris))
	var span float64
	for i, t := range tris {
		boxes[i] = Bounds(t[:]...)
		area[i] = math.Abs(t.Area())
		s := boxes[i].Size()
		span += max(s.X, s.Y)
	}
	g := newGrid(boxes, span/float64(max(1, len(tris))))
	var out []Overlap
	for c := range g.nx * g.ny {
		items := g.item[g.start[c]:g.start[c+1]]
		for k, i := range items {
			if area[i] == 0 {
				continue
			}
			for _, j := range items[k+1:] {
				if area[j] == 0 || !boxes[i].meets(boxes[j]) || !g.firstShared(c, boxes[i], boxes[j]) {
					continue
				}
				least := share * min(area[i], area[j])
				if separated(tris[i], tris[j]) {
					continue
				}
				if a := commonArea(tris[i], tris[j]); a > least {
					out = append(out, Overlap{i, j, a})
				}
			}
		}
	}
	return out
}

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

// Segment is a piece of a border; segments of one group are not measured
// against each other.
type Segment struct {
	A, B  r2.Vec
	Group int32
}

// Gap is the least distance found and the two segments that come so close.
type Gap struct {
	Distance float64
	A, B     int32
}

// MinGap returns the smallest distance between segments of different groups
// and the close pairs below limit, one for each pair of groups. The distance is
// +Inf when there is only one group.
func MinGap(segs []Segment, limit float64) (least Gap, close []Gap) {
	least = Gap{Distance: math.Inf(1), A: -1, B: -1}
	groups := map[int32]bool{}
	boxes := make([]Box, len(segs))
	all := Box{}
	for i, s := range segs {
		groups[s.Group] = true
		boxes[i] = Bounds(s.A, s.B)
		if i == 0 {
			all = boxes[0]
		}
		all = Bounds(all.Min, all.Max, boxes[i].Min, boxes[i].Max)
	}
	if len(groups) < 2 {
		return least, nil
	}
	size := all.Size()
	for reach := limit; ; reach *= 2 {
		least, close = gapsWithin(segs, boxes, reach, limit)
		if least.Distance <= reach || reach > 2*(size.X+size.Y) || reach == 0 {
			return least, close
		}
	}
}

func gapsWithin(segs []Segment, boxes []Box, reach, limit float64) (least Gap, close []Gap) {
	least = Gap{Distance: math.Inf(1), A: -1, B: -1}
	wide := make([]Box, len(boxes))
	for i, b := range boxes {
		wide[i] = b.grown(reach / 2)
	}
	g := newGrid(wide, reach)
	nearest := map[[2]int32]Gap{}
	for c := range g.nx * g.ny {
		items := g.item[g.start[c]:g.start[c+1]]
		for k, i := range items {
			for _, j := range items[k+1:] {
				if segs[i].Group == segs[j].Group || !wide[i].meets(wide[j]) || !g.firstShared(c, wide[i], wide[j]) {
					continue
				}
				d := SegmentDistance(segs[i].A, segs[i].B, segs[j].A, segs[j].B)
				if d < least.Distance {
					least = Gap{d, i, j}
				}
				if d < limit {
					key := [2]int32{min(segs[i].Group, segs[j].Group), max(segs[i].Group, segs[j].Group)}
					if old, ok := nearest[key]; !ok || d < old.Distance {
						nearest[key] = Gap{d, i, j}
					}
				}
			}
		}
	}
	for _, n := range nearest {
		close = append(close, n)
	}
	return least, close
}

// SegmentDistance returns the distance between the segments ab and cd.
func SegmentDistance(a, b, c, d r2.Vec) float64 {
	if cross(a, b, c)*cross(a, b, d) < 0 && cross(c, d, a)*cross(c, d, b) < 0 {
		return 0
	}
	return min(min(pointSegment(a, c, d), pointSegment(b, c, d)), min(pointSegment(c, a, b), pointSegment(d, a, b)))
}

func cross(a, b, c r2.Vec) float64 { return r2.Cross(r2.Sub(b, a), r2.Sub(c, a)) }

func pointSegment(p, a, b r2.Vec) float64 {
	d := r2.Sub(b, a)
	t := 0.0
	if l := r2.Norm2(d); l > 0 {
		t = max(0, min(1, r2.Dot(r2.Sub(p, a), d)/l))
	}
	return r2.Norm(r2.Sub(p, r2.Add(a, r2.Scale(t, d))))
}
