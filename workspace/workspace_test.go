package workspace_test

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"math"
	"os"
	"strings"
	"sync"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/core/pipeline"
	"morvek/store"
	"morvek/store/storetest"
	"morvek/workspace"
	"morvek/workspace/workspacetest"
)

var db *store.Store

func TestMain(m *testing.M) {
	os.Exit(storetest.Run(func(at *store.Store, _ string) (int, error) {
		db = at
		return m.Run(), nil
	}))
}

func stateOf(t *testing.T, o *workspace.Opened, err error) []byte {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
	b, err := o.Doc.State.MarshalBinary()
	if err != nil {
		t.Fatal(err)
	}
	return b
}

// What a fresh process rebuilds from the store is what was held in memory, after
// every edit, on the way back and on the way forth, past several snapshots.
func TestRebuiltDocumentsAreTheSame(t *testing.T) {
	ctx := context.Background()
	id := workspacetest.NewCan(t, db, 12)
	docs := workspace.New(db, 0)
	o, err := docs.Get(ctx, id)
	states := [][]byte{stateOf(t, o, err)}
	do := func(e edit.Edit) {
		t.Helper()
		o, err = docs.Apply(ctx, workspace.First(id), o.Row.Revision, store.By{}, e)
		states = append(states, stateOf(t, o, err))
	}
	for _, e := range []edit.Edit{&partedits.Recognise{}, &seamedits.Open{}, &seamedits.Attach{}, &flowedits.Flatten{}, &sheetedits.Pack{}} {
		do(e)
	}
	for i := range 30 {
		do(&sheetedits.Move{Faces: []mesh.FaceID{mesh.FaceID(i % 14)}, Shift: r2.Vec{X: 0.01 * float64(i), Y: -0.003}})
	}
	check := func(at int) {
		t.Helper()
		again, err := workspace.New(db, 0).Get(ctx, id)
		if b := stateOf(t, again, err); !bytes.Equal(b, states[at]) {
			t.Fatalf("rebuilt after %d edits it differs", at)
		}
	}
	at := len(states) - 1
	check(at)
	for ; at > 0; at-- {
		o, err = docs.Step(ctx, id, o.Row.Revision, "", true)
		if b := stateOf(t, o, err); !bytes.Equal(b, states[at-1]) {
			t.Fatalf("undone to %d edits it differs", at-1)
		}
		if at%5 == 1 {
			check(at - 1)
		}
	}
	if _, err := docs.Step(ctx, id, o.Row.Revision, "", true); !errors.Is(err, store.ErrNothing) {
		t.Errorf("undo at the start gave %v", err)
	}
	for ; at+1 < len(states); at++ {
		o, err = docs.Step(ctx, id, o.Row.Revision, "", false)
		if b := stateOf(t, o, err); !bytes.Equal(b, states[at+1]) {
			t.Fatalf("redone to %d edits it differs", at+1)
		}
	}
	check(at)
}

func TestTheOlderOfTwoTabsIsTold(t *testing.T) {
	ctx := context.Background()
	id := workspacetest.NewCan(t, db, 12)
	a, b := workspace.New(db, 0), workspace.New(db, 0) // two processes on one database
	first, err := a.Get(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := b.Get(ctx, id); err != nil {
		t.Fatal(err)
	}
	next, err := a.Apply(ctx, workspace.First(id), first.Row.Revision, store.By{}, &partedits.Recognise{})
	want := stateOf(t, next, err)
	if _, err := b.Apply(ctx, workspace.First(id), first.Row.Revision, store.By{}, &seamedits.Open{}); !errors.Is(err, store.ErrStale) {
		t.Errorf("an edit on an old revision gave %v", err)
	}
	seen, err := b.Get(ctx, id)
	if got := stateOf(t, seen, err); !bytes.Equal(got, want) {
		t.Error("the other process shows an old state")
	}
}

// An edit that is sent again because its answer was lost is made once: at once, later, and
// by several at the same time through two processes.
func TestAnEditWithAKeyIsMadeOnce(t *testing.T) {
	ctx := context.Background()
	id := workspacetest.NewCan(t, db, 12)
	caches := []*workspace.Documents{workspace.New(db, 0), workspace.New(db, 0)}
	name := func(s string) edit.Edit { return &partedits.Rename{Part: 0, Name: s} }
	first, err := caches[0].Apply(ctx, workspace.First(id), 1, store.By{Key: "k1"}, name("lid"))
	want := stateOf(t, first, err)
	for _, docs := range caches { // the revision it was made on has passed
		again, err := docs.Apply(ctx, workspace.First(id), 1, store.By{Key: "k1"}, name("lid"))
		if got := stateOf(t, again, err); !bytes.Equal(got, want) || again.Row.Revision != first.Row.Revision {
			t.Errorf("sent again it led to revision %d, made it was %d", again.Row.Revision, first.Row.Revision)
		}
	}
	if _, err := caches[1].Apply(ctx, workspace.First(id), 1, store.By{Key: "k2"}, name("base")); !errors.Is(err, store.ErrStale) {
		t.Errorf("another edit on the old revision gave %v", err)
	}
	for round := range 20 {
		base, key := first.Row.Revision+int64(round), fmt.Sprint("round ", round)
		var g sync.WaitGroup
		for w := range 4 {
			g.Go(func() {
				o, err := caches[w%2].Apply(ctx, workspace.First(id), base, store.By{Key: key}, name(key))
				if err != nil || o.Row.Revision != base+1 {
					t.Errorf("round %d: %v", round, err)
				}
			})
		}
		g.Wait()
	}
	log, err := db.Worklog(ctx, id)
	if err != nil || len(log) != 21 {
		t.Errorf("%d edits in the worklog, want 21; %v", len(log), err)
	}
}

// Writers on two caches, some undoing: whatever each cache holds is what the database has.
func TestMemoryNeverDiffersFromTheDatabase(t *testing.T) {
	ctx := context.Background()
	id := workspacetest.NewCan(t, db, 12)
	caches := []*workspace.Documents{workspace.New(db, 0), workspace.New(db, 0)}
	if _, err := caches[0].Apply(ctx, workspace.First(id), 1, store.By{}, &partedits.Recognise{}); err != nil {
		t.Fatal(err)
	}
	var g sync.WaitGroup
	for w := range 4 {
		g.Go(func() {
			docs := caches[w%2]
			base := int64(1)
			for i := range 60 {
				var o *workspace.Opened
				var err error
				if i%3 == 2 {
					o, err = docs.Step(ctx, id, base, "", i%2 == 0)
				} else {
					o, err = docs.Apply(ctx, workspace.First(id), base, store.By{}, &partedits.Rename{Part: 0, Name: fmt.Sprintf("writer %d, edit %d", w, i)})
				}
				switch {
				case errors.Is(err, store.ErrStale), errors.Is(err, store.ErrNothing):
					if o, err = docs.Get(ctx, id); err != nil {
						t.Error(err)
						return
					}
				case err != nil:
					t.Error(err)
					return
				}
				base = o.Row.Revision
			}
		})
	}
	g.Wait()
	fresh, err := workspace.New(db, 0).Get(ctx, id)
	want := stateOf(t, fresh, err)
	for i, docs := range caches {
		o, err := docs.Get(ctx, id)
		if got := stateOf(t, o, err); !bytes.Equal(got, want) || o.Row.Revision != fresh.Row.Revision {
			t.Errorf("cache %d holds %q at revision %d, the database %q at %d", i, o.Doc.State.Parts[0].Name, o.Row.Revision, fresh.Doc.State.Parts[0].Name, fresh.Row.Revision)
		}
	}
}

// An undo asked for on a revision that another process has left behind is stale, even
// if the number fits by the time it is stored.
func TestAnUndoKnowsWhatItUndoes(t *testing.T) {
	ctx := context.Background()
	id := workspacetest.NewCan(t, db, 12)
	docs := workspace.New(db, 0)
	o, err := docs.Apply(ctx, workspace.First(id), 1, store.By{}, &partedits.Recognise{})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := docs.Step(ctx, id, o.Row.Revision+1, "", true); !errors.Is(err, store.ErrStale) {
		t.Errorf("an undo of a revision that does not exist: %v", err)
	}
}

func TestStatesWithoutNumbersAreNotStored(t *testing.T) {
	ctx := context.Background()
	id := workspacetest.NewCan(t, db, 12)
	docs := workspace.New(db, 0)
	o, err := docs.Get(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	for _, bad := range []float64{math.NaN(), math.Inf(1), -1e300} {
		tx := o.Doc.Begin()
		tx.Map.Put(3, r2.Vec{Y: bad})
		s := tx.Done()
		if _, err := docs.Append(ctx, o, []edit.Edit{&sheetedits.Clear{}}, []*document.State{s}); !errors.Is(err, document.ErrRefused) {
			t.Errorf("a coordinate of %g: %v", bad, err)
		}
	}
}

func TestRefusedEditsAndUnfinishedRunsStoreNothing(t *testing.T) {
	ctx := context.Background()
	id := workspacetest.NewCan(t, db, 12)
	docs := workspace.New(db, 0)
	o, err := docs.Get(ctx, id)
	before := stateOf(t, o, err)
	if _, err := docs.Apply(ctx, workspace.First(id), o.Row.Revision, store.By{}, &sheetedits.Pack{}); !errors.Is(err, document.ErrRefused) || workspace.Words(err) != "there are no shells to pack; flatten something first" {
		t.Errorf("packing nothing gave %v", err)
	}
	stopped, cancel := context.WithCancel(ctx)
	cancel()
	if _, err := pipeline.Run(stopped, o.Doc, nil); !errors.Is(err, context.Canceled) {
		t.Errorf("a cancelled run gave %v", err)
	}
	again, err := workspace.New(db, 0).Get(ctx, id)
	if b := stateOf(t, again, err); !bytes.Equal(b, before) || again.Row.Revision != o.Row.Revision {
		t.Error("something was stored")
	}
	if _, err := docs.RunLong(stopped, o, store.By{}, func(string, int, float64) {}); !errors.Is(err, context.Canceled) {
		t.Errorf("a cancelled run stored gave %v", err)
	}
	run, err := pipeline.Run(ctx, o.Doc, nil)
	if err != nil {
		t.Fatal(err)
	}
	done, err := docs.RunLong(ctx, o, store.By{Key: "work 1"}, func(string, int, float64) {})
	want := stateOf(t, done, err)
	if done.Row.Head != len(run.Taken) || !done.Proof().Acceptable() {
		t.Errorf("head %d after %d edits, proof %+v", done.Row.Head, len(run.Taken), done.Proof().Totals)
	}
	if twice, err := docs.RunLong(ctx, done, store.By{Key: "work 1"}, nil); err != nil || twice.Row.Revision != done.Row.Revision {
		t.Errorf("taken up again after it was stored it is done again: %v", err)
	}
	again, err = workspace.New(db, 0).Get(ctx, id)
	if b := stateOf(t, again, err); !bytes.Equal(b, want) {
		t.Error("the stored run differs from the one made")
	}
}

func TestErrorsAreSaidInWords(t *testing.T) {
	for err, want := range map[error]string{
		store.ErrNothing: "nothing to undo",
		fmt.Errorf("loading: %w", store.ErrNotFound): "no longer there",
		store.ErrStale:                   "changed elsewhere",
		errors.New("dial tcp 127.0.0.1"): "nothing was changed",
	} {
		if got := workspace.Words(err); !strings.Contains(got, want) {
			t.Errorf("%v reads %q", err, got)
		}
	}
}
