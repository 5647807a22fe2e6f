package flowedits_test

import (
	"context"
	"strings"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/mapedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/pipeline"
	"morvek/models/modeltest"
)

// spoilt is a finished document, sealed, on which some faces were forgotten, one lies as a point and
// one is turned over.
func spoilt(t *testing.T) (d *document.Document, wrong []mesh.FaceID) {
	t.Helper()
	res, err := pipeline.Run(context.Background(), document.New(modeltest.Mesh(t, "survey-case"), document.DefaultSettings()), nil)
	if err != nil {
		t.Fatal(err)
	}
	d = res.Doc
	s := d.Begin()
	for _, f := range []mesh.FaceID{10, 11, 400, 401, 402, 900} {
		s.Map.Unmap(f)
	}
	lo, hi := d.Mesh.Corners(1500)
	for h := lo; h < hi; h++ {
		s.Map.Put(h, s.Map.At(lo))
	}
	d = edittest.Apply(t, d.With(s.Done()), &mapedits.Seal{})
	return d, []mesh.FaceID{10, 11, 400, 401, 402, 900, 1500}
}

// What was forgotten or went wrong on a sealed map is mapped again, nothing is wrong with it any more,
// and all others lie where they lay to the bit.
func TestWhatWentWrongIsFittedInAgain(t *testing.T) {
	d, wrong := spoilt(t)
	before := edittest.Measure(d).Totals
	if before.Unmapped != 6 || before.NoArea == 0 {
		t.Fatalf("it is not spoilt: %+v", before)
	}
	e := &flowedits.Refit{Faces: wrong}
	p, err := edit.Preview(context.Background(), d, e)
	if err != nil || !strings.Contains(p.Said, "others keep their place") {
		t.Fatalf("before it is taken: %q, %v", p.Said, err)
	}
	s, err := edit.Apply(context.Background(), d, e, nil)
	if err != nil {
		t.Fatal(err)
	}
	in := ids.Set(wrong)
	for h := range mesh.HalfedgeID(d.Mesh.NumCorners()) {
		if f := d.Mesh.FaceOf(h); !in[f] && (s.Map.At(h) != d.State.Map.At(h) || !s.Map.IsMapped(f)) {
			t.Fatalf("face %d moved", f)
		}
	}
	after := edittest.Measure(d.With(s)).Totals
	if after.Unmapped+after.NoArea+after.Mirrored+after.Outside > 0 || after.OverlapShare > before.OverlapShare+1e-9 {
		t.Errorf("afterwards it is %+v", after)
	}
	if got := document.Diff(d.State, s); got.Empty() {
		t.Error("nothing changed")
	}
	back, err := document.Diff(d.State, s).Undo(s)
	if left := document.Diff(d.State, back); err != nil || !left.Empty() {
		t.Errorf("taken back it is another state: %v", err)
	}
}

// A piece that has no hole, since all around it is cut or not mapped either, gets a place of its own.
func TestWhatHasNoHoleIsLaidBeside(t *testing.T) {
	d := edittest.Attached(t, meshtest.Lathe(t, 12, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 1}, r2.Vec{X: 0.5, Y: 2}), 0.5)
	d = edittest.Apply(t, d, &sheetedits.Pack{})
	shells, _ := d.State.Map.Shells()
	whole := shells[len(shells)-1].Faces
	d = edittest.Apply(t, d, &sheetedits.Clear{Faces: whole}, &mapedits.Seal{})
	s, err := edit.Apply(context.Background(), d, &flowedits.Refit{Faces: whole}, nil)
	if err != nil {
		t.Fatal(err)
	}
	if r := edittest.Measure(d.With(s)).Totals; r.Unmapped+r.Outside+r.Mirrored > 0 || r.OverlapShare > 0 {
		t.Errorf("it is %+v", r)
	}
	edittest.Refused(t, d, &flowedits.Refit{}, "no faces are picked")
}
