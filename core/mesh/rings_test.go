package mesh_test

import (
	"math/rand/v2"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// sheetOf is a flat grid of n by n squares.
func sheetOf(t *testing.T, n int) *mesh.Mesh {
	t.Helper()
	b := mesh.NewBuilder()
	p := make([]mesh.PointID, (n+1)*(n+1))
	for i := range p {
		p[i] = b.Point(r3.Vec{X: float64(i % (n + 1)), Y: float64(i / (n + 1))})
	}
	for i := range n * n {
		k := i/n*(n+1) + i%n
		b.Face(p[k], p[k+1], p[k+n+2], p[k+n+1])
	}
	m, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	return m
}

func TestRingsOfFaces(t *testing.T) {
	m := sheetOf(t, 9)
	middle := []mesh.FaceID{40}
	ring := m.GrowFaces(middle)
	two := m.GrowFaces(ring)
	if len(ring) != 9 || len(two) != 25 {
		t.Fatalf("a square grows to %d and %d", len(ring), len(two))
	}
	if got := m.ShrinkFaces(two); !slices.Equal(got, ring) {
		t.Errorf("two rings shrink to %v, not %v", got, ring)
	}
	if got := m.ShrinkFaces(m.ShrinkFaces(m.ShrinkFaces(two))); len(got) != 0 {
		t.Errorf("three rings off two leave %v", got)
	}
	all := m.GrowFaces(m.GrowFaces(two))
	if len(all) != 81 || len(m.ShrinkFaces(all)) != 81 {
		t.Errorf("at the border of the model nothing is beyond: %d, %d", len(all), len(m.ShrinkFaces(all)))
	}
	if got := m.GrowFaces(nil); len(got) != 0 {
		t.Errorf("nothing grows to %v", got)
	}
}

// Shrinking what has grown gives back what was there, whatever was picked.
func TestGrowingHoldsWhatItGrewFrom(t *testing.T) {
	m, r := sheetOf(t, 9), rand.New(rand.NewPCG(7, 7))
	for range 50 {
		var pick []mesh.FaceID
		for f := range mesh.FaceID(m.NumFaces()) {
			if r.IntN(6) == 0 {
				pick = append(pick, f)
			}
		}
		back := m.ShrinkFaces(m.GrowFaces(pick))
		for _, f := range pick {
			if !slices.Contains(back, f) {
				t.Fatalf("%d is lost of %v", f, pick)
			}
		}
		for _, f := range m.ShrinkFaces(pick) {
			if !slices.Contains(pick, f) {
				t.Fatalf("%d was not in %v", f, pick)
			}
		}
	}
}

func TestRingsOfEdges(t *testing.T) {
	m := sheetOf(t, 9)
	between := func(a, b mesh.FaceID) mesh.EdgeID {
		for e := range mesh.EdgeID(m.NumEdges()) {
			if x, y := m.EdgeFaces(e); x == a && y == b || x == b && y == a {
				return e
			}
		}
		t.Fatalf("no edge between %d and %d", a, b)
		return 0
	}
	one := []mesh.EdgeID{between(40, 41)}
	if got := m.GrowEdges(one); len(got) != 7 {
		t.Errorf("an edge grows to %d, with three more at each end", len(got))
	}
	line := []mesh.EdgeID{between(31, 32), between(40, 41), between(49, 50), between(58, 59)}
	if got := m.ShrinkEdges(line); !slices.Equal(got, []mesh.EdgeID{line[1], line[2]}) {
		t.Errorf("a line of %v shrinks to %v", line, got)
	}
	loop := m.BorderOf([]mesh.FaceID{40, 41})
	if got := m.ShrinkEdges(loop); !slices.Equal(got, loop) {
		t.Errorf("a loop of %d loses %d", len(loop), len(loop)-len(got))
	}
}

func TestSameSize(t *testing.T) {
	m := box(t)
	if got := m.SameSize([]mesh.FaceID{3}); len(got) != 12 {
		t.Errorf("the halves of the sides of a cube are alike: %d of 12", len(got))
	}
	if got := m.SameSize(nil); len(got) != 0 {
		t.Errorf("nothing is like %v", got)
	}
}
