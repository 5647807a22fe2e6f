// Package meshtest builds the small meshes that tests of the core stand on.
package meshtest

import (
	"fmt"
	"math"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// Grid is an n × rows sheet of quads over a function of two parameters in 0 to 1.
// Points that coincide are one.
func Grid(t testing.TB, n, rows int, at func(u, v float64) r3.Vec) *mesh.Mesh {
	t.Helper()
	b := NewWelder()
	for r := range rows {
		for i := range n {
			p := func(i, r int) mesh.PointID { return b.Point(at(float64(i)/float64(n), float64(r)/float64(rows))) }
			b.Face(p(i, r), p(i+1, r), p(i+1, r+1), p(i, r+1))
		}
	}
	return b.Mesh(t)
}

// Lathe turns a profile of (radius, height) about Y in n steps, faces outwards
// when the profile runs upwards.
func Lathe(t testing.TB, n int, profile ...r2.Vec) *mesh.Mesh {
	t.Helper()
	b := NewWelder()
	at := func(p r2.Vec, i int) mesh.PointID {
		s, c := math.Sincos(2 * math.Pi * float64(i%n) / float64(n))
		return b.Point(r3.Vec{X: p.X * s, Y: p.Y, Z: p.X * c})
	}
	for k := 0; k+1 < len(profile); k++ {
		for i := range n {
			b.Face(at(profile[k], i), at(profile[k], i+1), at(profile[k+1], i+1), at(profile[k+1], i))
		}
	}
	return b.Mesh(t)
}

// Prism raises a closed counter-clockwise outline (x, z) from 0 to h, with lids.
func Prism(t testing.TB, h float64, outline ...r2.Vec) *mesh.Mesh {
	t.Helper()
	b := NewWelder()
	n := len(outline)
	var low, high []mesh.PointID
	for _, q := range outline {
		low = append(low, b.Point(r3.Vec{X: q.X, Z: q.Y}))
		high = append(high, b.Point(r3.Vec{X: q.X, Y: h, Z: q.Y}))
	}
	for i := range n {
		j := (i + 1) % n
		b.Face(low[i], high[i], high[j], low[j])
	}
	b.Face(low...)
	for i, j := 0, n-1; i < j; i, j = i+1, j-1 {
		high[i], high[j] = high[j], high[i]
	}
	b.Face(high...)
	return b.Mesh(t)
}

// Tube moves a round section along a path in the XY plane, open at both ends.
func Tube(t testing.TB, radius float64, sides int, path ...r3.Vec) *mesh.Mesh {
	t.Helper()
	b := NewWelder()
	var rows [][]mesh.PointID
	for i, p := range path {
		var in, out r3.Vec
		if i > 0 {
			in = r3.Unit(r3.Sub(p, path[i-1]))
		}
		if i+1 < len(path) {
			out = r3.Unit(r3.Sub(path[i+1], p))
		}
		along := r3.Unit(r3.Add(in, out))
		x := r3.Cross(r3.Vec{Z: 1}, along)
		var row []mesh.PointID
		for k := range sides {
			s, c := math.Sincos(2 * math.Pi * float64(k) / float64(sides))
			row = append(row, b.Point(r3.Add(p, r3.Add(r3.Scale(radius*c, x), r3.Vec{Z: radius * s}))))
		}
		rows = append(rows, row)
	}
	for r := 0; r+1 < len(rows); r++ {
		for k := range sides {
			j := (k + 1) % sides
			b.Face(rows[r][k], rows[r][j], rows[r+1][j], rows[r+1][k])
		}
	}
	return b.Mesh(t)
}

// Arc returns points on a quarter circle in the XY plane about a centre, from the
// direction of from (radians) on.
func Arc(centre r3.Vec, radius, from float64, n int) (out []r3.Vec) {
	for i := range n + 1 {
		s, c := math.Sincos(from + math.Pi/2*float64(i)/float64(n))
		out = append(out, r3.Add(centre, r3.Vec{X: radius * c, Y: radius * s}))
	}
	return out
}

// Circle returns n points of a circle, counter-clockwise in (x, z) seen from +Y.
func Circle(radius float64, n int) (out []r2.Vec) {
	for i := range n {
		s, c := math.Sincos(2 * math.Pi * float64(i) / float64(n))
		out = append(out, r2.Vec{X: radius * c, Y: radius * s})
	}
	return out
}

// Mapped returns a mesh with its points moved by f.
func Mapped(t testing.TB, m *mesh.Mesh, f func(r3.Vec) r3.Vec) *mesh.Mesh {
	t.Helper()
	b := mesh.NewBuilder()
	for _, p := range m.Points {
		b.Point(f(p))
	}
	for i := range m.NumFaces() {
		id := mesh.FaceID(i)
		b.Object(m.ObjectName(id))
		b.Face(m.FacePoints(id)...)
	}
	out, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// All lists the faces of a mesh.
func All(m *mesh.Mesh) []mesh.FaceID {
	out := make([]mesh.FaceID, m.NumFaces())
	for i := range out {
		out[i] = mesh.FaceID(i)
	}
	return out
}

// Whole is the patch of all faces without a cut.
func Whole(m *mesh.Mesh) *mesh.Patch {
	return mesh.NewPatch(m, All(m), func(mesh.EdgeID) bool { return false })
}

// Welder builds a mesh in which points at one place are one.
type Welder struct {
	b     *mesh.Builder
	known map[[3]int64]mesh.PointID
}

// NewWelder returns an empty welder.
func NewWelder() *Welder {
	return &Welder{mesh.NewBuilder(), map[[3]int64]mesh.PointID{}}
}

// Point returns the point at a place.
func (w *Welder) Point(p r3.Vec) mesh.PointID {
	k := [3]int64{int64(math.Round(p.X * 1e9)), int64(math.Round(p.Y * 1e9)), int64(math.Round(p.Z * 1e9))}
	id, ok := w.known[k]
	if !ok {
		id = w.b.Point(p)
		w.known[k] = id
	}
	return id
}

// Face adds a face; doubled neighbours count once, and less than three corners
// are no face.
func (w *Welder) Face(p ...mesh.PointID) {
	var q []mesh.PointID
	for i, v := range p {
		if v != p[(i+len(p)-1)%len(p)] {
			q = append(q, v)
		}
	}
	if len(q) >= 3 {
		w.b.Face(q...)
	}
}

// Object names what the following faces belong to.
func (w *Welder) Object(name string) { w.b.Object(name) }

// Mesh builds the mesh.
func (w *Welder) Mesh(t testing.TB) *mesh.Mesh {
	t.Helper()
	m, err := w.b.Build()
	if err != nil {
		t.Fatal(err)
	}
	return m
}

// Screw winds a profile, radius and height, about the Z axis: n facets a turn, each turn as
// much higher as pitch. Where the profile ends a pitch above its start the turns are welded.
func Screw(t testing.TB, n int, turns, pitch float64, profile ...r2.Vec) *mesh.Mesh {
	t.Helper()
	w := NewWelder()
	at := func(i, k int) mesh.PointID {
		s, c := math.Sincos(2 * math.Pi * float64(i%n) / float64(n))
		q := profile[k]
		return w.Point(r3.Vec{X: q.X * c, Y: q.X * s, Z: q.Y + pitch*float64(i)/float64(n)})
	}
	for i := range int(turns * float64(n)) {
		for k := 1; k < len(profile); k++ {
			w.Face(at(i, k-1), at(i+1, k-1), at(i+1, k), at(i, k))
		}
	}
	return w.Mesh(t)
}

// Together is meshes beside each other as one, an object each.
func Together(t testing.TB, list ...*mesh.Mesh) *mesh.Mesh {
	t.Helper()
	w := NewWelder()
	for i, m := range list {
		w.Object(fmt.Sprintf("object %d", i+1))
		for f := range mesh.FaceID(m.NumFaces()) {
			w.Face(w.corners(m, f)...)
		}
	}
	return w.Mesh(t)
}

// Reflected is the mirror image of a mesh in the plane across X; its faces look outwards as before.
func Reflected(t testing.TB, m *mesh.Mesh) *mesh.Mesh {
	t.Helper()
	w := NewWelder()
	mirror := Mapped(t, m, func(p r3.Vec) r3.Vec { return r3.Vec{X: -p.X, Y: p.Y, Z: p.Z} })
	for f := range mesh.FaceID(m.NumFaces()) {
		c := w.corners(mirror, f)
		slices.Reverse(c)
		w.Face(c...)
	}
	return w.Mesh(t)
}

func (w *Welder) corners(m *mesh.Mesh, f mesh.FaceID) (out []mesh.PointID) {
	lo, hi := m.Corners(f)
	for h := lo; h < hi; h++ {
		out = append(out, w.Point(m.Points[m.From(h)]))
	}
	return out
}

// Alternating cuts the quads of a mesh along one diagonal and the other by turns.
func Alternating(t testing.TB, m *mesh.Mesh) *mesh.Mesh {
	w := NewWelder()
	for f := range m.NumFaces() {
		var at []mesh.PointID
		for _, p := range m.FacePoints(mesh.FaceID(f)) {
			at = append(at, w.Point(m.Points[p]))
		}
		switch {
		case len(at) != 4:
			w.Face(at...)
		case f%2 == 0:
			w.Face(at[0], at[1], at[2])
			w.Face(at[0], at[2], at[3])
		default:
			w.Face(at[1], at[2], at[3])
			w.Face(at[1], at[3], at[0])
		}
	}
	return w.Mesh(t)
}
