package shape_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// rows are points of a turned profile about an axis, some of it left out, each off by noise.
func rows(p pose, noise float64, profile ...[2]float64) (out [][]r3.Vec) {
	r := rand.New(rand.NewPCG(3, 4))
	off := func() float64 { return noise * r.NormFloat64() }
	for _, q := range profile {
		var row []r3.Vec
		for k := range 20 {
			a := 2 * math.Pi * float64(k) / 36
			row = append(row, p.point(r3.Vec{X: q[0]*math.Cos(a) + off(), Y: q[1] + off(), Z: q[0]*math.Sin(a) + off()}))
		}
		out = append(out, row)
	}
	return out
}

// An axis that is off by a little is found again from the rows about it, as exactly as they lie.
func TestAxisIsCentredOnRows(t *testing.T) {
	for _, noise := range []float64{0, 1e-6} {
		for _, p := range poses {
			axis, origin := p.dir(r3.Vec{Y: 1}), p.point(r3.Vec{Y: 0.3})
			u, v := mesh.Basis(axis)
			list := rows(p, noise, [2]float64{2, 0}, [2]float64{2.5, 0.1}, [2]float64{1, 0.4})
			got, at := shape.Centred(list, mesh.Unit(r3.Add(axis, r3.Add(r3.Scale(2e-5, u), r3.Scale(-1e-5, v)))), r3.Add(origin, r3.Scale(3e-5*p.scale, v)))
			most := 3*noise + 1e-8
			if a := mesh.Angle(got, axis); a > most {
				t.Errorf("noise %g, scale %g: the axis is off by %g", noise, p.scale, a)
			}
			if d := offAxis(at, origin, axis); d > most*p.scale {
				t.Errorf("noise %g, scale %g: it lies %g beside", noise, p.scale, d/p.scale)
			}
		}
	}
}

// Rows that lie in one another's way, all on one point of the axis, say nothing: the axis stays.
func TestAxisStaysWhereRowsSayNothing(t *testing.T) {
	axis, origin := r3.Vec{Y: 1}, r3.Vec{X: 3}
	for _, list := range [][][]r3.Vec{nil, {{{X: 3, Y: 1}}}, {{{X: 3}, {X: 3}}}} {
		if a, o := shape.Centred(list, axis, origin); a != axis || o != origin {
			t.Errorf("%v moved to %v at %v", list, a, o)
		}
	}
}
