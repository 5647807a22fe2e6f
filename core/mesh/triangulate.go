package mesh

import (
	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"
)

// Triangulation lists triangles over the corners of a mesh.
type Triangulation struct {
	Corner    [][3]HalfedgeID // corners of each triangle, wound like the face
	Face      []FaceID
	FaceStart []int32 // len faces+1: triangles of a face are consecutive
}

// Triangles cuts every face into triangles over its own corners: quads by the
// shorter diagonal that lies inside, larger polygons by ear clipping (Meisters
// 1975) in the plane of their Newell normal. A face of n corners always gives
// n-2 triangles, some without area where the face is degenerate.
func (m *Mesh) Triangles() *Triangulation {
	m.trisOnce.Do(func() {
		n := m.NumCorners() - 2*m.NumFaces()
		m.tris.Corner = make([][3]HalfedgeID, 0, n)
		m.tris.Face = make([]FaceID, 0, n)
		m.tris.FaceStart = make([]int32, 1, m.NumFaces()+1)
		for f := range m.NumFaces() {
			m.triangulate(FaceID(f))
			for len(m.tris.Face) < len(m.tris.Corner) {
				m.tris.Face = append(m.tris.Face, FaceID(f))
			}
			m.tris.FaceStart = append(m.tris.FaceStart, int32(len(m.tris.Corner)))
		}
	})
	return &m.tris
}

func (m *Mesh) triangulate(f FaceID) {
	lo, hi := m.Corners(f)
	add := func(a, b, c HalfedgeID) { m.tris.Corner = append(m.tris.Corner, [3]HalfedgeID{a, b, c}) }
	switch hi - lo {
	case 3:
		add(lo, lo+1, lo+2)
	case 4:
		p := [4]r3.Vec{m.cornerPos(lo), m.cornerPos(lo + 1), m.cornerPos(lo + 2), m.cornerPos(lo + 3)}
		if quadBySecondDiagonal(p, m.newell(f)) {
			add(lo, lo+1, lo+3)
			add(lo+1, lo+2, lo+3)
		} else {
			add(lo, lo+1, lo+2)
			add(lo, lo+2, lo+3)
		}
	default:
		for _, t := range EarClip(m.Flatten(f)) {
			add(lo+HalfedgeID(t[0]), lo+HalfedgeID(t[1]), lo+HalfedgeID(t[2]))
		}
	}
}

// quadBySecondDiagonal tells whether 1-3 rather than 0-2 splits the quad: it
// must lie inside (both triangles face with the normal), then the shorter wins.
func quadBySecondDiagonal(p [4]r3.Vec, n r3.Vec) bool {
	worst := func(a, b, c, d int) float64 {
		s := r3.Dot(n, r3.Cross(r3.Sub(p[b], p[a]), r3.Sub(p[c], p[a])))
		t := r3.Dot(n, r3.Cross(r3.Sub(p[c], p[a]), r3.Sub(p[d], p[a])))
		return min(s, t)
	}
	first, second := worst(0, 1, 2, 3), worst(1, 2, 3, 0)
	if (first > 0) != (second > 0) {
		return second > 0
	}
	// A clear difference only: equal diagonals must not depend on rounding.
	return r3.Norm2(r3.Sub(p[3], p[1])) < r3.Norm2(r3.Sub(p[2], p[0]))*(1-1e-9)
}

// Flatten returns the corners of a face projected on its own plane.
func (m *Mesh) Flatten(f FaceID) []r2.Vec {
	u, v := Basis(m.newell(f))
	pts := m.FacePoints(f)
	o := m.Points[pts[0]]
	out := make([]r2.Vec, len(pts))
	for i, p := range pts {
		d := r3.Sub(m.Points[p], o)
		out[i] = r2.Vec{X: r3.Dot(d, u), Y: r3.Dot(d, v)}
	}
	return out
}

// Basis returns two unit vectors that span the plane across n, with u×v along n.
func Basis(n r3.Vec) (u, v r3.Vec) {
	l := r3.Norm(n)
	if l == 0 {
		return r3.Vec{X: 1}, r3.Vec{Y: 1}
	}
	n = r3.Scale(1/l, n)
	a := r3.Vec{X: 1}
	if n.X*n.X > 0.5 {
		a = r3.Vec{Y: 1}
	}
	u = Unit(r3.Cross(a, n))
	return u, r3.Cross(n, u)
}
