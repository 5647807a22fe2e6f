package parts

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// leastInner is how many corners off the rim tell a ball.
const leastInner = 8

// cutBall reads facets as part of a sphere that something has cut: where the cut meets the
// edges of facets its corners lie on chords, inside the sphere by no more than these sag.
func (g *model) cutBall(set []int) (shape.Fit, bool) {
	rim := g.rimPoints(set)
	s := g.gather(set)
	s.Points = s.Points[:0]
	for _, i := range set {
		for _, p := range g.list[i].knots {
			if !rim[p] {
				s.Points = append(s.Points, g.mesh.Points[p])
			}
		}
	}
	if len(s.Points) < leastInner {
		return shape.Fit{}, false
	}
	f := shape.FitSphere(s)
	near := g.tol.near(f)
	if math.IsNaN(f.Radius) || f.Radius > g.diag || !(f.Error <= near/1.75) {
		return f, false
	}
	var off, area float64
	for _, i := range set {
		c := &g.list[i]
		area += c.area
		if f.Deviation(c.centre, c.normal) > c.leaning() {
			off += c.area
		}
		sag := f.Radius * (1 - math.Cos(0.55*c.bend))
		for _, p := range c.knots {
			d := r3.Norm(r3.Sub(g.mesh.Points[p], f.Origin)) - f.Radius
			if d > near || d < -near && !rim[p] || d < -near-sag {
				return f, false
			}
		}
	}
	return f, off <= 0.01*area
}

// rimPoints are the points at which facets end that have no smooth neighbour among them.
func (g *model) rimPoints(set []int) map[mesh.PointID]bool {
	own := map[mesh.FaceID]bool{}
	for _, i := range set {
		for _, f := range g.list[i].faces {
			own[f] = true
		}
	}
	rim := map[mesh.PointID]bool{}
	for f := range own {
		lo, hi := g.mesh.Corners(f)
		for h := lo; h < hi; h++ {
			if t := g.mesh.Twin(h); t == mesh.None || !own[g.mesh.FaceOf(t)] {
				rim[g.mesh.From(h)], rim[g.mesh.To(h)] = true, true
			}
		}
	}
	return rim
}
