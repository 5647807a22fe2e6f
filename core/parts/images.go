package parts

import (
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// Images tells which faces and edges of a mesh are each other's image in a plane; what lies across it may
// be its own.
type Images struct {
	Face []mesh.FaceID // None where there is no image
	Edge []mesh.EdgeID // likewise
}

// Images finds them by the points they stand on: an image lies within the tolerance of FindMirror.
func (p Mirror) Images(m *mesh.Mesh) Images {
	at := newPlaces(m, imageWithin*m.Diagonal())
	point := make([]mesh.PointID, m.NumPoints())
	for i, v := range m.Points {
		point[i] = at.nearest(m, p.Of(v))
	}
	out := Images{make([]mesh.FaceID, m.NumFaces()), make([]mesh.EdgeID, m.NumEdges())}
	edges := make(map[[2]mesh.PointID]mesh.EdgeID, m.NumEdges())
	ends := func(e mesh.EdgeID) (mesh.PointID, mesh.PointID) {
		h := m.EdgeHalf(e)
		return m.From(h), m.From(m.Next(h))
	}
	for e := range mesh.EdgeID(m.NumEdges()) {
		a, b := ends(e)
		edges[[2]mesh.PointID{min(a, b), max(a, b)}] = e
	}
	for e := range out.Edge {
		a, b := ends(mesh.EdgeID(e))
		out.Edge[e] = mesh.None
		if a, b = point[a], point[b]; a == mesh.None || b == mesh.None {
			continue
		}
		if g, ok := edges[[2]mesh.PointID{min(a, b), max(a, b)}]; ok {
			out.Edge[e] = g
		}
	}
	onto := func(f, g mesh.FaceID) bool { // whether g stands on the images of the points of f
		a, b := slices.Clone(m.FacePoints(f)), slices.Clone(m.FacePoints(g))
		for i, q := range a {
			a[i] = point[q]
		}
		slices.Sort(a)
		slices.Sort(b)
		return slices.Equal(a, b)
	}
	for f := range out.Face {
		lo, _ := m.Corners(mesh.FaceID(f))
		out.Face[f] = mesh.None
		e := out.Edge[m.Edge(lo)]
		if e == mesh.None {
			continue
		}
		a, b := m.EdgeFaces(e)
		for _, g := range []mesh.FaceID{a, b} {
			if g != mesh.None && onto(mesh.FaceID(f), g) {
				out.Face[f] = g
			}
		}
	}
	return out
}

// nearest is the point nearest to a place, None where none is within a cell.
func (p *places) nearest(m *mesh.Mesh, v r3.Vec) mesh.PointID {
	best, far := mesh.PointID(mesh.None), p.within
	p.near(v, func(q mesh.PointID) bool {
		if d := r3.Norm(r3.Sub(m.Points[q], v)); d <= far {
			best, far = q, d
		}
		return false
	})
	return best
}
