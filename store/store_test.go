package store_test

import (
	"bytes"
	"context"
	"database/sql"
	"errors"
	"os"
	"slices"
	"sync"
	"sync/atomic"
	"testing"

	"morvek/store"
	"morvek/store/storetest"
)

var (
	db      *store.Store
	address string // of its database
)

func TestMain(m *testing.M) {
	os.Exit(storetest.Run(func(at *store.Store, url string) (int, error) {
		db, address = at, url
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
	at := store.Document{Revision: 1}
	var err error
	for _, l := range []string{"a", "b", "c"} {
		if at, err = db.Append(ctx, id, at.Revision, edit(l), snapshot("s")); err != nil || at.LastEdit != l {
			t.Fatal(at, err)
		}
	}
	e, at, err := db.Undo(ctx, id, at.Revision, "Ada")
	if err != nil || e.Label != "c" || string(e.Delta) != "delta c" {
		t.Fatalf("undo gave %q, %v", e.Label, err)
	}
	st, err := db.Load(ctx, id)
	if err != nil || st.Head != 2 || len(st.Deltas) != 2 || st.Back || st.LastEdit != "b" || st.NextEdit != "c" {
		t.Fatalf("after undo: head %d, %d deltas, last %q, next %q, %v", st.Head, len(st.Deltas), st.LastEdit, st.NextEdit, err)
	}
	if at.Head != 2 || at.NextEdit != "c" || at.Revision != st.Revision {
		t.Errorf("undo returned %+v", at)
	}
	if e, at, err = db.Redo(ctx, id, at.Revision, "Ada"); err != nil || e.Label != "c" {
		t.Fatalf("redo gave %q, %v", e.Label, err)
	}
	if _, at, err = db.Undo(ctx, id, at.Revision, "Ada"); err != nil {
		t.Fatal(err)
	}
	if at, err = db.Append(ctx, id, at.Revision, edit("d"), snapshot("s")); err != nil {
		t.Fatal(err)
	}
	if _, _, err = db.Redo(ctx, id, at.Revision, "Ada"); !errors.Is(err, store.ErrNothing) {
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
	if _, _, err := db.Undo(ctx, id, 1, "Ada"); !errors.Is(err, store.ErrStale) {
		t.Errorf("a stale undo gave %v", err)
	}
	if d, err := db.Document(ctx, id); err != nil || d.Revision != 2 || d.LastEdit != "first" {
		t.Errorf("the document is at %d after %q, %v", d.Revision, d.LastEdit, err)
	}
}

func TestSnapshotsShortenLoading(t *testing.T) {
	ctx := context.Background()
	id := newDocument(t)
	at := store.Document{Revision: 1}
	var err error
	for range 50 {
		if at, err = db.Append(ctx, id, at.Revision, edit("x"), snapshot("later")); err != nil {
			t.Fatal(err)
		}
	}
	st, err := db.Load(ctx, id)
	if err != nil || len(st.Deltas) != 50 || !at.WantsSnapshot() {
		t.Fatalf("%d deltas after 50 edits, %v", len(st.Deltas), err)
	}
	if err := db.KeepSnapshot(ctx, store.Document{ID: id, Revision: at.Revision - 1}, []byte("too old")); err != nil {
		t.Fatal(err)
	}
	if err := db.KeepSnapshot(ctx, at, []byte("later")); err != nil {
		t.Fatal(err)
	}
	if st, err = db.Load(ctx, id); err != nil || string(st.Snapshot) != "later" || len(st.Deltas) != 0 || st.WantsSnapshot() {
		t.Fatalf("snapshot %q with %d deltas, %v", st.Snapshot, len(st.Deltas), err)
	}
	for range 6 {
		if at, err = db.Append(ctx, id, at.Revision, edit("x"), snapshot("later still")); err != nil {
			t.Fatal(err)
		}
	}
	if st, err = db.Load(ctx, id); err != nil || string(st.Snapshot) != "later" || len(st.Deltas) != 6 {
		t.Fatalf("snapshot %q with %d deltas, %v", st.Snapshot, len(st.Deltas), err)
	}
	for range 10 {
		if _, at, err = db.Undo(ctx, id, at.Revision, "Ada"); err != nil {
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
	src, _, err := db.Source(ctx, a.ModelHash)
	if err != nil || !bytes.Equal(src, []byte("v 0 0 0")) {
		t.Errorf("source is %q, %v", src, err)
	}
	if _, err := db.Document(ctx, 1<<40); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("a missing document gave %v", err)
	}
}

// queued stands for the queue: it gives each work a number of its own.
func queued(*sql.Tx, store.Work) (int64, error) { return jobs.Add(1), nil }

var jobs atomic.Int64

func TestFinishedWorkStaysFinished(t *testing.T) {
	ctx := context.Background()
	w, err := db.CreateWork(ctx, newDocument(t), "run", []byte(`{}`), queued)
	if err != nil {
		t.Fatal(err)
	}
	if w, err = db.BeginWork(ctx, w.ID, *w.JobID); err != nil || w.Attempt != 1 {
		t.Fatal(w, err)
	}
	for _, step := range []error{db.Advance(ctx, w.ID, "parts", 0.3), db.Finish(ctx, w.ID, "cancelled", ""), db.Advance(ctx, w.ID, "flow", 0.6), db.Finish(ctx, w.ID, "done", "")} {
		if step != nil {
			t.Fatal(step)
		}
	}
	for what, err := range map[string]error{"a beat": db.Beat(ctx, w.ID, *w.JobID), "handing back": db.HandBack(ctx, w.ID, *w.JobID)} {
		if !errors.Is(err, store.ErrNotFound) {
			t.Errorf("%s of finished work: %v", what, err)
		}
	}
	if w, err := db.Work(ctx, w.ID); err != nil || w.State != "cancelled" || w.Station != "parts" {
		t.Errorf("work is %q at %q, %v", w.State, w.Station, err)
	}
}

func TestOfManyWorksAtOnceOneStands(t *testing.T) {
	ctx := context.Background()
	id := newDocument(t)
	var g sync.WaitGroup
	var made atomic.Int64
	ids := make([]int64, 16)
	for i := range ids {
		g.Go(func() {
			w, err := db.CreateWork(ctx, id, "run", []byte(`{}`), queued)
			if err == nil {
				made.Add(1)
			} else if !errors.Is(err, store.ErrBusy) {
				t.Error(err)
			}
			ids[i] = w.ID
		})
	}
	g.Wait()
	if made.Load() != 1 || slices.Min(ids) != slices.Max(ids) {
		t.Errorf("%d works were made; the callers hold %v", made.Load(), ids)
	}
	if _, err := db.CreateWork(ctx, id, "look", []byte(`{}`), queued); err != nil {
		t.Errorf("a look beside it: %v", err)
	}
}

func TestWorkThatCannotBeQueuedIsNotNoted(t *testing.T) {
	ctx := context.Background()
	id := newDocument(t)
	no := errors.New("the queue is full")
	if _, err := db.CreateWork(ctx, id, "run", []byte(`{}`), func(*sql.Tx, store.Work) (int64, error) { return 0, no }); !errors.Is(err, no) {
		t.Errorf("got %v", err)
	}
	if w, err := db.RunningWork(ctx, id); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("it left %+v, %v", w, err)
	}
}

func TestAProjectComesWithAllItsDocumentsOrNotAtAll(t *testing.T) {
	ctx := context.Background()
	lamp := store.NewDocument{Title: "lamp", FileName: "lamp.obj", Source: []byte("v 1 0 0"), Faces: 1, Points: 3, State: []byte("s"), Edits: edit("made")}
	before, err := db.Projects(ctx)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := db.CreateProject(ctx, "half", lamp, store.NewDocument{Title: "", FileName: "x.obj", Source: []byte("v")}); err == nil {
		t.Error("a document without a name was stored")
	}
	if after, err := db.Projects(ctx); err != nil || len(after) != len(before) {
		t.Errorf("half a project is there: %v, %v", after, err)
	}
	p, err := db.CreateProject(ctx, "whole", lamp)
	if err != nil {
		t.Fatal(err)
	}
	docs, err := db.Documents(ctx, p)
	if err != nil || len(docs) != 1 || docs[0].Head != 1 || docs[0].LastEdit != "made" {
		t.Errorf("the project holds %+v, %v", docs, err)
	}
}
