package planar

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
)

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

// meanSide is the mean of the longer sides of boxes: cells as large take few boxes each, and a
// box few cells.
func meanSide(boxes []Box) (mean float64) {
	for _, b := range boxes {
		size := b.Size()
		mean += max(size.X, size.Y)
	}
	return mean / float64(max(1, len(boxes)))
}

// column and row of the cell a place lies in; the nearest one from outside.
func (g *grid) column(x float64) int { return max(0, min(g.nx-1, int((x-g.origin.X)/g.cell))) }
func (g *grid) row(y float64) int    { return max(0, min(g.ny-1, int((y-g.origin.Y)/g.cell))) }

func (g *grid) cells(b Box, visit func(c int)) {
	x0, x1, y1 := g.column(b.Min.X), g.column(b.Max.X), g.row(b.Max.Y)
	for y := g.row(b.Min.Y); y <= y1; y++ {
		for x := x0; x <= x1; x++ {
			visit(y*g.nx + x)
		}
	}
}

// firstShared tells whether cell c is the lowest cell both boxes touch, so
// that a pair is looked at once only.
func (g *grid) firstShared(c int, a, b Box) bool {
	return c == g.row(max(a.Min.Y, b.Min.Y))*g.nx+g.column(max(a.Min.X, b.Min.X))
}
