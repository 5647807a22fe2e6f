// Package mesh holds an immutable polygon mesh and answers questions about
// its surface: which faces meet at an edge, where the loops run, how faces
// are cut into triangles, what a ray hits.
//
// Connectivity is a halfedge structure in flat arrays (Weiler 1985; Kettner
// 1999): halfedge h is the side of a face that starts at corner h, so corners
// and halfedges share their numbers. Edges that are not shared by exactly two
// faces in opposite directions have no twin, which makes every edge manifold
// by construction; Health tells what was left apart.
package mesh

import (
	"sync"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"
)

// PointID, FaceID, HalfedgeID and EdgeID number the elements of one mesh.
// A HalfedgeID is also the number of the corner the halfedge starts at.
type (
	PointID    int32
	FaceID     int32
	HalfedgeID int32
	EdgeID     int32
)

// None marks a missing element: no twin, no normal, no material.
const None = -1

// Mesh is a polygon mesh. The exported slices must not be changed after Build.
type Mesh struct {
	Points      []r3.Vec  // model units
	FaceStart   []int32   // len faces+1, offsets into the corner arrays
	CornerPoint []PointID // point of each corner, faces in file order

	Objects, Groups, Materials []string
	Smoothing                  []string // smoothing group names as written
	Libraries                  []string // material libraries as written

	FaceObject, FaceGroup, FaceMaterial, FaceSmoothing []int32 // index into the names, or None

	// What the file said besides, kept as it was written.
	Tails  *Tails  // what stood behind the coordinates of points, such as colours; nil for nothing
	Asides []Aside // lines between the faces that are no part of the mesh

	Normals      []r3.Vec
	CornerNormal []int32 // index into Normals, or None; nil if the file had none
	SourceUV     []r2.Vec
	CornerUV     []int32      // index into SourceUV, or None; nil if the file had none
	Layers       []Layer      // further maps that came along
	Colors       [][4]float32 // red, green, blue and opacity, 0 to 1
	CornerColor  []int32      // index into Colors, or None; nil if the file had none

	Looks []Look // of each material, where the file says so

	Baked []string // what reading did to the points, in words: scales of nodes and the like
	Lost  []string // what the file held besides that is not written again, in words
	Kept  any      // what its own format needs to write the rest of the file again; nil for nothing

	cornerFace []FaceID
	twin       []HalfedgeID
	edge       []EdgeID
	edgeHalf   []HalfedgeID

	crowded []EdgeID // border edges that coincide with others or are wound alike

	normalsOnce sync.Once
	normals     []r3.Vec
	areas       []float64
	trisOnce    sync.Once
	tris        Triangulation
	boundsOnce  sync.Once
	lo, hi      r3.Vec
	bvhOnce     sync.Once
	bvh         *BVH
	bendOnce    sync.Once
	bend        []float64
	rimOnce     sync.Once
	rim         []bool
	defectsOnce sync.Once
	defects     []float64
	starOnce    sync.Once
	star        []EdgeID
	starStart   []int32
	scratch     sync.Pool
}

// Look is how a material looks, as far as formats agree on it.
type Look struct {
	Color   [4]float32 // red, green, blue and opacity, linear, 0 to 1
	Picture []byte     // its base picture, PNG or JPEG; nil for none
	Known   bool       // the file says it
}

// Layer is a map that came with a mesh beside the first.
type Layer struct {
	Name   string
	UV     []r2.Vec
	Corner []int32 // index into UV, or None, for each corner
}

// Aside is a line of a file that is no part of the mesh, such as a comment or a wire, and
// the number of faces that stood before it.
type Aside struct {
	Text  string
	Faces int32
}

// Tails are texts of points, most of them empty or short.
type Tails struct {
	text  []byte
	start []int32 // of each point that has one, and the end
}

// Of returns the text of a point.
func (t *Tails) Of(p PointID) []byte {
	if t == nil || int(p)+1 >= len(t.start) {
		return nil
	}
	return t.text[t.start[p]:t.start[p+1]]
}

// Add gives the next point, the n-th, a text.
func (t *Tails) Add(n int, text []byte) {
	for len(t.start) <= n {
		t.start = append(t.start, int32(len(t.text)))
	}
	t.text = append(t.text, text...)
	t.start = append(t.start, int32(len(t.text)))
}

// NumFaces, NumPoints, NumCorners and NumEdges count the elements.
func (m *Mesh) NumFaces() int { return len(m.FaceStart) - 1 }

// NumPoints counts the points.
func (m *Mesh) NumPoints() int { return len(m.Points) }

// NumCorners counts the corners, which are also the halfedges.
func (m *Mesh) NumCorners() int { return len(m.CornerPoint) }

// NumEdges counts the edges; an edge without a twin counts once a side.
func (m *Mesh) NumEdges() int { return len(m.edgeHalf) }

// Corners returns the half-open range of the corners of a face.
func (m *Mesh) Corners(f FaceID) (lo, hi HalfedgeID) {
	return HalfedgeID(m.FaceStart[f]), HalfedgeID(m.FaceStart[f+1])
}

// FacePoints returns the points of a face in order. The slice must not be changed.
func (m *Mesh) FacePoints(f FaceID) []PointID {
	return m.CornerPoint[m.FaceStart[f]:m.FaceStart[f+1]]
}

// FaceOf returns the face a halfedge belongs to.
func (m *Mesh) FaceOf(h HalfedgeID) FaceID { return m.cornerFace[h] }

// Twin returns the opposite halfedge, or None on a border.
func (m *Mesh) Twin(h HalfedgeID) HalfedgeID { return m.twin[h] }

// Next returns the following halfedge around the face.
func (m *Mesh) Next(h HalfedgeID) HalfedgeID {
	f := m.cornerFace[h]
	if h+1 == HalfedgeID(m.FaceStart[f+1]) {
		return HalfedgeID(m.FaceStart[f])
	}
	return h + 1
}

// Prev returns the preceding halfedge around the face.
func (m *Mesh) Prev(h HalfedgeID) HalfedgeID {
	f := m.cornerFace[h]
	if h == HalfedgeID(m.FaceStart[f]) {
		return HalfedgeID(m.FaceStart[f+1]) - 1
	}
	return h - 1
}

// From and To return the end points of a halfedge.
func (m *Mesh) From(h HalfedgeID) PointID { return m.CornerPoint[h] }

// To returns the point a halfedge runs to.
func (m *Mesh) To(h HalfedgeID) PointID { return m.CornerPoint[m.Next(h)] }

// Edge returns the edge of a halfedge.
func (m *Mesh) Edge(h HalfedgeID) EdgeID { return m.edge[h] }

// EdgeHalf returns one halfedge of an edge: the one with the lower number.
func (m *Mesh) EdgeHalf(e EdgeID) HalfedgeID { return m.edgeHalf[e] }

// EdgeFaces returns the faces on both sides of an edge; b is None on a border.
func (m *Mesh) EdgeFaces(e EdgeID) (a, b FaceID) {
	h := m.edgeHalf[e]
	a, b = m.cornerFace[h], None
	if t := m.twin[h]; t != None {
		b = m.cornerFace[t]
	}
	return a, b
}

// EdgeVec returns the vector along a halfedge in model units.
func (m *Mesh) EdgeVec(h HalfedgeID) r3.Vec {
	return r3.Sub(m.Points[m.To(h)], m.Points[m.From(h)])
}

// EdgeLength returns the length of an edge in model units.
func (m *Mesh) EdgeLength(e EdgeID) float64 { return r3.Norm(m.EdgeVec(m.edgeHalf[e])) }

// Bounds returns the corners of the bounding box of the points that faces use.
func (m *Mesh) Bounds() (lo, hi r3.Vec) {
	m.boundsOnce.Do(func() {
		for i, p := range m.CornerPoint {
			v := m.Points[p]
			if i == 0 {
				m.lo, m.hi = v, v
			}
			m.lo = r3.Vec{X: min(m.lo.X, v.X), Y: min(m.lo.Y, v.Y), Z: min(m.lo.Z, v.Z)}
			m.hi = r3.Vec{X: max(m.hi.X, v.X), Y: max(m.hi.Y, v.Y), Z: max(m.hi.Z, v.Z)}
		}
	})
	return m.lo, m.hi
}

// Diagonal returns the length of the bounding-box diagonal in model units.
func (m *Mesh) Diagonal() float64 {
	lo, hi := m.Bounds()
	return r3.Norm(r3.Sub(hi, lo))
}

// MaterialName returns the material of a face, "" for none.
func (m *Mesh) MaterialName(f FaceID) string { return nameAt(m.Materials, m.FaceMaterial, f) }

// ObjectName returns the object of a face, "" for none.
func (m *Mesh) ObjectName(f FaceID) string { return nameAt(m.Objects, m.FaceObject, f) }

// GroupName returns the group of a face, "" for none.
func (m *Mesh) GroupName(f FaceID) string { return nameAt(m.Groups, m.FaceGroup, f) }

func nameAt(names []string, index []int32, f FaceID) string {
	if index == nil || index[f] == None {
		return ""
	}
	return names[index[f]]
}

// RimPoints tells of each point whether the mesh ends there: it lies on an edge without a
// twin. Found once; not to be changed.
func (m *Mesh) RimPoints() []bool {
	m.rimOnce.Do(func() {
		m.rim = make([]bool, m.NumPoints())
		for e := range EdgeID(m.NumEdges()) {
			if h := m.EdgeHalf(e); m.Twin(h) == None {
				m.rim[m.From(h)], m.rim[m.To(h)] = true, true
			}
		}
	})
	return m.rim
}
