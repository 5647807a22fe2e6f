package jobs_test

import (
	"bytes"
	"context"
	"strings"
	"testing"

	"morvek/core/document"
	"morvek/core/edit/mapedits"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/meshio"
	"morvek/models/modeltest"
	"morvek/store"
	"morvek/workspace"
	"morvek/workspace/workspacetest"
)

func file(t *testing.T, slug string) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := meshio.Write(&b, "x.obj", modeltest.Mesh(t, slug), nil); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// The next revision of a model that is painted and sealed comes in with its map, its seal and its
// picture; what is the same lies where it lay, and undo takes it back. A model that has nothing in
// common with it is refused, and stays as it came.
func TestTheNextRevisionComesIn(t *testing.T) {
	ctx := context.Background()
	q, docs := open(t, 1), workspace.New(db, 0)
	old := workspacetest.New(t, db, "winch.obj", file(t, "line-winch"))
	if w := over(t, queue(t, q, old, 1)); w.State != "done" {
		t.Fatalf("%s", w.Message)
	}
	o, err := docs.Apply(ctx, workspace.First(old), head(t, old).Revision, store.By{}, &mapedits.Seal{})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := db.KeepPicture(ctx, store.Picture{DocumentID: old, Map: 1, Name: "painted.png", Media: "image/png", Width: 1, Height: 1}, []byte("x")); err != nil {
		t.Fatal(err)
	}
	next := workspacetest.New(t, db, "winch-b.obj", file(t, "line-winch-b"))
	n, err := docs.Get(ctx, next)
	if err != nil {
		t.Fatal(err)
	}
	work, err := q.Revise(ctx, n, workspace.First(old), "")
	if err != nil {
		t.Fatal(err)
	}
	if w := over(t, work); w.State != "done" {
		t.Fatalf("it ended as %q: %s", w.State, w.Message)
	}
	now, err := docs.Get(ctx, next)
	if err != nil {
		t.Fatal(err)
	}
	s := now.Doc.State
	if !s.Shown.Sealed || !strings.HasPrefix(now.Row.LastEdit, "keep the map of the model before: 10152 faces as they were, ") {
		t.Errorf("it is %+v, made by %q", s.Shown, now.Row.LastEdit)
	}
	if list, err := db.Pictures(ctx, next, 1); err != nil || len(list) != 1 {
		t.Errorf("painted are %v, %v", list, err)
	}
	names := map[string]bool{}
	for _, p := range s.Parts {
		if names[p.Name] {
			t.Errorf("two parts are called %s", p.Name)
		}
		names[p.Name] = true
	}
	places := map[[2]float64]bool{}
	for h := range mesh.HalfedgeID(o.Doc.Mesh.NumCorners()) {
		at := o.Doc.State.Map.At(h)
		places[[2]float64{at.X, at.Y}] = true
	}
	same := 0
	for h := range mesh.HalfedgeID(now.Doc.Mesh.NumCorners()) {
		if at := s.Map.At(h); places[[2]float64{at.X, at.Y}] {
			same++
		}
	}
	if same < now.Doc.Mesh.NumCorners()*8/10 {
		t.Errorf("%d of %d corners lie where one lay", same, now.Doc.Mesh.NumCorners())
	}
	if back, err := docs.Step(ctx, next, now.Row.Revision, "", true); err != nil || back.Doc.State.Shown.Sealed {
		t.Errorf("taken back: %v", err)
	}

	other := workspacetest.New(t, db, "can.obj", meshtest.CanFile(12))
	c, err := docs.Get(ctx, other)
	if err != nil {
		t.Fatal(err)
	}
	if work, err = q.Revise(ctx, c, workspace.First(old), ""); err != nil {
		t.Fatal(err)
	}
	if w := over(t, work); w.State != "failed" || !strings.Contains(w.Message, "nothing in common") || head(t, other).Head != 0 {
		t.Errorf("another model ended as %q: %s", w.State, w.Message)
	}
	if _, err := (&mapedits.Carry{}).Apply(ctx, c.Doc, nil); err == nil || !strings.Contains(document.Plainly(err), "bring the next revision in") {
		t.Errorf("asked for by itself: %v", err)
	}
}
