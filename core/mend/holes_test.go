package mend_test

import (
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mend"
	"morvek/core/mesh"
)

// A box with sides missing is closed again by as many, whichever they are; where two that are missing
// meet at one corner the border runs round once all the same.
func TestHolesAreClosed(t *testing.T) {
	for gone := 1; gone < 63; gone++ {
		b := mesh.NewBuilder()
		box(b, r3.Vec{}, r3.Vec{X: 1, Y: 2, Z: 3})
		whole := built(t, b)
		var faces []mesh.Recut
		for f := range mesh.FaceID(6) {
			if gone>>f&1 == 0 {
				faces = append(faces, whole.Whole(f))
			}
		}
		torn, err := whole.Recut(faces)
		if err != nil {
			t.Fatal(err)
		}
		if _, done := do(t, torn, "all"); slices.ContainsFunc(done, func(c mend.Change) bool { return c.Kind == "holes" }) {
			t.Fatal("a border was closed that nobody asked to be")
		}
		w, done := do(t, torn, "holes")
		if len(done) != 1 {
			t.Fatalf("without %b: %v", gone, done)
		}
		for _, a := range w.Health() {
			if a.Kind == "open-border" || a.Kind == "crowded-edge" {
				t.Errorf("without %b: %s is left", gone, a.Kind)
			}
		}
		if one := gone&(gone-1) == 0; one && (w.NumFaces() != 6 || w.NumEdges() != 12 || volume(w) < 5.99) {
			t.Errorf("without one side (%b): %d faces, %d edges, volume %g", gone, w.NumFaces(), w.NumEdges(), volume(w))
		}
	}
}

// What closes a hole has the names of its neighbours and no place on their maps; borders that touch
// themselves, and edges of too many faces, are left.
func TestWhatClosesAHole(t *testing.T) {
	b := mesh.NewBuilder()
	b.Object("lid")
	b.Material("tin")
	p := []mesh.PointID{b.Point(r3.Vec{}), b.Point(r3.Vec{X: 1}), b.Point(r3.Vec{Y: 1}), b.Point(r3.Vec{X: -1}), b.Point(r3.Vec{Y: -1})}
	b.Face(p[0], p[1], p[2])
	b.Face(p[0], p[3], p[4]) // touches at a point
	if w, done := do(t, built(t, b), "holes"); len(done) != 0 || w.NumFaces() != 2 {
		t.Errorf("a border that touches itself was closed: %v", done)
	}
	b = mesh.NewBuilder()
	b.Object("lid")
	b.Material("tin")
	uv := b.UV(r2.Vec{X: 0.5})
	for _, q := range []r3.Vec{{}, {X: 1}, {X: 1, Y: 1}} {
		b.Corner(b.Point(q), uv, mesh.None)
	}
	b.EndFace()
	w, _ := do(t, built(t, b), "holes")
	if w.NumFaces() != 2 || w.MaterialName(1) != "tin" || w.ObjectName(1) != "lid" {
		t.Fatalf("%d faces, the last of %q", w.NumFaces(), w.MaterialName(1))
	}
	lo, hi := w.Corners(1)
	for h := lo; h < hi; h++ {
		if w.CornerUV[h] != mesh.None {
			t.Error("what closes a hole lies on the map of its neighbour")
		}
	}
}
