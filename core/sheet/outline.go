package sheet

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// outline returns the edges of triangles that are not shared by two of them, in the sense
// of the triangles; ok is false if some are turned over, so that the edges do not tell
// inside from outside.
func outline(tris []planar.Triangle) (edges [][2]r2.Vec, ok bool) {
	up := 0
	for _, t := range tris {
		switch a := t.Area(); {
		case a > 0:
			up++
		case a < 0:
			up--
		}
	}
	for _, t := range tris {
		if t.Area()*float64(up) < 0 {
			return nil, false
		}
	}
	open := make(map[[2]r2.Vec]int, len(tris))
	for _, t := range tris {
		for k := range 3 {
			a, b := t[k], t[(k+1)%3]
			if open[[2]r2.Vec{b, a}] > 0 {
				open[[2]r2.Vec{b, a}]--
			} else {
				open[[2]r2.Vec{a, b}]++
			}
		}
	}
	for _, t := range tris { // in order, so that the result is always the same
		for k := range 3 {
			e := [2]r2.Vec{t[k], t[(k+1)%3]}
			for ; open[e] > 0; open[e]-- {
				edges = append(edges, e)
			}
		}
	}
	return edges, true
}

// rasteriseOutline marks every cell that an outline touches or winds around.
func rasteriseOutline(edges [][2]r2.Vec, box planar.Box, cell float64) *mask {
	size := box.Size()
	m := newMask(int(size.X/cell)+1, int(size.Y/cell)+1)
	type crossing struct {
		x    float64
		turn int
	}
	rows := make([][]crossing, m.h) // where edges cross the middle of each row
	for _, e := range edges {
		a, b := r2.Sub(e[0], box.Min), r2.Sub(e[1], box.Min)
		t := planar.Triangle{a, b, b}
		y0 := max(0, int(min(a.Y, b.Y)/cell))
		y1 := min(m.h-1, int(max(a.Y, b.Y)/cell))
		for y := y0; y <= y1; y++ {
			lo, hi := span(t, float64(y)*cell, float64(y+1)*cell)
			if lo > hi {
				continue
			}
			m.setRun(y, max(0, int(math.Floor(lo/cell-1e-9))), min(m.w-1, int(hi/cell+1e-9)))
			if mid := (float64(y) + 0.5) * cell; (a.Y <= mid) != (b.Y <= mid) {
				c := crossing{a.X + (b.X-a.X)*(mid-a.Y)/(b.Y-a.Y), 1}
				if b.Y <= mid {
					c.turn = -1
				}
				rows[y] = append(rows[y], c)
			}
		}
	}
	for y, list := range rows {
		slices.SortFunc(list, func(p, q crossing) int {
			switch {
			case p.x < q.x:
				return -1
			case p.x > q.x:
				return 1
			}
			return 0
		})
		turns := 0
		for k, c := range list {
			turns += c.turn
			if turns != 0 && k+1 < len(list) {
				m.setRun(y, max(0, int(c.x/cell)), min(m.w-1, int(list[k+1].x/cell)))
			}
		}
	}
	return m
}
