package workspace_test

import (
	"context"
	"errors"
	"testing"

	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/store"
	"morvek/workspace"
	"morvek/workspace/workspacetest"
)

// What was done is forgotten for good when somebody says so; the model, its named states and what comes
// after stay, here and in other processes.
func TestTheEndOfHistory(t *testing.T) {
	ctx := context.Background()
	docs, others := workspace.New(db, 0), workspace.New(db, 0)
	id := workspacetest.NewCan(t, db, 16)
	first := workspace.First(id)
	if _, err := docs.EndHistory(ctx, id, 1, ""); !errors.Is(err, store.ErrNothing) {
		t.Errorf("of nothing: %v", err)
	}
	o, err := docs.Apply(ctx, first, 1, store.By{Key: "a"}, &partedits.Recognise{})
	if err != nil {
		t.Fatal(err)
	}
	if err := docs.Name(ctx, first, workspace.When{Seq: store.Now}, "as sent", "Isla"); err != nil {
		t.Fatal(err)
	}
	moments, err := db.Moments(ctx, id)
	if err != nil || len(moments) != 1 {
		t.Fatal(moments, err)
	}
	named := moments[0].ID
	if o, err = docs.Apply(ctx, first, o.Row.Revision, store.By{Key: "b"}, &seamedits.Open{}); err != nil {
		t.Fatal(err)
	}
	want := stateOf(t, o, nil)
	if _, err := others.Get(ctx, id); err != nil { // has it open as it was
		t.Fatal(err)
	}
	if _, err := docs.EndHistory(ctx, id, o.Row.Revision-1, ""); !errors.Is(err, store.ErrStale) {
		t.Errorf("of a state that has passed: %v", err)
	}
	o, err = docs.EndHistory(ctx, id, o.Row.Revision, "Isla")
	if err != nil || string(stateOf(t, o, nil)) != string(want) || o.Row.Head != 0 || o.Row.LastEdit != "" {
		t.Fatalf("head %d, %v", o.Row.Head, err)
	}
	for _, d := range []*workspace.Documents{docs, others} {
		r, err := d.Get(ctx, id)
		if err != nil || string(stateOf(t, r, nil)) != string(want) {
			t.Fatalf("it is another: %v", err)
		}
		if _, err := d.Step(ctx, id, r.Row.Revision, "", true); !errors.Is(err, store.ErrNothing) {
			t.Errorf("it was undone all the same: %v", err)
		}
		if m, err := d.Was(ctx, first, workspace.When{Moment: named}); err != nil || len(m.Doc.State.Parts) == 0 {
			t.Errorf("the named state: %v", err)
		}
	}
	if o, err = others.Apply(ctx, first, o.Row.Revision, store.By{Key: "c"}, &partedits.Recognise{}); err != nil {
		t.Fatal(err)
	}
	if o, err = docs.Step(ctx, id, o.Row.Revision, "", true); err != nil || string(stateOf(t, o, nil)) != string(want) {
		t.Errorf("undone to where history began anew: %v", err)
	}
}
