package parts

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// A bead goes so many times as far round as it is wide, each of its loops about as far as the others, and is as
// wide everywhere, up to this share.
const (
	beadLong  = 6
	beadLoops = 1.13
	beadWide  = 0.05
)

// bead tells whether facets are an open section swept along a spine that closes on itself without a corner, whatever
// that goes round: a bead of a can, the rim of a tray. Its mesh is of rows, of quads or triangles, from one border to the other.
func (g *model) bead(set []int) (shape.Fit, bool) {
	none := shape.Fit{}
	p := mesh.NewPatch(g.mesh, g.faces(set), func(mesh.EdgeID) bool { return false })
	ends := p.Borders()
	if len(ends) != 2 || p.Euler() != 0 || slices.Max(slices.Concat(loopTurns(p, ends[0]), loopTurns(p, ends[1]))) > coarseBar.rail {
		return none, false
	}
	rows := layers(p, ends[0], ends[1])
	if len(rows) < 3 {
		return none, false
	}
	long := loopLength(p, ends[0])
	wide := p.Area() / long
	if other := loopLength(p, ends[1]); wide*beadLong > long || max(long/other, other/long) > beadLoops {
		return none, false
	}
	var spine []r3.Vec
	for _, row := range rows {
		next := inTurn(p, row)
		if len(next) != len(row)+1 {
			return none, false
		}
		if spine != nil {
			lo, hi := math.Inf(1), 0.0
			for _, q := range next {
				d := polylineDistance(q, spine)
				lo, hi = min(lo, d), max(hi, d)
			}
			if hi-lo > beadWide*wide {
				return none, false
			}
		}
		spine = next
	}
	return shape.Fit{Kind: shape.Swept, Origin: spine[0], Radius: wide / (2 * math.Pi), Spine: spine}, true
}

// inTurn returns the points of a row that closes on itself one after the other, the first again at the end; fewer
// where it does not.
func inTurn(p *mesh.Patch, row []int32) (out []r3.Vec) {
	next := make(map[int32][]int32, len(row))
	for _, v := range row {
		next[v] = nil
	}
	for c := range p.Corner {
		a, b := p.Ends(int32(c))
		_, from := next[a]
		if _, to := next[b]; from && to && !slices.Contains(next[a], b) {
			next[a], next[b] = append(next[a], b), append(next[b], a)
		}
	}
	at, before := row[0], int32(mesh.None)
	for range len(row) + 1 {
		if out = append(out, p.Pos[at]); len(next[at]) != 2 || at == row[0] && len(out) > 1 {
			break
		}
		on := next[at][0]
		if on == before {
			on = next[at][1]
		}
		at, before = on, at
	}
	return out
}
