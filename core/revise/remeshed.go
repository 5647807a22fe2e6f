package revise

import (
	"context"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// How far a face may lie from the surface it lies on, as a share of the diagonal, how far its corners
// are drawn towards its middle to be found, and how much it must face the same way.
const (
	near   = 1e-5
	inset  = 1e-3
	facing = 0.9
)

// cells is how finely the surface is looked up, along the longest side.
const cells = 64

// lookup finds the triangles of a mesh near a place.
type lookup struct {
	low  r3.Vec
	size float64
	at   map[[3]int32][]int32
}

func (l *lookup) cell(p r3.Vec) [3]int32 {
	d := r3.Scale(1/l.size, r3.Sub(p, l.low))
	return [3]int32{int32(math.Floor(d.X)), int32(math.Floor(d.Y)), int32(math.Floor(d.Z))}
}

func newLookup(m *mesh.Mesh, want func(f mesh.FaceID) bool, room float64) *lookup {
	l := &lookup{size: m.Diagonal() / cells, at: map[[3]int32][]int32{}}
	if l.size == 0 {
		l.size = 1
	}
	for k, t := range m.Triangles().Corner {
		if !want(m.FaceOf(t[0])) {
			continue
		}
		lo, hi := m.Points[m.From(t[0])], m.Points[m.From(t[0])]
		for _, h := range t[1:] {
			p := m.Points[m.From(h)]
			lo = r3.Vec{X: min(lo.X, p.X), Y: min(lo.Y, p.Y), Z: min(lo.Z, p.Z)}
			hi = r3.Vec{X: max(hi.X, p.X), Y: max(hi.Y, p.Y), Z: max(hi.Z, p.Z)}
		}
		pad := r3.Vec{X: room, Y: room, Z: room}
		a, b := l.cell(r3.Sub(lo, pad)), l.cell(r3.Add(hi, pad))
		for x := a[0]; x <= b[0]; x++ {
			for y := a[1]; y <= b[1]; y++ {
				for z := a[2]; z <= b[2]; z++ {
					l.at[[3]int32{x, y, z}] = append(l.at[[3]int32{x, y, z}], int32(k))
				}
			}
		}
	}
	return l
}

// remeshed finds new faces that lie on faces of before, all corners within one shell.
func (m *matcher) remeshed(ctx context.Context) error {
	any := false
	for _, k := range m.out.Kind {
		any = any || k == New
	}
	if !any {
		return nil
	}
	room := near * m.old.Diagonal()
	at := newLookup(m.old, func(f mesh.FaceID) bool { return m.shell[f] != mesh.None }, room)
	normals := m.now.FaceNormals()
	for f := range mesh.FaceID(m.now.NumFaces()) {
		if f&0xff == 0 && ctx.Err() != nil {
			return ctx.Err()
		}
		if m.out.Kind[f] != New {
			continue
		}
		mid := m.now.FaceCentre(f)
		of := m.under(at, mid, normals[f], room, mesh.None)
		if of < 0 {
			continue
		}
		shell := m.shell[m.triangleFace(of)]
		lo, hi := m.now.Corners(f)
		uv := make([]r2.Vec, hi-lo)
		ok := true
		for h := lo; h < hi && ok; h++ {
			p := m.now.Points[m.now.From(h)]
			k := m.under(at, r3.Add(p, r3.Scale(inset, r3.Sub(mid, p))), normals[f], room, shell)
			if ok = k >= 0; ok {
				uv[h-lo] = m.uvIn(k, h, p)
				side := r3.Scale(0.5, r3.Add(p, m.now.Points[m.now.To(h)])) // it goes over no hole
				ok = m.under(at, r3.Add(side, r3.Scale(inset, r3.Sub(mid, side))), normals[f], room, shell) >= 0
			}
		}
		if !ok {
			continue
		}
		copy(m.out.UV[lo:hi], uv)
		m.out.Kind[f], m.out.Of[f] = Remeshed, m.triangleFace(of)
	}
	m.meet()
	return nil
}

// meeting is how far apart, on the sheet, corners of one place may have been found and be one.
const meeting = 1e-7

// meet gives corners that are found at one place on the sheet, by different triangles of before, the same
// coordinates: those of faces that are the same first.
func (m *matcher) meet() {
	at := map[int32][]r2.Vec{} // by place in space
	for _, k := range []Kind{Kept, Moved, Remeshed} {
		for f := range mesh.FaceID(m.now.NumFaces()) {
			if m.out.Kind[f] != k {
				continue
			}
			lo, hi := m.now.Corners(f)
			for h := lo; h < hi; h++ {
				p, q := m.is[m.now.From(h)], m.out.UV[h]
				i := slices.IndexFunc(at[p], func(o r2.Vec) bool { return math.Abs(o.X-q.X) <= meeting && math.Abs(o.Y-q.Y) <= meeting })
				switch {
				case i < 0:
					at[p] = append(at[p], q)
				case k == Remeshed:
					m.out.UV[h] = at[p][i]
				}
			}
		}
	}
}

func (m *matcher) triangleFace(k int32) mesh.FaceID {
	return m.old.FaceOf(m.old.Triangles().Corner[k][0])
}

// under is the triangle of before that a place lies on and that faces the same way, of a shell if one
// is told; -1 for none.
func (m *matcher) under(at *lookup, p, n r3.Vec, room float64, shell int32) int32 {
	best, found := room, int32(-1)
	normals := m.old.FaceNormals()
	for _, k := range at.at[at.cell(p)] {
		f := m.triangleFace(k)
		if shell != mesh.None && m.shell[f] != shell || r3.Dot(normals[f], n) < facing {
			continue
		}
		if d := m.distance(k, p); d < best {
			best, found = d, k
		}
	}
	return found
}

// distance is how far a place lies from a triangle.
func (m *matcher) distance(k int32, p r3.Vec) float64 {
	t := m.old.Triangles().Corner[k]
	a, b, c := m.old.Points[m.old.From(t[0])], m.old.Points[m.old.From(t[1])], m.old.Points[m.old.From(t[2])]
	w := weights(a, b, c, p)
	if w[0] >= 0 && w[1] >= 0 && w[2] >= 0 {
		q := r3.Add(r3.Scale(w[0], a), r3.Add(r3.Scale(w[1], b), r3.Scale(w[2], c)))
		return r3.Norm(r3.Sub(p, q))
	}
	return min(segment(a, b, p), segment(b, c, p), segment(c, a, p))
}

func segment(a, b, p r3.Vec) float64 {
	d := r3.Sub(b, a)
	t := 0.0
	if n := r3.Norm2(d); n > 0 {
		t = max(0, min(1, r3.Dot(r3.Sub(p, a), d)/n))
	}
	return r3.Norm(r3.Sub(p, r3.Add(a, r3.Scale(t, d))))
}

// weights are those of the corners of a triangle at the foot of a place in its plane.
func weights(a, b, c, p r3.Vec) [3]float64 {
	n := r3.Cross(r3.Sub(b, a), r3.Sub(c, a))
	nn := r3.Norm2(n)
	if nn == 0 {
		return [3]float64{-1, -1, -1}
	}
	u := r3.Dot(r3.Cross(r3.Sub(c, b), r3.Sub(p, b)), n) / nn
	v := r3.Dot(r3.Cross(r3.Sub(a, c), r3.Sub(p, c)), n) / nn
	return [3]float64{u, v, 1 - u - v}
}

// uvIn is where a corner lies on the sheet, by a triangle of before that it touches: exactly that of
// its corner where it is one.
func (m *matcher) uvIn(k int32, h mesh.HalfedgeID, p r3.Vec) r2.Vec {
	f := m.triangleFace(k)
	lo, hi := m.old.Corners(f)
	for c := lo; c < hi; c++ {
		if m.was[m.old.From(c)] == m.is[m.now.From(h)] {
			return m.on.At(c)
		}
	}
	t := m.old.Triangles().Corner[k]
	w := weights(m.old.Points[m.old.From(t[0])], m.old.Points[m.old.From(t[1])], m.old.Points[m.old.From(t[2])], p)
	var q r2.Vec
	for i, c := range t {
		q = r2.Add(q, r2.Scale(w[i], m.on.At(c)))
	}
	return q
}
