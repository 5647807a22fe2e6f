package mesh_test

import (
	"math"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/models"
	"morvek/models/modeltest"
)

// triangulated is a mesh with its polygons cut into triangles.
func triangulated(t *testing.T, m *mesh.Mesh) *mesh.Mesh {
	t.Helper()
	b := mesh.NewBuilder()
	for _, p := range m.Points {
		b.Point(p)
	}
	for _, tri := range m.Triangles().Corner {
		b.Object(m.ObjectName(m.FaceOf(tri[0])))
		b.Face(m.From(tri[0]), m.From(tri[1]), m.From(tri[2]))
	}
	out, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// Triangles of the demo models become the polygons they were, most of them; every corner keeps its
// point, the surface its area, and nothing hangs together otherwise.
func TestTrianglesBecomeThePolygonsTheyWere(t *testing.T) {
	for _, model := range models.Models() {
		was := modeltest.Mesh(t, model.Slug)
		m := triangulated(t, was)
		r := mesh.Merge(m)
		for h, c := range r.From {
			if m.Points[m.From(mesh.HalfedgeID(h))] != r.Mesh.Points[r.Mesh.From(c)] {
				t.Fatalf("%s: corner %d follows one at another point", model.Slug, h)
			}
		}
		if a, b := area(m), area(r.Mesh); math.Abs(a-b) > 1e-3*a {
			t.Errorf("%s: an area of %g became %g", model.Slug, a, b)
		}
		_, before := m.Components()
		_, after := r.Mesh.Components()
		if before != after {
			t.Errorf("%s: %d pieces became %d", model.Slug, before, after)
		}
		rings := map[string]bool{}
		for f := range mesh.FaceID(was.NumFaces()) {
			rings[ring(was, f)] = true
		}
		again := 0
		for f := range mesh.FaceID(r.Mesh.NumFaces()) {
			if rings[ring(r.Mesh, f)] {
				again++
			}
		}
		if share := float64(again) / float64(was.NumFaces()); share < 0.75 {
			t.Errorf("%s: %.2f of its faces are there again, %d became %d, it had %d", model.Slug, share, m.NumFaces(), r.Mesh.NumFaces(), was.NumFaces())
		}
		if len(r.Health(m)) != 0 {
			t.Errorf("%s: merged faces are said to be ill", model.Slug)
		}
	}
}

// ring names the points of a face, from the lowest on.
func ring(m *mesh.Mesh, f mesh.FaceID) string {
	p := slices.Clone(m.FacePoints(f))
	low := slices.Index(p, slices.Min(p))
	var out []byte
	for _, q := range append(p[low:len(p):len(p)], p[:low]...) {
		out = append(out, byte(q), byte(q>>8), byte(q>>16))
	}
	return string(out)
}

func area(m *mesh.Mesh) (sum float64) {
	for _, a := range m.FaceAreas() {
		sum += a
	}
	return sum
}

var modelSquare = [4]r3.Vec{{}, {X: 1}, {X: 1, Y: 1}, {Y: 1}}

// What differs between two triangles keeps them apart: material, or a seam of a map.
func TestWhatIsKeptApart(t *testing.T) {
	for name, c := range map[string]struct {
		change func(b *mesh.Builder, k int) int32 // before each triangle; the coordinate of its corners
		faces  int
	}{
		"nothing":     {func(*mesh.Builder, int) int32 { return mesh.None }, 1},
		"a material":  {func(b *mesh.Builder, k int) int32 { b.Material([]string{"ash", "tin"}[k]); return mesh.None }, 2},
		"a seam":      {func(b *mesh.Builder, k int) int32 { return b.UV(r2.Vec{X: float64(k)}) }, 2},
		"one map":     {func(b *mesh.Builder, k int) int32 { return b.UV(r2.Vec{X: 0.5}) }, 1},
		"half a map":  {func(b *mesh.Builder, k int) int32 { return []int32{mesh.None, b.UV(r2.Vec{})}[k] }, 2},
		"its objects": {func(b *mesh.Builder, k int) int32 { b.Object([]string{"lid", "rim"}[k]); return mesh.None }, 2},
	} {
		b := mesh.NewBuilder()
		for _, p := range modelSquare {
			b.Point(p)
		}
		for k, tri := range [2][3]mesh.PointID{{0, 1, 2}, {0, 2, 3}} {
			uv := c.change(b, k)
			for _, p := range tri {
				b.Corner(p, uv, mesh.None)
			}
			b.EndFace()
		}
		m, err := b.Build()
		if err != nil {
			t.Fatal(err)
		}
		if r := mesh.Merge(m); r.Mesh.NumFaces() != c.faces {
			t.Errorf("%s: %d faces, not %d", name, r.Mesh.NumFaces(), c.faces)
		}
	}
}
