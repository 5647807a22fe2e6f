package seam

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// Coaxial tells whether two walls turn about the same axis, to half a degree and a
// thousandth of the model.
func Coaxial(m *mesh.Mesh, a, b shape.Fit) bool {
	const cos = 0.99996
	if !turns(a) || !turns(b) || math.Abs(r3.Dot(a.Axis, b.Axis)) < cos {
		return false
	}
	d := r3.Sub(b.Origin, a.Origin)
	return r3.Norm(r3.Sub(d, r3.Scale(r3.Dot(d, a.Axis), a.Axis))) < 1e-3*m.Diagonal()
}

// turns tells whether a shape goes round an axis.
func turns(f shape.Fit) bool {
	return f.Kind.Traits().Axis == shape.Turns
}

// Bearing is the mean direction, as a unit vector, in which a chain of edges lies
// as seen from an axis; zero if it goes round evenly.
func Bearing(m *mesh.Mesh, chain []mesh.EdgeID, fit shape.Fit) r3.Vec {
	var sum r3.Vec
	for _, e := range chain {
		sum = r3.Add(sum, r3.Scale(m.EdgeLength(e), away(m, e, fit)))
	}
	if r3.Norm(sum) < 1e-9*m.Length(chain) {
		return r3.Vec{}
	}
	return mesh.Unit(sum)
}

// InLine makes edges dearer the further they lie, going round, from the bearing of
// the neighbour's opening: a quarter turn costs two and a half times as much, so
// openings line up unless that shows a lot more.
func InLine(m *mesh.Mesh, fit shape.Fit, cost Cost, bearing r3.Vec) Cost {
	if bearing == (r3.Vec{}) {
		return cost
	}
	return func(e mesh.EdgeID) float64 {
		return cost(e) * (1 + mesh.Angle(away(m, e, fit), bearing))
	}
}

// away is the unit direction from the axis to the middle of an edge.
func away(m *mesh.Mesh, e mesh.EdgeID, fit shape.Fit) r3.Vec {
	h := m.EdgeHalf(e)
	d := r3.Sub(r3.Scale(0.5, r3.Add(m.Points[m.From(h)], m.Points[m.To(h)])), fit.Origin)
	d = r3.Sub(d, r3.Scale(r3.Dot(d, fit.Axis), fit.Axis))
	if n := r3.Norm(d); n > 0 {
		return r3.Scale(1/n, d)
	}
	return r3.Vec{}
}

// Sparing forbids cutting some edges.
func Sparing(cost Cost, spared func(mesh.EdgeID) bool) Cost {
	return func(e mesh.EdgeID) float64 {
		if spared(e) {
			return math.Inf(1)
		}
		return cost(e)
	}
}
