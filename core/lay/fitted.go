package lay

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/parts"
	"morvek/core/seam"
	"morvek/core/shape"
	"morvek/core/unroll"
)

// Fitted returns the projection of a kind that suits faces: the one their part has, or
// one with the frame of the shape that was recognised there, its opening where they are
// open now, and the texel density of the document.
func Fitted(d *document.Document, faces []mesh.FaceID, kind unroll.Kind) unroll.Projection {
	return fitted(d, faces, kind, func() []shape.Fit { return parts.Alternatives(d.Mesh, faces) })
}

func fitted(d *document.Document, faces []mesh.FaceID, kind unroll.Kind, others func() []shape.Fit) unroll.Projection {
	m, s := d.Mesh, d.State
	up := s.Settings.Up.Vec()
	size := 1 / d.Density()
	pr := unroll.Projection{Kind: kind, Axis: up, Up: up, Origin: middle(m, faces), Width: size, Height: size}
	if len(faces) == 0 {
		return pr
	}
	part := s.PartOf(faces[0])
	fit := s.Fit(part)
	if part >= 0 && s.Parts[part].Projection != nil && s.Parts[part].Projection.Kind == kind {
		return *s.Parts[part].Projection
	}
	switch kind {
	case unroll.Flat:
		plane := shape.FitPlane(shape.Gather(m, faces))
		if pr.Axis = plane.Axis; r3.Dot(pr.Axis, frontOf(m, faces, pr.Axis)) < 0 {
			pr.Axis = r3.Scale(-1, pr.Axis)
		}
		if r3.Norm(pr.Axis) < 0.5 {
			pr.Axis = up
		}
		return pr
	case unroll.Boxed:
		if fit.Kind == shape.Box {
			pr.Axis = fit.Axis
		}
		return pr
	case unroll.Spherical:
		if fit.Kind == shape.Sphere {
			pr.Origin = fit.Origin
		} else if i := slices.IndexFunc(others(), func(f shape.Fit) bool { return f.Kind == shape.Sphere }); i >= 0 {
			pr.Origin = others()[i].Origin
		}
	case unroll.Strips, unroll.Unfolded:
		return pr
	default:
		if !hasAxis(fit) {
			if i := slices.IndexFunc(others(), hasAxis); i >= 0 {
				fit = others()[i]
			}
		}
		if hasAxis(fit) {
			pr.Axis, pr.Pitch = fit.Axis, fit.Pitch
			along := r3.Dot(r3.Sub(pr.Origin, fit.Origin), fit.Axis)
			if fit.Kind == shape.Extruded { // goes around the middle of its faces
				break
			}
			pr.Origin = r3.Add(fit.Origin, r3.Scale(along, fit.Axis))
		}
	}
	if chain := s.Map.CutsWithin(faces); len(chain) > 0 {
		bearing := seam.Bearing(m, chain, shape.Fit{Kind: shape.Cylinder, Axis: pr.Axis, Origin: pr.Origin})
		if r3.Norm(bearing) > 0 {
			pr.TurnDeg = math.Round(pr.Bearing(r3.Add(pr.Origin, bearing))*100) / 100
		}
	}
	var out float64 // whether the faces look away from the axis
	for _, f := range faces {
		out += m.FaceAreas()[f] * r3.Dot(m.FaceNormals()[f], pr.Outward(m.FaceCentre(f)))
	}
	pr.Flip = out < 0
	return pr
}

func hasAxis(f shape.Fit) bool {
	return f.Kind.Traits().Axis.Around()
}

func middle(m *mesh.Mesh, faces []mesh.FaceID) r3.Vec {
	lo, hi := r3.Vec{X: math.Inf(1), Y: math.Inf(1), Z: math.Inf(1)}, r3.Vec{X: math.Inf(-1), Y: math.Inf(-1), Z: math.Inf(-1)}
	for _, f := range faces {
		for _, p := range m.FacePoints(f) {
			q := m.Points[p]
			lo = r3.Vec{X: min(lo.X, q.X), Y: min(lo.Y, q.Y), Z: min(lo.Z, q.Z)}
			hi = r3.Vec{X: max(hi.X, q.X), Y: max(hi.Y, q.Y), Z: max(hi.Z, q.Z)}
		}
	}
	if len(faces) == 0 {
		return r3.Vec{}
	}
	return r3.Scale(0.5, r3.Add(lo, hi))
}
