package seam

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// AlongBends changes a cost so that cuts keep to one side of bends: 1 the outside,
// 0 the flank, -1 the inside. A bent tube opened on the outside or the flank lies
// flatter than one opened on the inside, because its rims may spread. It knows
// tori and swept parts; others keep their cost.
func AlongBends(m *mesh.Mesh, fit shape.Fit, cost Cost, want float64) Cost {
	side := bendSide(fit)
	return func(e mesh.EdgeID) float64 {
		h := m.EdgeHalf(e)
		off := math.Abs(side(m.Points[m.From(h)])-want) + math.Abs(side(m.Points[m.To(h)])-want)
		return cost(e) * (1 + 15*off)
	}
}

// bendSide returns for a point where it lies on a bend: 1 on the outside, -1 on
// the inside, 1 also where nothing bends.
func bendSide(fit shape.Fit) func(r3.Vec) float64 {
	switch {
	case fit.Kind.Traits().Axis == shape.Ring:
		return func(p r3.Vec) float64 {
			d := r3.Sub(p, fit.Origin)
			t := r3.Dot(d, fit.Axis)
			rho := math.Sqrt(max(0, r3.Norm2(d)-t*t)) - fit.Major
			return rho / max(math.Hypot(rho, t), 1e-300)
		}
	case len(fit.Spine) >= 3:
		turn := spineTurns(fit.Spine)
		return func(p r3.Vec) float64 {
			i := fit.NearestOn(p)
			out := r3.Sub(p, fit.Spine[i])
			if l := r3.Norm(out); l > 0 && turn[i] != (r3.Vec{}) {
				return -r3.Dot(out, turn[i]) / l
			}
			return 1
		}
	}
	return func(r3.Vec) float64 { return 1 }
}

// spineTurns returns at each point of a spine the direction towards the inside of
// its bend; straight runs take that of the nearest bend.
func spineTurns(spine []r3.Vec) []r3.Vec {
	turn := make([]r3.Vec, len(spine))
	known := make([]int, 0, len(spine))
	for i := 1; i+1 < len(turn); i++ {
		in, out := mesh.Unit(r3.Sub(spine[i], spine[i-1])), mesh.Unit(r3.Sub(spine[i+1], spine[i]))
		if d := r3.Sub(out, in); r3.Norm(d) > 0.02 {
			turn[i] = mesh.Unit(d)
			known = append(known, i)
		}
	}
	for i := range turn {
		if turn[i] != (r3.Vec{}) {
			continue
		}
		best := -1
		for _, k := range known {
			if best < 0 || max(k-i, i-k) < max(best-i, i-best) {
				best = k
			}
		}
		if best >= 0 {
			turn[i] = turn[best]
		}
	}
	return turn
}
