package unroll

import (
	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// Grid lays a patch of quads that are rows and columns throughout as a grid: each row
// as high and each column as wide as its edges are long on the mean. ok is false for
// anything else.
func Grid(p *mesh.Patch) (uv []r2.Vec, ok bool) {
	return GridOf(p, quadsOf(p))
}

// quadsOf returns the vertices of each face of a patch.
func quadsOf(p *mesh.Patch) [][]int32 {
	quads := make([][]int32, len(p.Faces))
	for f := range quads {
		quads[f] = p.CornerVert[p.FaceStart[f]:p.FaceStart[f+1]]
	}
	return quads
}

// GridOf does so for polygons that cover a patch, given by their vertices.
func GridOf(p *mesh.Patch, quads [][]int32) (uv []r2.Vec, ok bool) {
	return gridBy(p, quads, func(float64) float64 { return 1 })
}

// gridBy does so with means that are weighted by how wide a polygon is across the side that is measured.
func gridBy(p *mesh.Patch, quads [][]int32, weigh func(across float64) float64) (uv []r2.Vec, ok bool) {
	type side struct{ a, b int32 }
	type place struct{ i, j int32 }
	beside := make(map[side][2]int, 4*len(quads)) // polygon and side, by direction
	for f, q := range quads {
		if len(q) != 4 {
			return nil, false
		}
		for k := range q {
			beside[side{q[k], q[(k+1)%4]}] = [2]int{f, k}
		}
	}
	// Columns and rows count on from quad to quad: a first side runs along U.
	at := make([]place, len(p.Pos))
	known := make([]bool, len(p.Pos))
	turn := make([]int, len(quads)) // side of each quad that runs along +U
	seen := make([]bool, len(quads))
	steps := [4]place{{1, 0}, {0, 1}, {-1, 0}, {0, -1}}
	queue := []int{0}
	seen[0] = true
	known[quads[0][0]] = true
	for len(queue) > 0 {
		f := queue[0]
		queue = queue[1:]
		start := 0
		for !known[quads[f][start]] {
			start++
		}
		for n := range 4 {
			k := (start + n) % 4
			a, b := quads[f][k], quads[f][(k+1)%4]
			s := steps[(k-turn[f]+4)%4]
			next := place{at[a].i + s.i, at[a].j + s.j}
			if known[b] && at[b] != next {
				return nil, false
			}
			at[b], known[b] = next, true
			o, ok := beside[side{b, a}]
			if !ok || seen[o[0]] {
				continue
			}
			// The neighbour walks this side the other way round.
			seen[o[0]] = true
			turn[o[0]] = (o[1] - (k-turn[f]+6)%4 + 8) % 4
			queue = append(queue, o[0])
		}
	}
	var lo, hi place
	taken := map[place]bool{}
	for v := range at {
		if taken[at[v]] {
			return nil, false // it comes round to itself
		}
		taken[at[v]] = true
		lo = place{min(lo.i, at[v].i), min(lo.j, at[v].j)}
		hi = place{max(hi.i, at[v].i), max(hi.j, at[v].j)}
	}
	wide, high := make([]float64, hi.i-lo.i), make([]float64, hi.j-lo.j)
	ws, hs := make([]float64, len(wide)), make([]float64, len(high))
	for _, q := range quads {
		var long [4]float64
		for k, a := range q {
			long[k] = r3.Norm(r3.Sub(p.Pos[q[(k+1)%4]], p.Pos[a]))
		}
		for side, a := range q {
			b := q[(side+1)%4]
			w := weigh((long[(side+1)%4] + long[(side+3)%4]) / 2)
			if at[a].j == at[b].j {
				k := min(at[a].i, at[b].i) - lo.i
				wide[k] += w * long[side]
				ws[k] += w
			} else {
				k := min(at[a].j, at[b].j) - lo.j
				high[k] += w * long[side]
				hs[k] += w
			}
		}
	}
	us, vs := running(wide, ws), running(high, hs)
	uv = make([]r2.Vec, len(p.Pos))
	for v := range uv {
		uv[v] = r2.Vec{X: us[at[v].i-lo.i], Y: vs[at[v].j-lo.j]}
	}
	return uv, true
}

// running adds up the means of weighted sums.
func running(sums, weights []float64) []float64 {
	out := make([]float64, len(sums)+1)
	for i := range sums {
		out[i+1] = out[i] + sums[i]/max(weights[i], 1e-300)
	}
	return out
}
