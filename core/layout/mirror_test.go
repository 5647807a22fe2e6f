package layout_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/layout"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// wings is two scalene plates, one the mirror image of the other at X = 0.
func wings(t *testing.T) *layout.Document {
	t.Helper()
	w := meshtest.NewWelder()
	outline := []r3.Vec{{X: 1}, {X: 4}, {X: 3, Y: 2}, {X: 1, Y: 0.7}}
	var right, left []mesh.PointID
	for i := range outline {
		right = append(right, w.Point(outline[i]))
		q := outline[len(outline)-1-i]
		left = append(left, w.Point(r3.Vec{X: -q.X, Y: q.Y}))
	}
	w.Face(right...)
	w.Face(left...)
	return layout.New(w.Mesh(t), layout.DefaultSettings())
}

// The mirrored half gets the map of the other, mirrored, so that both face up.
func TestMirroredHalfFollows(t *testing.T) {
	d := apply(t, wings(t), &layout.Recognise{})
	mirror, ok := d.Mirror()
	if !ok || math.Abs(mirror.Normal.X) < 0.999 {
		t.Fatalf("mirror plane %v, %v", mirror, ok)
	}
	mirrored := 0
	for _, p := range d.State.Parts {
		if p.Mirrored {
			mirrored++
		}
	}
	if mirrored != 1 {
		t.Fatalf("%d mirrored parts, want one wing", mirrored)
	}
	refused(t, d, &layout.FollowMirror{}, "no mapped part")
	first := d.State.PartFaces()[0][0]
	d = apply(t, d, &layout.Flatten{Faces: []mesh.FaceID{first}}, &layout.FollowMirror{})
	r := measure(d)
	if r.Totals.Unmapped != 0 || r.Totals.Mirrored != 0 || r.Totals.OverlapShare != 0 {
		t.Errorf("unmapped %d, mirrored %d, overlap %g", r.Totals.Unmapped, r.Totals.Mirrored, r.Totals.OverlapShare)
	}
	if math.Abs(r.Totals.L2-1) > 1e-9 {
		t.Errorf("L2 %g", r.Totals.L2)
	}
	plain := apply(t, cans(t, 1), &layout.Recognise{}, &layout.Open{}, &layout.Flatten{})
	refused(t, plain, &layout.FollowMirror{}, "no mapped part")
}
