package parts

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/ids"
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
	areas := m.FaceAreas()
	order := ids.All[mesh.FaceID](m.NumFaces()) // large ones first: where they have no image, nothing more needs to be looked at
	slices.SortStableFunc(order, func(a, b mesh.FaceID) int { return cmp.Compare(areas[b], areas[a]) })
	lo, hi := m.Bounds()
	// A knob on one side moves the centre of area off the plane, seldom the others.
	for _, o := range []r3.Vec{centre, {}, r3.Scale(0.5, r3.Add(lo, hi))} {
		for _, n := range normals {
			if s := at.mirrored(m, order, area, Mirror{Normal: n, Origin: o}, max(best.Share+1e-9, 0.9)); s > best.Share+1e-9 {
				best = Mirror{n, o, s}
			}
		}
	}
	return best, best.Share >= 0.9
}

// places finds points by where they are.
type places struct {
	within float64
	first  map[[3]int32]mesh.PointID // in a cell
	next   []mesh.PointID            // in the cell of each
}

func newPlaces(m *mesh.Mesh, within float64) *places {
	p := &places{within, make(map[[3]int32]mesh.PointID, m.NumPoints()), make([]mesh.PointID, m.NumPoints())}
	for i := len(m.Points) - 1; i >= 0; i-- { // the lowest first
		k := p.key(m.Points[i])
		p.next[i] = mesh.None
		if q, ok := p.first[k]; ok {
			p.next[i] = q
		}
		p.first[k] = mesh.PointID(i)
	}
	return p
}

// key is the cell of a place: twice as wide as near is, so that what is near lies in two along each axis at most.
func (p *places) key(v r3.Vec) [3]int32 {
	w := 2 * p.within
	return [3]int32{int32(math.Floor(v.X / w)), int32(math.Floor(v.Y / w)), int32(math.Floor(v.Z / w))}
}

// near calls found with the points about a place until it returns true, and tells whether it did.
func (p *places) near(v r3.Vec, found func(mesh.PointID) bool) bool {
	by := r3.Vec{X: p.within, Y: p.within, Z: p.within}
	lo, hi := p.key(r3.Sub(v, by)), p.key(r3.Add(v, by))
	for x := lo[0]; x <= hi[0]; x++ {
		for y := lo[1]; y <= hi[1]; y++ {
			for z := lo[2]; z <= hi[2]; z++ {
				q, ok := p.first[[3]int32{x, y, z}]
				for ; ok && q != mesh.None; q = p.next[q] {
					if found(q) {
						return true
					}
				}
			}
		}
	}
	return false
}

func (p *places) has(m *mesh.Mesh, v r3.Vec) bool {
	return p.near(v, func(q mesh.PointID) bool { return r3.Norm(r3.Sub(m.Points[q], v)) <= p.within })
}

// mirrored returns the share of the area whose corners all have an image, looking at faces in some order; less
// than least, it may be less than that.
func (p *places) mirrored(m *mesh.Mesh, order []mesh.FaceID, all float64, plane Mirror, least float64) float64 {
	known := make([]int8, m.NumPoints())
	areas := m.FaceAreas()
	var hit, missed float64
	for _, f := range order {
		whole := true
		for _, q := range m.FacePoints(f) {
			if known[q] == 0 {
				known[q] = -1
				if p.has(m, plane.Of(m.Points[q])) {
					known[q] = 1
				}
			}
			if known[q] < 0 {
				whole = false
				break
			}
		}
		if whole {
			hit += areas[f]
		} else if missed += areas[f]; (all-missed)/all < least {
			break
		}
	}
	return hit / all
}
