package unroll

import (
	"context"
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flatten"
	"morvek/core/mesh"
)

// free lays a patch without an axis: rows and columns straight where strips are asked
// for and the faces are a grid of quads, else unfolded and relaxed; set upright.
func (f *frame) free(ctx context.Context, p *mesh.Patch, strips bool) ([]r2.Vec, error) {
	if strips {
		if uv, ok := Grid(p); ok && flatten.Flips(p, uv) == 0 {
			return f.upright(p, uv), nil
		}
	}
	uv, gap := Unfold(p)
	if gap > closed*math.Sqrt(p.Area()) {
		r, err := relaxed(ctx, p, uv, gap <= repairable*math.Sqrt(p.Area()), flatten.Settings{})
		if err != nil {
			return nil, err
		}
		uv = r.UV
		flatten.TrueScale(p, uv)
	}
	return f.upright(p, uv), nil
}

// upright turns a map so that what rises along the axis on the surface rises on the
// sheet, and puts its middle where that of the patch is.
func (f *frame) upright(p *mesh.Patch, uv []r2.Vec) []r2.Vec {
	d, ok := p.Differentials(uv)
	var way, middle r2.Vec
	var height, area float64
	for t, tri := range p.Tris {
		if !ok[t] {
			continue
		}
		a, b, c := p.Pos[tri[0]], p.Pos[tri[1]], p.Pos[tri[2]]
		w := mesh.TriangleArea(a, b, c)
		n := mesh.Unit(r3.Cross(r3.Sub(b, a), r3.Sub(c, a)))
		rise := r3.Sub(f.axis, r3.Scale(r3.Dot(f.axis, n), n))
		way = r2.Add(way, r2.Scale(w, d[t].Push(rise)))
		area += w
		height += w / 3 * (f.height(a) + f.height(b) + f.height(c))
		middle = r2.Add(middle, r2.Scale(w/3, r2.Add(uv[tri[0]], r2.Add(uv[tri[1]], uv[tri[2]]))))
	}
	if area == 0 {
		return uv
	}
	l := r2.Norm(way)
	cos, sin := 1.0, 0.0
	if l > 1e-3*area {
		cos, sin = way.Y/l, way.X/l // brings way onto V
	}
	middle = r2.Scale(1/area, middle)
	for i, q := range uv {
		q = r2.Sub(q, middle)
		uv[i] = r2.Vec{X: cos*q.X - sin*q.Y, Y: sin*q.X + cos*q.Y + height/area}
	}
	return uv
}

// Grid lays a patch of quads that are rows and columns throughout as a grid: each row
// as high and each column as wide as its edges are long on the mean. ok is false for
// anything else.
func Grid(p *mesh.Patch) (uv []r2.Vec, ok bool) {
	quads := make([][]int32, len(p.Faces))
	for f := range quads {
		quads[f] = p.CornerVert[p.FaceStart[f]:p.FaceStart[f+1]]
	}
	return GridOf(p, quads)
}

// GridOf does so for polygons that cover a patch, given by their vertices.
func GridOf(p *mesh.Patch, quads [][]int32) (uv []r2.Vec, ok bool) {
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
		for k, a := range q {
			b := q[(k+1)%4]
			l := r3.Norm(r3.Sub(p.Pos[b], p.Pos[a]))
			if at[a].j == at[b].j {
				k := min(at[a].i, at[b].i) - lo.i
				wide[k] += l
				ws[k]++
			} else {
				k := min(at[a].j, at[b].j) - lo.j
				high[k] += l
				hs[k]++
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

// running adds up the means of sums.
func running(sums, counts []float64) []float64 {
	out := make([]float64, len(sums)+1)
	for i := range sums {
		out[i+1] = out[i] + sums[i]/max(counts[i], 1)
	}
	return out
}
