package store_test

import (
	"bytes"
	"context"
	"errors"
	"os"
	"testing"

	"morvek/store"
	"morvek/store/storetest"
)

var db *store.Store

func TestMain(m *testing.M) {
	os.Exit(storetest.Run(func(at *store.Store, _ string) (int, error) {
		db = at
		if err := db.Migrate(context.Background()); err != nil { // a second migration finds nothing to do
			return 0, err
		}
		return m.Run(), nil
	}))
}

func newDocument(t *testing.T) int64 {
	t.Helper()
	ctx := context.Background()
	p, err := db.CreateProject(ctx, "mast")
	if err != nil {
		t.Fatal(err)
	}
	id, err := db.CreateDocument(ctx, store.NewDocument{Project: p, Title: "lamp", FileName: "lamp.obj", Source: []byte("v 0 0 0"), Faces: 1, Points: 3, State: []byte("state 0")})
	if err != nil {
		t.Fatal(err)
	}
	return id
}

func edit(label string) []store.Edit {
	return []store.Edit{{Kind: "cut", Params: []byte(`{"edges":[1]}`), Label: label, Delta: []byte("delta " + label)}}
}

func snapshot(s string) func() ([]byte, error) {
	return func() ([]byte, error) { return []byte(s), nil }
}

func TestUndoRedoAndBranching(t *testing.T) {
	ctx := context.Background()
	id := newDocument(t)
	rev := int64(1)
	var err error
	for _, l := range []string{"a", "b", "c"} {
		if rev, err = db.Append(ctx, id, rev, edit(l), snapshot("s")); err != nil {
			t.Fatal(err)
		}
	}
	e, rev, err := db.Undo(ctx, id, rev)
	if err != nil || e.Label != "c" || string(e.Delta) != "delta c" {
		t.Fatalf("undo gave %q, %v", e.Label, err)
	}
	st, err := db.Load(ctx, id)
	if err != nil || st.Head != 2 || len(st.Deltas) != 2 || st.Back || st.LastEdit != "b" || st.NextEdit != "c" {
		t.Fatalf("after undo: head %d, %d deltas, last %q, next %q, %v", st.Head, len(st.Deltas), st.LastEdit, st.NextEdit, err)
	}
	if e, rev, err = db.Redo(ctx, id, rev); err != nil || e.Label != "c" {
		t.Fatalf("redo gave %q, %v", e.Label, err)
	}
	if _, rev, err = db.Undo(ctx, id, rev); err != nil {
		t.Fatal(err)
	}
	if rev, err = db.Append(ctx, id, rev, edit("d"), snapshot("s")); err != nil {
		t.Fatal(err)
	}
	if _, _, err = db.Redo(ctx, id, rev); !errors.Is(err, store.ErrNothing) {
		t.Errorf("redo after a new edit gave %v", err)
	}
	log, err := db.Worklog(ctx, id)
	if err != nil || len(log) != 3 || log[0].Label != "d" {
		t.Errorf("worklog of %d, %v", len(log), err)
	}
}

func TestStaleRevisionChangesNothing(t *testing.T) {
	ctx := context.Background()
	id := newDocument(t)
	if _, err := db.Append(ctx, id, 1, edit("first"), snapshot("s")); err != nil {
		t.Fatal(err)
	}
	if _, err := db.Append(ctx, id, 1, edit("late"), snapshot("s")); !errors.Is(err, store.ErrStale) {
		t.Errorf("a stale edit gave %v", err)
	}
	if _, _, err := db.Undo(ctx, id, 1); !errors.Is(err, store.ErrStale) {
		t.Errorf("a stale undo gave %v", err)
	}
	if d, err := db.Document(ctx, id); err != nil || d.Revision != 2 || d.LastEdit != "first" {
		t.Errorf("the document is at %d after %q, %v", d.Revision, d.LastEdit, err)
	}
}

func TestSnapshotsShortenLoading(t *testing.T) {
	ctx := context.Background()
	id := newDocument(t)
	rev := int64(1)
	var err error
	for range 30 {
		if rev, err = db.Append(ctx, id, rev, edit("x"), snapshot("later")); err != nil {
			t.Fatal(err)
		}
	}
	st, err := db.Load(ctx, id)
	if err != nil || string(st.Snapshot) != "later" || len(st.Deltas) != 6 {
		t.Fatalf("snapshot %q with %d deltas, %v", st.Snapshot, len(st.Deltas), err)
	}
	for range 10 {
		if _, rev, err = db.Undo(ctx, id, rev); err != nil {
			t.Fatal(err)
		}
	}
	if st, err = db.Load(ctx, id); err != nil || !st.Back || len(st.Deltas) != 4 {
		t.Errorf("behind the snapshot: back %v, %d deltas, %v", st.Back, len(st.Deltas), err)
	}
}

func TestModelsAreStoredOnce(t *testing.T) {
	ctx := context.Background()
	a, err := db.Document(ctx, newDocument(t))
	if err != nil {
		t.Fatal(err)
	}
	b, err := db.Document(ctx, newDocument(t))
	if err != nil || a.ModelHash != b.ModelHash {
		t.Errorf("one content has two hashes, %v", err)
	}
	src, err := db.Source(ctx, a.ModelHash)
	if err != nil || !bytes.Equal(src, []byte("v 0 0 0")) {
		t.Errorf("source is %q, %v", src, err)
	}
	if _, err := db.Document(ctx, 1<<40); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("a missing document gave %v", err)
	}
}

func TestFinishedWorkStaysFinished(t *testing.T) {
	ctx := context.Background()
	id, err := db.CreateWork(ctx, newDocument(t), "run")
	if err != nil {
		t.Fatal(err)
	}
	for _, step := range []error{db.Advance(ctx, id, "parts", 0.3), db.Finish(ctx, id, "cancelled", ""), db.Advance(ctx, id, "flow", 0.6), db.Finish(ctx, id, "done", "")} {
		if step != nil {
			t.Fatal(step)
		}
	}
	if w, err := db.Work(ctx, id); err != nil || w.State != "cancelled" || w.Station != "parts" {
		t.Errorf("work is %q at %q, %v", w.State, w.Station, err)
	}
}
