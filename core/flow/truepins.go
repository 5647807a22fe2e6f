package flow

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/flatten"
)

// yieldToPins releases the lines that pins hold apart: where lines that meet, and so share
// a coordinate, have pins at different ones, those that pins lie on give way. It tells
// whether any did.
func (t *Trued) yieldToPins(pins []flatten.Pin, uv []r2.Vec) (yielded bool) {
	if len(pins) < 2 {
		return false
	}
	pinned := make(map[int32]r2.Vec, len(pins))
	var size float64
	for _, q := range uv {
		size = max(size, math.Abs(q.X), math.Abs(q.Y))
	}
	for _, p := range pins {
		pinned[p.Vertex] = p.At
		size = max(size, math.Abs(p.At.X), math.Abs(p.At.Y))
	}
	for _, alongU := range []bool{true, false} {
		at := func(v int32) float64 {
			if alongU {
				return pinned[v].Y
			}
			return pinned[v].X
		}
		root := map[int32]int32{}
		var find func(v int32) int32
		find = func(v int32) int32 {
			if r, ok := root[v]; ok && r != v {
				root[v] = find(r)
				return root[v]
			}
			return v
		}
		for _, l := range t.Lines {
			if l.AlongU != alongU || l.Released {
				continue
			}
			for _, v := range l.Verts {
				if a, b := find(l.Verts[0]), find(v); a != b {
					root[max(a, b)] = min(a, b)
				}
			}
		}
		lo, hi := map[int32]float64{}, map[int32]float64{}
		for v := range pinned {
			k := find(v)
			if _, ok := lo[k]; !ok {
				lo[k], hi[k] = at(v), at(v)
			}
			lo[k], hi[k] = min(lo[k], at(v)), max(hi[k], at(v))
		}
		for i := range t.Lines {
			l := &t.Lines[i]
			if l.AlongU != alongU || l.Released {
				continue
			}
			for _, v := range l.Verts {
				if _, ok := pinned[v]; ok && hi[find(v)]-lo[find(v)] > 1e-9*size {
					l.Released, yielded = true, true
					break
				}
			}
		}
	}
	return yielded
}
