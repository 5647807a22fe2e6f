package jobs_test

import (
	"context"
	"errors"
	"io"
	"log/slog"
	"os"
	"strings"
	"testing"
	"time"

	"morvek/core/layout"
	"morvek/jobs"
	"morvek/session"
	"morvek/session/sessiontest"
	"morvek/store"
	"morvek/store/storetest"
)

var (
	db  *store.Store
	url string
)

func TestMain(m *testing.M) {
	os.Exit(storetest.Run(func(at *store.Store, to string) (int, error) {
		db, url = at, to
		if err := jobs.Migrate(context.Background(), url); err != nil {
			return 0, err
		}
		return m.Run(), nil
	}))
}

// open connects to the queue as a process of its own would.
func open(t *testing.T, workers int) *jobs.Queue {
	t.Helper()
	q, err := jobs.Open(context.Background(), url, db, session.New(db), workers, slog.New(slog.NewTextHandler(io.Discard, nil)))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { q.Close(context.Background()) })
	return q
}

func queue(t *testing.T, q *jobs.Queue, document, base int64) int64 {
	t.Helper()
	w, err := q.Run(context.Background(), document, base)
	if err != nil {
		t.Fatal(err)
	}
	return w
}

// over waits until a work has ended.
func over(t *testing.T, work int64) store.Work {
	t.Helper()
	for range 600 {
		w, err := db.Work(context.Background(), work)
		if err != nil {
			t.Fatal(err)
		}
		if w.Over() {
			return w
		}
		time.Sleep(50 * time.Millisecond)
	}
	t.Fatalf("work %d does not end", work)
	return store.Work{}
}

func head(t *testing.T, document int64) store.Document {
	t.Helper()
	d, err := db.Document(context.Background(), document)
	if err != nil {
		t.Fatal(err)
	}
	return d
}

func TestWhatOneProcessQueuesAnotherDoes(t *testing.T) {
	front := open(t, 0)
	id := sessiontest.NewCan(t, db, 16)
	work := queue(t, front, id, 1)
	if again := queue(t, front, id, 1); again != work {
		t.Errorf("asked twice, queued as %d and %d", work, again)
	}
	if d := head(t, id); d.Head != 0 {
		t.Errorf("%d edits before anybody worked", d.Head)
	}
	open(t, 1)
	if w := over(t, work); w.State != "done" || w.FinishedAt == nil {
		t.Fatalf("the work is %q: %s", w.State, w.Message)
	}
	o, err := session.New(db).Get(context.Background(), id)
	if err != nil || o.Row.Head == 0 || !o.Proof().Acceptable() {
		t.Errorf("after the work: %v, proof %+v", err, o.Proof().Totals)
	}
}

func TestWorkCancelledWhileItWaitsIsNeverDone(t *testing.T) {
	front := open(t, 0)
	id := sessiontest.NewCan(t, db, 16)
	work := queue(t, front, id, 1)
	for range 2 { // a second click changes nothing
		if err := front.Cancel(context.Background(), work); err != nil {
			t.Fatal(err)
		}
	}
	next := sessiontest.NewCan(t, db, 16)
	later := queue(t, front, next, 1)
	open(t, 1)
	if w := over(t, later); w.State != "done" {
		t.Fatalf("the next work is %q: %s", w.State, w.Message)
	}
	if w := over(t, work); w.State != "cancelled" {
		t.Errorf("the cancelled work is %q", w.State)
	}
	if d := head(t, id); d.Head != 0 || d.Revision != 1 {
		t.Errorf("its document is at %d edits, revision %d", d.Head, d.Revision)
	}
}

func TestWorkOnAnOldRevisionFailsInWords(t *testing.T) {
	ctx := context.Background()
	front := open(t, 0)
	id := sessiontest.NewCan(t, db, 16)
	work := queue(t, front, id, 1)
	if _, err := session.New(db).Apply(ctx, id, 1, &layout.Recognise{}, nil); err != nil {
		t.Fatal(err)
	}
	open(t, 1)
	if w := over(t, work); w.State != "failed" || !strings.Contains(w.Message, "changed elsewhere") {
		t.Errorf("the work is %q: %q", w.State, w.Message)
	}
	if d := head(t, id); d.Head != 1 {
		t.Errorf("the document has %d edits, want the one made by hand", d.Head)
	}
}

func TestAnEditInTheQueueIsOneEdit(t *testing.T) {
	ctx := context.Background()
	front := open(t, 0)
	id := sessiontest.NewCan(t, db, 16)
	work, err := front.Edit(ctx, id, 1, &layout.Recognise{})
	if err != nil {
		t.Fatal(err)
	}
	// Two changes at once would only make one of them stale; looking changes nothing.
	if _, err := front.Edit(ctx, id, 1, &layout.Pack{}); !errors.Is(err, store.ErrBusy) {
		t.Errorf("a second edit: %v", err)
	}
	if _, err := front.Run(ctx, id, 1); !errors.Is(err, store.ErrBusy) {
		t.Errorf("the whole job besides: %v", err)
	}
	look, err := front.Look(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	if again, err := front.Look(ctx, id); err != nil || again != look {
		t.Errorf("looking asked for twice: %d and %d, %v", look, again, err)
	}
	open(t, 1)
	if w := over(t, work); w.State != "done" {
		t.Fatalf("the edit is %q: %s", w.State, w.Message)
	}
	if d := head(t, id); d.Head != 1 || d.LastEdit != "recognise parts" {
		t.Errorf("%d edits, the last %q", d.Head, d.LastEdit)
	}
	if w := over(t, look); w.State != "done" {
		t.Fatalf("looking is %q: %s", w.State, w.Message)
	}
	docs := session.New(db)
	o, err := docs.Get(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	if v, known, err := docs.Exposure(ctx, o); err != nil || !known || len(v) != o.Doc.Mesh.NumFaces() {
		t.Errorf("another process knows %d exposures (%v, %v)", len(v), known, err)
	}
}

func TestARefusedEditInTheQueueFailsInWords(t *testing.T) {
	ctx := context.Background()
	q := open(t, 1)
	id := sessiontest.NewCan(t, db, 16)
	work, err := q.Edit(ctx, id, 1, &layout.Pack{})
	if err != nil {
		t.Fatal(err)
	}
	if w := over(t, work); w.State != "failed" || !strings.Contains(w.Message, "flatten something first") {
		t.Errorf("the work is %q: %q", w.State, w.Message)
	}
	if d := head(t, id); d.Head != 0 || d.Revision != 1 {
		t.Errorf("%d edits, revision %d", d.Head, d.Revision)
	}
}
