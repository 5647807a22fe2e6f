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
