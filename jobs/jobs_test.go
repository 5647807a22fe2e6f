package jobs_test

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"os/exec"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"golang.org/x/sync/errgroup"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/partedits"
	"morvek/core/edit/sheetedits"
	"morvek/jobs"
	"morvek/store"
	"morvek/store/storetest"
	"morvek/workspace"
	"morvek/workspace/workspacetest"
)

var (
	db  *store.Store
	url string
)

// dieFor is the address of a database this process works on until it is killed.
const dieFor = "MORVEK_TEST_DIE_FOR"

func TestMain(m *testing.M) {
	if os.Getenv(childOf) != "" {
		os.Exit(child())
	}
	if to := os.Getenv(dieFor); to != "" {
		os.Exit(workUntilKilled(to))
	}
	os.Exit(storetest.Run(func(at *store.Store, to string) (int, error) {
		db, url = at, to
		var g errgroup.Group
		for range 8 { // servers that start at once
			g.Go(func() error { return jobs.Migrate(context.Background(), url) })
		}
		if err := g.Wait(); err != nil {
			return 0, err
		}
		return m.Run(), nil
	}))
}

// open connects to the queue as a process of its own would.
func open(t *testing.T, workers int) *jobs.Queue {
	t.Helper()
	q, err := jobs.Open(context.Background(), url, db, workspace.New(db, 0), jobs.Workers{N: workers}, slog.New(slog.DiscardHandler))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { q.Close(context.Background()) })
	return q
}

func queue(t *testing.T, q *jobs.Queue, document, base int64) int64 {
	t.Helper()
	w, err := q.Run(context.Background(), workspace.First(document), base, "")
	if err != nil {
		t.Fatal(err)
	}
	return w
}

// over waits until a work has ended.
func over(t *testing.T, work int64) store.Work {
	t.Helper()
	for range 2400 {
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
	id := workspacetest.NewCan(t, db, 16)
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
	o, err := workspace.New(db, 0).Get(context.Background(), id)
	if err != nil || o.Row.Head == 0 || !o.Proof().Acceptable() {
		t.Errorf("after the work: %v, proof %+v", err, o.Proof().Totals)
	}
}

func TestWorkCancelledWhileItWaitsIsNeverDone(t *testing.T) {
	front := open(t, 0)
	id := workspacetest.NewCan(t, db, 16)
	work := queue(t, front, id, 1)
	for range 2 { // a second click changes nothing
		if err := front.Cancel(context.Background(), work); err != nil {
			t.Fatal(err)
		}
	}
	next := workspacetest.NewCan(t, db, 16)
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

// What is changed while work waits voids it only where it cannot be meant any more.
func TestWorkGoesOnFromWhatIsThere(t *testing.T) {
	ctx := context.Background()
	front, docs := open(t, 0), workspace.New(db, 0)
	apply := func(id, base int64, e edit.Edit) {
		t.Helper()
		if _, err := docs.Apply(ctx, workspace.First(id), base, store.By{}, e); err != nil {
			t.Fatal(err)
		}
	}
	ran := workspacetest.NewCan(t, db, 16)
	run := queue(t, front, ran, 1)
	apply(ran, 1, &partedits.Recognise{})

	renamed := workspacetest.NewCan(t, db, 16)
	kept, err := front.Edit(ctx, opened(t, docs, renamed), store.By{}, &partedits.Recognise{})
	if err != nil {
		t.Fatal(err)
	}
	apply(renamed, 1, &partedits.Rename{Part: 0, Name: "tin"})

	split := workspacetest.NewCan(t, db, 16)
	void, err := front.Edit(ctx, opened(t, docs, split), store.By{}, &partedits.Recognise{Parts: []document.PartID{0}})
	if err != nil {
		t.Fatal(err)
	}
	apply(split, 1, &partedits.Recognise{})

	open(t, 1)
	if w := over(t, run); w.State != "done" || head(t, ran).Head < 3 {
		t.Errorf("the whole job is %q, %q, with %d edits", w.State, w.Message, head(t, ran).Head)
	}
	if w := over(t, kept); w.State != "done" || head(t, renamed).Head != 2 {
		t.Errorf("after a rename the edit is %q, %q, with %d edits", w.State, w.Message, head(t, renamed).Head)
	}
	if w := over(t, void); w.State != "failed" || !strings.Contains(w.Message, "changed elsewhere") || head(t, split).Head != 1 {
		t.Errorf("after its part became others the edit is %q, %q, with %d edits", w.State, w.Message, head(t, split).Head)
	}
}

func opened(t *testing.T, docs *workspace.Documents, id int64) *workspace.Opened {
	t.Helper()
	o, err := docs.Get(context.Background(), id)
	if err != nil {
		t.Fatal(err)
	}
	return o
}

func TestAnEditInTheQueueIsOneEdit(t *testing.T) {
	ctx := context.Background()
	front := open(t, 0)
	id := workspacetest.NewCan(t, db, 16)
	work, err := front.Edit(ctx, opened(t, workspace.New(db, 0), id), store.By{}, &partedits.Recognise{})
	if err != nil {
		t.Fatal(err)
	}
	// Two changes at once would only make one of them stale; looking changes nothing.
	if _, err := front.Edit(ctx, opened(t, workspace.New(db, 0), id), store.By{}, &sheetedits.Pack{}); !errors.Is(err, store.ErrBusy) {
		t.Errorf("a second edit: %v", err)
	}
	if _, err := front.Run(ctx, workspace.First(id), 1, ""); !errors.Is(err, store.ErrBusy) {
		t.Errorf("the whole job besides: %v", err)
	}
	look, err := front.Look(ctx, id, "")
	if err != nil {
		t.Fatal(err)
	}
	if again, err := front.Look(ctx, id, ""); err != nil || again != look {
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
	docs := workspace.New(db, 0)
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
	id := workspacetest.NewCan(t, db, 16)
	work, err := q.Edit(ctx, opened(t, workspace.New(db, 0), id), store.By{}, &sheetedits.Pack{})
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

func workUntilKilled(to string) int {
	ctx := context.Background()
	s, err := store.Open(ctx, to)
	if err == nil {
		_, err = jobs.Open(ctx, to, s, workspace.New(s, 0), jobs.Workers{N: 1}, slog.New(slog.DiscardHandler))
	}
	if err != nil {
		fmt.Println(err)
		return 1
	}
	select {}
}

// until waits for a work to be in a state.
func until(t *testing.T, work int64, state string) {
	t.Helper()
	for range 1200 {
		w, err := db.Work(context.Background(), work)
		if err != nil {
			t.Fatal(err)
		}
		if w.State == state {
			return
		}
		if w.Over() {
			t.Fatalf("the work is %q: %s", w.State, w.Message)
		}
		time.Sleep(5 * time.Millisecond)
	}
	t.Fatalf("the work is never %q", state)
}

func TestWorkOfAKilledProcessIsTakenUp(t *testing.T) {
	front := open(t, 0)
	id := workspacetest.NewCan(t, db, 3_000)
	work := queue(t, front, id, 1)
	child := exec.Command(os.Args[0])
	child.Env = append(os.Environ(), dieFor+"="+url)
	child.Stderr = os.Stderr
	if err := child.Start(); err != nil {
		t.Fatal(err)
	}
	until(t, work, "running")
	_ = child.Process.Kill()
	_ = child.Wait()
	if w, err := db.Work(context.Background(), work); err != nil || w.State != "running" {
		t.Fatalf("the work ended before its process: %q, %v", w.State, err)
	}
	open(t, 1)
	if w := over(t, work); w.State != "done" || w.Attempt != 2 {
		t.Fatalf("the work is %q at attempt %d: %s", w.State, w.Attempt, w.Message)
	}
}

func TestAnOrderlyStopHandsWorkBack(t *testing.T) {
	front := open(t, 0)
	id := workspacetest.NewCan(t, db, 3_000)
	work := queue(t, front, id, 1)
	q := open(t, 1)
	until(t, work, "running")
	q.Close(context.Background())
	if w, err := db.Work(context.Background(), work); err != nil || w.State != "waiting" || w.Attempt != 0 {
		t.Fatalf("after the stop it is %q at attempt %d, %v", w.State, w.Attempt, err)
	}
	if err := front.Cancel(context.Background(), work); err != nil {
		t.Fatal(err)
	}
}

func TestAWorkThatBreaksDownFailsInWords(t *testing.T) {
	ctx := context.Background()
	front := open(t, 0)
	id := workspacetest.NewCan(t, db, 16)
	work, err := db.Work(ctx, queue(t, front, id, 1))
	if err != nil {
		t.Fatal(err)
	}
	if err := jobs.DoBroken(ctx, db, work); err == nil || !strings.Contains(err.Error(), "a fault of ours") {
		t.Errorf("the queue is told %v", err)
	}
	if w := over(t, work.ID); w.State != "failed" || !strings.Contains(w.Message, "nothing was changed") {
		t.Errorf("the work is %q: %q", w.State, w.Message)
	}
	open(t, 1)
	if w := over(t, queue(t, front, id, 1)); w.ID == work.ID || w.State != "done" {
		t.Errorf("the next run is %d, %q", w.ID, w.State)
	}
}

func TestRunsAskedForAtOnceAreOne(t *testing.T) {
	front := open(t, 0)
	id := workspacetest.NewCan(t, db, 16)
	works := make([]int64, 16)
	var g sync.WaitGroup
	for i := range works {
		g.Go(func() { works[i] = queue(t, front, id, 1) })
	}
	g.Wait()
	if slices.Min(works) != slices.Max(works) || works[0] == 0 {
		t.Errorf("queued as %v", works)
	}
	if err := front.Cancel(context.Background(), works[0]); err != nil {
		t.Fatal(err)
	}
}
