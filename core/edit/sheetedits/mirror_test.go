package sheetedits_test

import (
	"context"
	"math"
	"testing"
	"time"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// The mirrored half gets the map of the other, mirrored, so that both face up.
func TestMirroredHalfFollows(t *testing.T) {
	d := edittest.Apply(t, edittest.Wings(t), &partedits.Recognise{})
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
	edittest.Refused(t, d, &sheetedits.FollowMirror{}, "no part can follow: 1 not mapped")
	first := d.State.PartFaces()[0][0]
	d = edittest.Apply(t, d, &flowedits.Flatten{Faces: []mesh.FaceID{first}}, &sheetedits.FollowMirror{})
	r := edittest.Measure(d)
	if r.Totals.Unmapped != 0 || r.Totals.Mirrored != 0 || r.Totals.OverlapShare != 0 {
		t.Errorf("unmapped %d, mirrored %d, overlap %g", r.Totals.Unmapped, r.Totals.Mirrored, r.Totals.OverlapShare)
	}
	if math.Abs(r.Totals.L2-1) > 1e-9 {
		t.Errorf("L2 %g", r.Totals.L2)
	}
	plain := edittest.Apply(t, edittest.Cans(t, 1), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{})
	edittest.Refused(t, plain, &sheetedits.FollowMirror{}, "no part can follow")
}

// Parts that are symmetric in themselves follow too, and what cannot is counted.
func TestWhatCanFollowTheMirrorDoes(t *testing.T) {
	w := meshtest.NewWelder()
	box := func(x float64) {
		for _, sign := range []float64{1, -1} {
			a, b, c, e := w.Point(r3.Vec{X: sign * x, Z: 0}), w.Point(r3.Vec{X: sign * (x + 1), Z: 0}), w.Point(r3.Vec{X: sign * (x + 1), Z: 1}), w.Point(r3.Vec{X: sign * x, Z: 1})
			if sign > 0 {
				w.Face(a, e, c, b)
			} else {
				w.Face(a, b, c, e)
			}
		}
	}
	box(1)
	box(4)
	w.Face(w.Point(r3.Vec{X: -0.5, Y: 2}), w.Point(r3.Vec{X: -0.5, Y: 2, Z: 1}), w.Point(r3.Vec{X: 0.5, Y: 2, Z: 1}), w.Point(r3.Vec{X: 0.5, Y: 2})) // across
	d := edittest.Apply(t, document.New(w.Mesh(t), document.DefaultSettings()), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{})
	e := &sheetedits.FollowMirror{}
	d = edittest.Apply(t, d, e)
	s, err := e.Apply(context.Background(), d, nil)
	if err != nil {
		t.Fatal(err)
	}
	if got := e.Describe(); got != "let the mirrored half follow: 2 parts; left as they are: 1 across the plane" {
		t.Errorf("it says %q", got)
	}
	if r := edittest.Measure(d.With(s)); r.Totals.Mirrored != 0 || r.Totals.Unmapped != 0 {
		t.Errorf("mirrored %d, unmapped %d", r.Totals.Mirrored, r.Totals.Unmapped)
	}
}

// Who does not wait is told later; looking goes on meanwhile.
func TestTheMirrorComesWhenItIsFound(t *testing.T) {
	d := edittest.Wings(t)
	_, _, known := d.MirrorWithin(context.Background(), 0)
	m, ok, later := d.MirrorWithin(context.Background(), time.Hour)
	if !later || !ok || math.Abs(m.Normal.X) < 0.999 {
		t.Errorf("at once known: %v; then %v, %v, %v", known, m, ok, later)
	}
}
