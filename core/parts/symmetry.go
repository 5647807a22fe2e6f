package parts

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// Mirror is a plane in which a mesh is its own image.
type Mirror struct {
	Normal, Origin r3.Vec
	Share          float64 // of the area whose corners have an image
}

// imageWithin is how far from the place of its image a point may lie, as a share of the diagonal.
const imageWithin = 2e-4

// Of is the image of a place.
func (p Mirror) Of(v r3.Vec) r3.Vec {
	return r3.Sub(v, r3.Scale(2*r3.Dot(r3.Sub(v, p.Origin), p.Normal), p.Normal))
}

// Turned is the image of a direction.
func (p Mirror) Turned(v r3.Vec) r3.Vec { return r3.Sub(v, r3.Scale(2*r3.Dot(v, p.Normal), p.Normal)) }

// FindMirror returns the plane of mirror symmetry of a mesh: candidates across
// the axes of inertia of its surface and the axes of the model, through its centre
// of area, its origin and the middle of its box, confirmed point by point. ok is false if less than nine tenths of the surface have an image.
func FindMirror(m *mesh.Mesh) (best Mirror, ok bool) {
	var centre r3.Vec
	var area float64
	for f, a := range m.FaceAreas() {
		centre = r3.Add(centre, r3.Scale(a, m.FaceCentre(mesh.FaceID(f))))
		area += a
	}
	if area == 0 {
		return best, false
	}
	centre = r3.Scale(1/area, centre)
	in := mat.NewSymDense(3, nil)
	for f, a := range m.FaceAreas() {
		d := r3.Sub(m.FaceCentre(mesh.FaceID(f)), centre)
		v := [3]float64{d.X, d.Y, d.Z}
		for i := range 3 {
			for j := i; j < 3; j++ {
				in.SetSym(i, j, in.At(i, j)+a*v[i]*v[j])
			}
		}
	}
	normals := []r3.Vec{{X: 1}, {Z: 1}, {Y: 1}}
	var e mat.EigenSym
	if e.Factorize(in, true) {
		var v mat.Dense
		e.VectorsTo(&v)
		for k := range 3 {
			normals = append(normals, r3.Vec{X: v.At(0, k), Y: v.At(1, k), Z: v.At(2, k)})
		}
	}
	at := newPlaces(m, imageWithin*m.Diagonal())
	lo, hi := m.Bounds()
	// A knob on one side moves the centre of area off the plane, seldom the others.
	for _, o := range []r3.Vec{centre, {}, r3.Scale(0.5, r3.Add(lo, hi))} {
		for _, n := range normals {
			if s := at.mirrored(m, Mirror{Normal: n, Origin: o}); s > best.Share+1e-9 {
				best = Mirror{n, o, s}
			}
		}
	}
	return best, best.Share >= 0.9
}

// places finds points by where they are.
type places struct {
	cell float64
	at   map[[3]int32][]mesh.PointID
}

func newPlaces(m *mesh.Mesh, cell float64) *places {
	p := &places{cell, make(map[[3]int32][]mesh.PointID, m.NumPoints())}
	for i, v := range m.Points {
		k := p.key(v)
		p.at[k] = append(p.at[k], mesh.PointID(i))
	}
	return p
}

func (p *places) key(v r3.Vec) [3]int32 {
	return [3]int32{int32(math.Floor(v.X / p.cell)), int32(math.Floor(v.Y / p.cell)), int32(math.Floor(v.Z / p.cell))}
}

// near calls found with the points about a place until it returns true, and tells whether it did.
func (p *places) near(v r3.Vec, found func(mesh.PointID) bool) bool {
	k := p.key(v)
	for dx := int32(-1); dx <= 1; dx++ {
		for dy := int32(-1); dy <= 1; dy++ {
			for dz := int32(-1); dz <= 1; dz++ {
				if slices.ContainsFunc(p.at[[3]int32{k[0] + dx, k[1] + dy, k[2] + dz}], found) {
					return true
				}
			}
		}
	}
	return false
}

func (p *places) has(m *mesh.Mesh, v r3.Vec) bool {
	return p.near(v, func(q mesh.PointID) bool { return r3.Norm(r3.Sub(m.Points[q], v)) <= p.cell })
}

// mirrored returns the share of the area whose corners all have an image.
func (p *places) mirrored(m *mesh.Mesh, plane Mirror) float64 {
	known := make([]int8, m.NumPoints())
	var hit, all float64
	for f, a := range m.FaceAreas() {
		whole := true
		for _, q := range m.FacePoints(mesh.FaceID(f)) {
			if known[q] == 0 {
				known[q] = -1
				if p.has(m, plane.Of(m.Points[q])) {
					known[q] = 1
				}
			}
			whole = whole && known[q] > 0
		}
		all += a
		if whole {
			hit += a
		}
	}
	return hit / all
}
