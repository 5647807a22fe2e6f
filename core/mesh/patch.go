package mesh

import (
	"math"
	"sort"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/ids"
)

// Patch is a set of faces taken out of a mesh along cut edges, with local
// vertices: corners at one point belong to one vertex if one can walk from one
// to the other around the point without crossing a cut or leaving the set. So a
// patch is always a manifold with borders, whatever the mesh is.
type Patch struct {
	Mesh       *Mesh
	Faces      []FaceID
	FaceStart  []int32      // len faces+1: corner ranges in Corner and CornerVert
	Corner     []HalfedgeID // mesh corner of each patch corner
	CornerVert []int32      // vertex of each patch corner
	VertPoint  []PointID    // mesh point of each vertex
	Pos        []r3.Vec     // position of each vertex, model units
	Tris       [][3]int32   // vertices of each triangle
	TriCorner  [][3]HalfedgeID
	TriFace    []int32 // index into Faces
	next       []int32 // patch corner at the other side of its halfedge, or None
}

// NewPatch takes faces out of a mesh; edges for which cut is true separate.
func NewPatch(m *Mesh, faces []FaceID, cut func(EdgeID) bool) *Patch {
	p := &Patch{Mesh: m, Faces: faces, FaceStart: make([]int32, 1, len(faces)+1)}
	local := m.borrow()
	defer m.giveBack(local, faces)
	t := m.Triangles()
	corners, triangles := 0, 0
	for _, f := range faces {
		lo, hi := m.Corners(f)
		corners, triangles = corners+int(hi-lo), triangles+int(t.FaceStart[f+1]-t.FaceStart[f])
	}
	p.Corner = make([]HalfedgeID, 0, corners)
	for i, f := range faces {
		local[f] = int32(i)
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			p.Corner = append(p.Corner, h)
		}
		p.FaceStart = append(p.FaceStart, int32(len(p.Corner)))
	}
	at := func(h HalfedgeID) int32 {
		f := m.cornerFace[h]
		if local[f] == None {
			return None
		}
		return p.FaceStart[local[f]] + int32(h) - m.FaceStart[f]
	}
	p.next = make([]int32, len(p.Corner))
	around := ids.NewForest(len(p.Corner))
	for c, h := range p.Corner {
		p.next[c] = None
		t := m.twin[h]
		if t == None || cut(m.edge[h]) {
			continue
		}
		o := at(t)
		if p.next[c] = o; o == None {
			continue
		}
		around.Join(int32(c), at(m.Next(t)))
	}
	p.CornerVert = make([]int32, len(p.Corner))
	for c := range p.Corner {
		r := around.Root(int32(c))
		if r == int32(c) { // roots are the lowest of their set, so they come first
			p.CornerVert[c] = int32(len(p.Pos))
			pt := m.CornerPoint[p.Corner[c]]
			p.VertPoint = append(p.VertPoint, pt)
			p.Pos = append(p.Pos, m.Points[pt])
		} else {
			p.CornerVert[c] = p.CornerVert[r]
		}
	}
	p.Tris, p.TriCorner, p.TriFace = make([][3]int32, 0, triangles), make([][3]HalfedgeID, 0, triangles), make([]int32, 0, triangles)
	for i, f := range faces {
		for k := t.FaceStart[f]; k < t.FaceStart[f+1]; k++ {
			var tri [3]int32
			for j, h := range t.Corner[k] {
				tri[j] = p.CornerVert[p.FaceStart[i]+int32(h)-m.FaceStart[f]]
			}
			p.Tris = append(p.Tris, tri)
			p.TriCorner = append(p.TriCorner, t.Corner[k])
			p.TriFace = append(p.TriFace, int32(i))
		}
	}
	return p
}

// borrow returns a face-indexed scratch slice filled with None.
func (m *Mesh) borrow() []int32 {
	if s, ok := m.scratch.Get().(*[]int32); ok {
		return *s
	}
	s := make([]int32, m.NumFaces())
	for i := range s {
		s[i] = None
	}
	return s
}

func (m *Mesh) giveBack(s []int32, faces []FaceID) {
	for _, f := range faces {
		s[f] = None
	}
	m.scratch.Put(&s)
}

// NextCorner and PrevCorner walk around the face of a patch corner.
func (p *Patch) NextCorner(c int32) int32 {
	h := p.Corner[c]
	return c + int32(p.Mesh.Next(h)-h)
}

// PrevCorner returns the corner before c around its face.
func (p *Patch) PrevCorner(c int32) int32 {
	h := p.Corner[c]
	return c + int32(p.Mesh.Prev(h)-h)
}

// CornerFaces returns for each patch corner the index of its face in Faces.
func (p *Patch) CornerFaces() []int32 {
	out := make([]int32, len(p.Corner))
	for f := range p.Faces {
		for c := p.FaceStart[f]; c < p.FaceStart[f+1]; c++ {
			out[c] = int32(f)
		}
	}
	return out
}

// Winding returns the angle in radians by which a border loop turns about an
// axis: ±2π for a loop that goes round it once, 0 for a hole beside it.
func (p *Patch) Winding(loop []int32, axis, origin r3.Vec) float64 {
	u, v := Basis(axis)
	var turn float64
	for _, c := range loop {
		s, t := p.Ends(c)
		d, e := r3.Sub(p.Pos[s], origin), r3.Sub(p.Pos[t], origin)
		x0, y0, x1, y1 := r3.Dot(d, u), r3.Dot(d, v), r3.Dot(e, u), r3.Dot(e, v)
		turn += math.Atan2(x0*y1-y0*x1, x0*x1+y0*y1)
	}
	return turn
}

// Across returns the patch corner whose halfedge is opposite to that of c, or
// None where the patch ends.
func (p *Patch) Across(c int32) int32 { return p.next[c] }

// Ends returns the vertices at the start and end of the halfedge of corner c.
func (p *Patch) Ends(c int32) (a, b int32) {
	return p.CornerVert[c], p.CornerVert[p.NextCorner(c)]
}

// VertsOf returns the vertices at the ends of an edge of the mesh that lies
// inside the patch, on its first side.
func (p *Patch) VertsOf(e EdgeID) (a, b int32) {
	h := p.Mesh.EdgeHalf(e)
	f := p.Mesh.FaceOf(h)
	i := sort.Search(len(p.Faces), func(k int) bool { return p.Faces[k] >= f })
	if i == len(p.Faces) || p.Faces[i] != f {
		for i = range p.Faces { // faces were not given in order
			if p.Faces[i] == f {
				break
			}
		}
	}
	return p.Ends(p.FaceStart[i] + int32(h) - p.Mesh.FaceStart[f])
}

// Borders returns the border loops of the patch: patch corners whose
// halfedges form each loop, the patch on their left.
func (p *Patch) Borders() [][]int32 {
	var loops [][]int32
	seen := make([]bool, len(p.Corner))
	for c := range p.Corner {
		if p.next[c] != None || seen[c] {
			continue
		}
		var loop []int32
		for g := int32(c); !seen[g]; {
			seen[g] = true
			loop = append(loop, g)
			g = p.NextCorner(g)
			for p.next[g] != None {
				g = p.NextCorner(p.next[g])
			}
		}
		loops = append(loops, loop)
	}
	return loops
}

// Euler returns the Euler characteristic: 1 for a disk, 0 for an open tube,
// 2 for a closed sphere.
func (p *Patch) Euler() int {
	open := 0
	for _, n := range p.next {
		if n == None {
			open++
		}
	}
	return len(p.Pos) - (len(p.Corner)+open)/2 + len(p.Faces)
}

// IsDisk tells whether a connected patch can be laid flat without a further cut.
func (p *Patch) IsDisk() bool { return p.Euler() == 1 && len(p.Borders()) == 1 }

// Area returns the surface area of the patch.
func (p *Patch) Area() float64 {
	var a float64
	for _, f := range p.Faces {
		a += p.Mesh.FaceAreas()[f]
	}
	return a
}

// Curvature returns the whole Gaussian curvature of a patch, radians: the sum of the angle
// defects of its inner vertices, 4π for a closed ball.
func (p *Patch) Curvature() (sum float64) {
	defect, border := p.Defects()
	for v, k := range defect {
		if !border[v] {
			sum += k
		}
	}
	return sum
}

// Defects returns the angle defect of each vertex in radians: 2π − Σ angles
// inside, π − Σ on the border. A patch lies flat without stretch only if all
// inside defects vanish.
func (p *Patch) Defects() (defect []float64, border []bool) {
	defect = make([]float64, len(p.Pos))
	border = make([]bool, len(p.Pos))
	for c, n := range p.next {
		if n == None {
			a, b := p.Ends(int32(c))
			border[a], border[b] = true, true
		}
	}
	for _, t := range p.Tris {
		for k := range t {
			a, b, c := p.Pos[t[k]], p.Pos[t[(k+1)%3]], p.Pos[t[(k+2)%3]]
			defect[t[k]] -= Angle(r3.Sub(b, a), r3.Sub(c, a))
		}
	}
	for v := range defect {
		if border[v] {
			defect[v] += math.Pi
		} else {
			defect[v] += 2 * math.Pi
		}
	}
	return defect, border
}
