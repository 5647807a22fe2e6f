package mesh

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"
)

// FaceNormals returns a unit normal per face by Newell's method, zero for
// faces without area. The slice is shared and must not be changed.
func (m *Mesh) FaceNormals() []r3.Vec {
	m.measureFaces()
	return m.normals
}

// FaceAreas returns the area of each face in squared model units: the sum of
// its triangles for faces that are not flat. The slice must not be changed.
func (m *Mesh) FaceAreas() []float64 {
	m.measureFaces()
	return m.areas
}

func (m *Mesh) measureFaces() {
	m.normalsOnce.Do(func() {
		n := m.NumFaces()
		m.normals = make([]r3.Vec, n)
		m.areas = make([]float64, n)
		t := m.Triangles()
		for i, tri := range t.Corner {
			m.areas[t.Face[i]] += TriangleArea(m.cornerPos(tri[0]), m.cornerPos(tri[1]), m.cornerPos(tri[2]))
		}
		for f := range n {
			v := m.newell(FaceID(f))
			l, least := r3.Norm(v), m.leastArea(FaceID(f))
			if m.areas[f] <= least || m.foldsAway(FaceID(f)) {
				m.areas[f] = 0 // what is there is rounding, or encloses nothing
			} else if l > least {
				m.normals[f] = r3.Scale(1/l, v)
			}
		}
	})
}

// leastArea is the area of a face that rounding alone can give it: of a needle as long,
// and of points as far out.
func (m *Mesh) leastArea(f FaceID) float64 {
	lo, hi := m.Corners(f)
	var long, far float64
	for h := lo; h < hi; h++ {
		p := m.cornerPos(h)
		long = max(long, r3.Norm(m.EdgeVec(h)))
		far = max(far, math.Abs(p.X), math.Abs(p.Y), math.Abs(p.Z))
	}
	return 1e-12*long*long + 4e-16*far*long
}

// Specks returns the area in squared model units up to which a face has none that could
// be painted: beside the whole model it is lost in the rounding of any map.
func (m *Mesh) Specks() float64 { return 1e-13 * m.Diagonal() * m.Diagonal() }

// newell returns twice the vector area of a face.
func (m *Mesh) newell(f FaceID) r3.Vec {
	pts := m.FacePoints(f)
	o := m.Points[pts[0]]
	var sum r3.Vec
	for i := 1; i+1 < len(pts); i++ {
		sum = r3.Add(sum, r3.Cross(r3.Sub(m.Points[pts[i]], o), r3.Sub(m.Points[pts[i+1]], o)))
	}
	return sum
}

func (m *Mesh) cornerPos(c HalfedgeID) r3.Vec { return m.Points[m.CornerPoint[c]] }

// TriangleArea returns the area of a triangle in space.
func TriangleArea(a, b, c r3.Vec) float64 {
	return r3.Norm(r3.Cross(r3.Sub(b, a), r3.Sub(c, a))) / 2
}

// FaceCentre returns the mean of the corners of a face.
func (m *Mesh) FaceCentre(f FaceID) r3.Vec {
	var c r3.Vec
	pts := m.FacePoints(f)
	for _, p := range pts {
		c = r3.Add(c, m.Points[p])
	}
	return r3.Scale(1/float64(len(pts)), c)
}

// Dihedral returns the signed bend at an edge in radians: 0 where the faces
// are flat to each other, positive on convex edges, negative on concave ones,
// and 0 on borders. All are found once.
func (m *Mesh) Dihedral(e EdgeID) float64 {
	m.bendOnce.Do(func() {
		m.bend = make([]float64, m.NumEdges())
		for e := range m.bend {
			m.bend[e] = m.dihedral(EdgeID(e))
		}
	})
	return m.bend[e]
}

func (m *Mesh) dihedral(e EdgeID) float64 {
	h := m.edgeHalf[e]
	t := m.twin[h]
	if t == None {
		return 0
	}
	n := m.FaceNormals()
	a, b := n[m.cornerFace[h]], n[m.cornerFace[t]]
	c := r3.Cross(a, b)
	angle := math.Atan2(r3.Norm(c), r3.Dot(a, b))
	if r3.Dot(c, m.EdgeVec(h)) < 0 {
		return -angle
	}
	return angle
}

// PointDefects returns for each point the angle defect in radians, 2π less the
// angles of all faces around it; it says something for inner points only. The slice
// is shared and must not be changed.
func (m *Mesh) PointDefects() []float64 {
	m.defectsOnce.Do(func() {
		m.defects = make([]float64, len(m.Points))
		for i := range m.defects {
			m.defects[i] = 2 * math.Pi
		}
		for _, c := range m.Triangles().Corner {
			for k := range c {
				p, a, b := m.cornerPos(c[k]), m.cornerPos(c[(k+1)%3]), m.cornerPos(c[(k+2)%3])
				m.defects[m.CornerPoint[c[k]]] -= Angle(r3.Sub(a, p), r3.Sub(b, p))
			}
		}
	})
	return m.defects
}

// Angle returns the angle between two vectors in radians, exact for small ones.
func Angle(a, b r3.Vec) float64 {
	return math.Atan2(math.Sqrt(r3.Norm2(r3.Cross(a, b))), r3.Dot(a, b))
}

// Components returns for each face the number of its connected piece, pieces
// numbered by their first face, and the count of pieces.
func (m *Mesh) Components() (piece []int32, count int) {
	return m.Regions(func(EdgeID) bool { return false })
}

// Regions labels the face sets that stay connected when the given edges are
// cut; regions are numbered by their first face.
func (m *Mesh) Regions(cut func(EdgeID) bool) (region []int32, count int) {
	region = make([]int32, m.NumFaces())
	for i := range region {
		region[i] = None
	}
	var stack []FaceID
	for f := range region {
		if region[f] != None {
			continue
		}
		region[f] = int32(count)
		stack = append(stack[:0], FaceID(f))
		for len(stack) > 0 {
			g := stack[len(stack)-1]
			stack = stack[:len(stack)-1]
			lo, hi := m.Corners(g)
			for h := lo; h < hi; h++ {
				t := m.twin[h]
				if t == None || region[m.cornerFace[t]] != None || cut(m.edge[h]) {
					continue
				}
				region[m.cornerFace[t]] = int32(count)
				stack = append(stack, m.cornerFace[t])
			}
		}
		count++
	}
	return region, count
}

// AlsoCut tells what is cut when some more edges are.
func AlsoCut(isCut func(EdgeID) bool, more []EdgeID) func(EdgeID) bool {
	own := make(map[EdgeID]bool, len(more))
	for _, e := range more {
		own[e] = true
	}
	return func(e EdgeID) bool { return own[e] || isCut(e) }
}

// Connected splits a set of faces into what hangs together without crossing cut
// edges, in order of the first face of each.
func (m *Mesh) Connected(faces []FaceID, cut func(EdgeID) bool) (out [][]FaceID) {
	left := make(map[FaceID]bool, len(faces))
	for _, f := range faces {
		left[f] = true
	}
	for _, seed := range faces {
		if !left[seed] {
			continue
		}
		delete(left, seed)
		group := []FaceID{seed}
		for k := 0; k < len(group); k++ {
			lo, hi := m.Corners(group[k])
			for h := lo; h < hi; h++ {
				if t := m.twin[h]; t != None && left[m.cornerFace[t]] && !cut(m.edge[h]) {
					delete(left, m.cornerFace[t])
					group = append(group, m.cornerFace[t])
				}
			}
		}
		slices.Sort(group)
		out = append(out, group)
	}
	return out
}

// Unit returns the direction of a vector, the zero vector for what has none.
func Unit(v r3.Vec) r3.Vec {
	l := r3.Norm(v)
	if !(l > 0) || math.IsInf(l, 1) {
		return r3.Vec{}
	}
	return r3.Scale(1/l, v)
}
