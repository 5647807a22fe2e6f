package flow

import (
	"context"
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/unroll"
)

// IsGrid tells whether a patch is rows and columns of quads throughout, halves of quads
// put together.
func IsGrid(p *mesh.Patch) bool {
	_, ok := unroll.GridOf(p, unroll.Polygons(p))
	return ok
}

// gridMap returns the closed form of a patch that is rows and columns throughout, turned
// and moved in quarter turns to lie as the map does.
func gridMap(p *mesh.Patch, uv []r2.Vec) ([]r2.Vec, bool) {
	flat, ok := unroll.GridOf(p, unroll.Polygons(p))
	if !ok || flatten.Flips(p, flat) > 0 {
		return nil, false
	}
	var cos, sin float64
	a, b := centred(flat), centred(uv)
	for i := range a {
		cos += r2.Dot(a[i], b[i])
		sin += r2.Cross(a[i], b[i])
	}
	quarter := math.Round(math.Atan2(sin, cos) / (math.Pi / 2))
	s, c := math.Sincos(quarter * math.Pi / 2)
	s, c = math.Round(s), math.Round(c)
	o := r2.Sub(uv[0], b[0]) // the middle of the map
	for i, q := range a {
		a[i] = r2.Add(o, r2.Vec{X: c*q.X - s*q.Y, Y: s*q.X + c*q.Y})
	}
	return a, true
}

func centred(uv []r2.Vec) []r2.Vec {
	var c r2.Vec
	for _, q := range uv {
		c = r2.Add(c, r2.Scale(1/float64(len(uv)), q))
	}
	out := make([]r2.Vec, len(uv))
	for i, q := range uv {
		out[i] = r2.Sub(q, c)
	}
	return out
}

// trueGrid keeps every row and column of a grid and lets their spacing relax. It returns
// the stretch of each triangle too, and no grid where pins hold its points apart.
func trueGrid(ctx context.Context, p *mesh.Patch, uv, flat []r2.Vec, all []Line, s TrueSettings, before Stretch, free []float64) (Trued, []float64, error) {
	t := Trued{Grid: true, Before: before}
	for _, l := range all {
		a, b := flat[l.Verts[0]], flat[l.Verts[len(l.Verts)/2]]
		along := math.Abs(b.X-a.X) > math.Abs(b.Y-a.Y)
		if s.Only == flatten.OnlyU && !along || s.Only == flatten.OnlyV && along {
			continue
		}
		t.Lines = append(t.Lines, TrueLine{Verts: l.Verts, AlongU: along, Bent: bent(uv, l.Verts, along)})
	}
	if t.yieldToPins(s.Pins, uv) {
		return Trued{Why: "its pins hold points of one row or column apart"}, nil, nil
	}
	r, err := flatten.Improve(ctx, p, flat, flatten.Settings{Method: flatten.ByLength, Keep: t.keep(s), MaxIterations: s.Rounds, Progress: s.Progress})
	if err != nil {
		return t, nil, err
	}
	t.UV = r.UV
	return t, t.measure(p, free), nil
}
