package pipeline_test

import (
	"bytes"
	"context"
	"math"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/mapedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/proofedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/core/pipeline"
	"morvek/core/pipeline/pipelinetest"
	"morvek/core/proof"
	"morvek/core/revise"
	"morvek/models/modeltest"
)

func do(t *testing.T, d *document.Document, edits ...edit.Edit) *document.Document {
	t.Helper()
	for _, e := range edits {
		s, err := edit.Apply(context.Background(), d, e, nil)
		if err != nil {
			t.Fatalf("%s: %v", e.Describe(), err)
		}
		d = d.With(s)
	}
	return d
}

func named(t *testing.T, d *document.Document, name string) (document.PartID, []mesh.FaceID) {
	t.Helper()
	for p, q := range d.State.Parts {
		if q.Name == name {
			return document.PartID(p), d.State.PartFaces()[p]
		}
	}
	t.Fatalf("there is no %s", name)
	return 0, nil
}

// What people said of a model holds for its next revision: of parts that stay, of those that moved, and
// of those that are done anew.
func TestWishesGoOverToTheNextRevision(t *testing.T) {
	ctx := context.Background()
	set := document.DefaultSettings()
	set.Dial = 0.4
	plain := pipelinetest.Finished(t, modeltest.Mesh(t, "line-winch"), set)
	d := plain
	drum, _ := named(t, d, "drum wall 1")    // is done anew
	flange, _ := named(t, d, "drum plate 1") // moves
	crank, _ := named(t, d, "crank bar")
	ground, plate := named(t, d, "base plate 1")
	_, guard := named(t, d, "guard profile")
	toward := document.GrainWish{Of: document.GrainToward, Direction: r3.Vec{Y: 1}}
	d = do(t, d,
		&flowedits.SetGrain{Parts: []document.PartID{drum}, GrainWish: document.GrainWish{Of: document.GrainAlong}}, &flowedits.SetGrain{Parts: []document.PartID{flange}, GrainWish: toward},
		&partedits.Weigh{Parts: []document.PartID{drum}, Weight: 0.5}, &partedits.Rename{Part: crank, Name: "handle"}, &partedits.PartOff{Faces: plate[:3], Name: "corner"}, &partedits.Lock{Parts: []document.PartID{ground}, Locked: true},
		&seamedits.Keep{Faces: guard[:4], Whole: true}, &seamedits.SavePicks{Name: "rim", Edges: d.Mesh.EdgesWithin(guard)[:5]}, &flowedits.SetLabel{Faces: guard[:1], Word: "Up"},
		&sheetedits.Lock{Faces: guard[:1], Locked: true}, &proofedits.Mark{})
	now := modeltest.Mesh(t, "line-winch-b")
	m, err := revise.Compare(ctx, d.State.Map, now)
	if err != nil {
		t.Fatal(err)
	}
	next, c, err := pipeline.Revise(ctx, document.New(now, document.DefaultSettings()), pipeline.Before{Doc: d, ID: 7, Match: m}, nil)
	if err != nil {
		t.Fatal(err)
	}
	n := next.Doc
	if c.Kept < 9000 || c.New == 0 || n.State.Settings.Dial != 0.4 {
		t.Errorf("%+v, dial %g", c, n.State.Settings.Dial)
	}
	same := func(name string) (was, is *document.Part, before, after []mesh.FaceID) {
		t.Helper()
		p, before := named(t, d, name)
		q, after := named(t, n, name)
		return d.State.Parts[p], n.State.Parts[q], before, after
	}
	for _, name := range []string{"drum wall 1", "drum plate 1"} {
		was, is, _, _ := same(name)
		if !is.GrainOwn || is.Grain.Mode != was.Grain.Mode || math.Abs(r3.Dot(is.Grain.Axis, was.Grain.Axis)) < 1-1e-9 || is.Weight != was.Weight {
			t.Errorf("%s: grain %+v, own %v, weight %g; it was %+v, %g", name, is.Grain, is.GrainOwn, is.Weight, was.Grain, was.Weight)
		}
	}
	_, drumNow, _, wall := same("drum wall 1")
	r := proof.Measure(n.ProofInput())
	shell := r.Shells[r.ShellOf[wall[0]]]
	if share := shell.Density / r.Totals.MeanDensity; drumNow.Weight != 0.5 || share > 0.6 || shell.GrainOverDeg > 1 {
		t.Errorf("the drum is laid at %.2f of the density of all, weighing %g; %.1f° off the grain", share, drumNow.Weight, shell.GrainOverDeg)
	}
	for _, name := range []string{"corner", "handle", "base plate 1"} { // as people made, called and locked them
		was, is, before, after := same(name)
		if len(before) != len(after) || was.Locked != is.Locked {
			t.Errorf("%s had %d faces and has %d; locked %v, %v", name, len(before), len(after), was.Locked, is.Locked)
		}
	}
	w := n.State.Wishes
	if len(w.Whole) != 4 || len(w.Picks) != 1 || len(w.Picks[0].Edges) != 5 || len(w.Labels) != 1 || w.Labels[0].Word != "Up" || len(w.Locked) != 1 || w.Marked == nil {
		t.Errorf("kept are %+v", w)
	}
	if back, err := document.Restore(now, bytesOf(t, n)); err != nil || !bytes.Equal(bytesOf(t, n.With(back.State)), bytesOf(t, n)) {
		t.Errorf("it cannot be stored: %v", err)
	}
	if kinds := kindsOf(next); !slices.Contains(kinds, "carry-wishes") || kinds[len(kinds)-1] != "carry-map" {
		t.Errorf("it was done by %v", kinds)
	}

	// The other maps come along too, each as it is: here one for tiling, painted and sealed, of the guard only.
	boards := do(t, d, &mapedits.Make{Name: "Boards", Purpose: document.Tiling, Faces: guard[:1]})
	tiling, _ := boards.State.Through(2)
	sealed := do(t, boards.With(tiling), &sheetedits.WeighFaces{Faces: guard[:1], Weight: 2}, &mapedits.Seal{})
	first, _ := sealed.State.Through(1)
	both, c, err := pipeline.Revise(ctx, document.New(now, document.DefaultSettings()), pipeline.Before{Doc: sealed.With(first), Match: m}, nil)
	if err != nil {
		t.Fatal(err)
	}
	second, ok := both.Doc.State.Through(2)
	if !ok || len(c.Maps) != 2 || !second.Shown.Sealed || second.Shown.Name != "Boards" || second.Shown.Purpose != document.Tiling || both.Doc.State.Shown.ID != 1 {
		t.Fatalf("the other map is %+v, %+v", second, c.Maps)
	}
	if w := second.Wishes.Weights; len(w) != 1 || w[0].Weight != 2 {
		t.Errorf("of the other map %v is weighed", w)
	}
	for f := range mesh.FaceID(now.NumFaces()) {
		lo, hi := now.Corners(f)
		for h := lo; h < hi && second.Map.IsMapped(f); h++ {
			if was := m.Corner[h]; was == mesh.None || second.Map.At(h) != tiling.Map.At(was) {
				t.Fatalf("face %d lies elsewhere on the other map", f)
			}
		}
	}
	if n, was := count(second.Map.Mapped()), count(tiling.Map.Mapped()); n != was || n == 0 {
		t.Errorf("%d faces lie on the other map, %d lay there", n, was)
	}

	// A model of which nobody said anything gives nothing to go over.
	if s := revise.Adopt(plain, plain, identity(t, plain)); !document.Diff(plain.State, s).Empty() {
		t.Error("of a model nobody worked on something goes over to itself")
	}
}

func count(list []bool) (n int) {
	for _, x := range list {
		if x {
			n++
		}
	}
	return n
}

func bytesOf(t *testing.T, d *document.Document) []byte {
	t.Helper()
	b, err := d.State.MarshalBinary()
	if err != nil {
		t.Fatal(err)
	}
	return b
}

func kindsOf(r pipeline.Result) (out []string) {
	for _, k := range r.Taken {
		out = append(out, k.Edit.Kind())
	}
	return out
}

func identity(t *testing.T, d *document.Document) revise.Match {
	t.Helper()
	m, err := revise.Compare(context.Background(), d.State.Map, d.Mesh)
	if err != nil {
		t.Fatal(err)
	}
	return m
}
