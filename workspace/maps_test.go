package workspace_test

import (
	"bytes"
	"context"
	"errors"
	"reflect"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/mapedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/core/proof"
	"morvek/store"
	"morvek/workspace"
)

// Edits of two maps are one worklog: a fresh process rebuilds every state of it, and a step
// changes the map that its edit was made of, whichever is looked at.
func TestEditsOfSeveralMapsAreOneWorklog(t *testing.T) {
	ctx := context.Background()
	docs := workspace.New(db, 0)
	o := mapped(t, docs)
	id := o.Row.ID
	two := workspace.Ref{Document: id, Map: 2}
	var err error
	states := [][]byte{stateOf(t, o, nil)}
	head := o.Row.Revision
	do := func(to workspace.Ref, e edit.Edit) *workspace.Opened {
		t.Helper()
		if o, err = docs.Apply(ctx, to, head, store.By{}, e); err != nil {
			t.Fatal(err)
		}
		head = o.Row.Revision
		first, err := o.Through(0)
		states = append(states, stateOf(t, first, err))
		return o
	}
	shift := &sheetedits.Move{Faces: []mesh.FaceID{0}, Shift: r2.Vec{X: 2}}
	do(workspace.First(id), &mapedits.Make{Name: "Boards", Purpose: document.Tiling, All: true})
	do(two, shift)
	do(workspace.First(id), &partedits.Rename{Part: 0, Name: "lid"})
	moved := do(two, shift)
	if moved.Doc.State.Shown.ID != 2 || moved.Doc.State.Parts[0].Name != "lid" {
		t.Errorf("seen through map %d, the part is called %s", moved.Doc.State.Shown.ID, moved.Doc.State.Parts[0].Name)
	}
	if _, err := moved.Through(3); !errors.Is(err, workspace.ErrNoMap) {
		t.Errorf("a map that is not there: %v", err)
	}
	for _, ref := range []workspace.Ref{workspace.First(id), two} { // measured along with what changed, or whole
		seen, err := docs.Through(ctx, ref)
		if err != nil {
			t.Fatal(err)
		}
		if whole := proof.Measure(seen.Doc.ProofInput()); !reflect.DeepEqual(seen.Proof(), whole) {
			t.Errorf("map %d is measured otherwise than whole", ref.Map)
		}
	}
	for at := len(states) - 1; at > 0; at-- {
		back, err := docs.Step(ctx, id, head, "", true)
		if err != nil {
			t.Fatal(err)
		}
		head = back.Row.Revision
		if want := []document.MapID{1, 2, 1, 2}[at-1]; back.Doc.State.Shown.ID != want {
			t.Errorf("undoing edit %d shows map %d", at, back.Doc.State.Shown.ID)
		}
		for _, d := range []*workspace.Documents{docs, workspace.New(db, 0)} {
			if now, err := d.Get(ctx, id); !bytes.Equal(stateOf(t, now, err), states[at-1]) {
				t.Fatalf("undone to %d edits it differs", at-1)
			}
		}
	}
}

// Work on one map lands after what was changed in another meanwhile, and not in a map that is
// gone.
func TestLongWorkOnOneMapLandsAfterWorkOnAnother(t *testing.T) {
	ctx := context.Background()
	docs, others := workspace.New(db, 0), workspace.New(db, 0)
	o := mapped(t, docs)
	id := o.Row.ID
	o, err := docs.Apply(ctx, workspace.First(id), o.Row.Revision, store.By{}, &mapedits.Make{Name: "Boards", Purpose: document.Tiling, All: true})
	if err != nil {
		t.Fatal(err)
	}
	two, err := o.Through(2)
	if err != nil {
		t.Fatal(err)
	}
	first, err := others.Apply(ctx, workspace.First(id), o.Row.Revision, store.By{}, &sheetedits.Move{Faces: []mesh.FaceID{0}, Shift: r2.Vec{X: 0.01}})
	if err != nil {
		t.Fatal(err)
	}
	done, err := docs.ApplyLong(ctx, two, store.By{}, &sheetedits.Clear{}, nil)
	if err != nil {
		t.Fatal(err)
	}
	if one, err := done.Through(1); err != nil || done.Doc.State.Map.AnyMapped() || !reflect.DeepEqual(one.Doc.State.Map.UV(), first.Doc.State.Map.UV()) {
		t.Error("both changes are not there")
	}
	gone, err := others.Apply(ctx, workspace.First(id), done.Row.Revision, store.By{}, &mapedits.Remove{Map: 2})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := docs.ApplyLong(ctx, done, store.By{}, &sheetedits.Pack{}, nil); err == nil || gone == nil {
		t.Error("work landed in a map that is gone")
	}
	if _, err := docs.ApplyLong(ctx, two, store.By{Key: "again"}, &sheetedits.Clear{}, nil); !errors.Is(err, store.ErrStale) {
		t.Errorf("in a map that is gone: %v", err)
	}
}
