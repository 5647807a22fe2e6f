package mesh_test

import (
	"math"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// box is a unit cube with two faces a side and a material for the top.
func box(t *testing.T) *mesh.Mesh {
	t.Helper()
	b := mesh.NewBuilder()
	var p [8]mesh.PointID
	for i := range p {
		p[i] = b.Point(r3.Vec{X: float64(i & 1), Y: float64(i >> 1 & 1), Z: float64(i >> 2)})
	}
	b.Material("body")
	for _, q := range [][4]int{{0, 2, 3, 1}, {4, 5, 7, 6}, {0, 4, 6, 2}, {1, 3, 7, 5}, {0, 1, 5, 4}} {
		b.Face(p[q[0]], p[q[1]], p[q[2]])
		b.Face(p[q[0]], p[q[2]], p[q[3]])
	}
	b.Material("lid")
	b.Face(p[2], p[6], p[7])
	b.Face(p[2], p[7], p[3])
	m, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	return m
}

func TestFaceVerbs(t *testing.T) {
	m := box(t)
	one := []mesh.FaceID{10}
	for _, c := range []struct {
		name string
		got  []mesh.FaceID
		want int
	}{
		{"to the crease: the lid", m.GrowToCrease(one, 30*math.Pi/180), 2},
		{"over creases: everything", m.GrowToCrease(one, 100*math.Pi/180), 12},
		{"facing the same way within 5°", m.SameFacing(one, 5*math.Pi/180), 2},
		{"facing within 91°: lid and sides", m.SameFacing(one, 91*math.Pi/180), 10},
		{"material of the lid", m.SameMaterial(one), 2},
		{"both materials", m.SameMaterial([]mesh.FaceID{0, 10}), 12},
		{"nothing picked", m.GrowToCrease(nil, 1), 0},
	} {
		if len(c.got) != c.want || !slices.IsSorted(c.got) {
			t.Errorf("%s: %v, want %d faces", c.name, c.got, c.want)
		}
	}
	if got := m.GrowToCrease(one, 0.5); !slices.Contains(got, one[0]) {
		t.Errorf("the pick itself is missing from %v", got)
	}
}
