package flatten

import (
	"context"
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/sparse"
)

// Tutte maps a disk into a circle: border by arc length, inside by positive weights
// (Tutte 1963; Floater 1997). It is injective whatever the surface is.
func Tutte(ctx context.Context, p *mesh.Patch) ([]r2.Vec, error) {
	loops := p.Borders()
	if len(loops) == 0 {
		return nil, ErrNotDisk
	}
	loop := loops[0]
	lengths := make([]float64, len(loop))
	var total float64
	for i, c := range loop {
		a, b := p.Ends(c)
		lengths[i] = r3.Norm(r3.Sub(p.Pos[b], p.Pos[a]))
		total += lengths[i]
	}
	least := total / float64(len(loop)) * 1e-3
	total = 0
	for i := range lengths {
		lengths[i] = max(lengths[i], least)
		total += lengths[i]
	}
	keep := Constraints{}
	var run float64
	for i, c := range loop {
		s, co := math.Sincos(2 * math.Pi * run / total)
		keep.Pins = append(keep.Pins, Pin{p.CornerVert[c], r2.Vec{X: co, Y: s}})
		run += lengths[i]
	}
	uv, err := harmonic(ctx, p, &keep)
	if err != nil {
		return nil, err
	}
	TrueScale(p, uv)
	return uv, nil
}

// harmonic lays each free vertex at the mean of its neighbours, the nearer the heavier.
func harmonic(ctx context.Context, p *mesh.Patch, keep *Constraints) ([]r2.Vec, error) {
	r, err := keep.reduce(make([]r2.Vec, len(p.Pos)))
	if err != nil {
		return nil, err
	}
	scale := math.Sqrt(p.Area()/float64(len(p.Tris))) * 1e-3
	uv := make([]r2.Vec, len(p.Pos))
	var x [2][]float64
	for axis := range 2 {
		if r[axis].free == 0 {
			continue
		}
		s := newSystem(&r[axis], 9*len(p.Tris))
		for _, t := range p.Tris {
			for k := range 3 {
				i, j := int(t[k]), int(t[(k+1)%3])
				w := 0.5 / max(r3.Norm(r3.Sub(p.Pos[i], p.Pos[j])), scale)
				s.add(i, i, w)
				s.add(j, j, w)
				s.add(i, j, -w)
			}
		}
		if x[axis], err = sparse.Solve(ctx, s.b.Build(), s.known); err != nil {
			return nil, err
		}
	}
	for v := range uv {
		uv[v] = r2.Vec{X: r[0].at(x[0], v), Y: r[1].at(x[1], v)}
	}
	return uv, nil
}

// Between stretches a patch between its pins: each other vertex lies amid its
// neighbours. Where the pins are a convex border nothing turns over.
func Between(ctx context.Context, p *mesh.Patch, keep Constraints) ([]r2.Vec, error) {
	if len(keep.Pins) == 0 {
		return nil, ErrNotDisk
	}
	return harmonic(ctx, p, &keep)
}
