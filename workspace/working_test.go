package workspace_test

import (
	"context"
	"database/sql"
	"errors"
	"sync"
	"testing"
	"time"

	"morvek/store"
	"morvek/workspace"
	"morvek/workspace/workspacetest"
)

// However many watch a work, it is looked at once for all of them; each sees it begin and end.
func TestManyWatchOneWork(t *testing.T) {
	ctx := context.Background()
	docs := workspace.New(db, 0)
	w, err := db.CreateWork(ctx, workspacetest.NewCan(t, db, 12), "run", []byte(`{}`), func(*sql.Tx, store.Work) (int64, error) { return 1, nil })
	if err != nil {
		t.Fatal(err)
	}
	looks := workspace.CountLooks(docs)
	const watchers = 300
	from := time.Now()
	var g, joined sync.WaitGroup
	joined.Add(watchers)
	saw := make([][]string, watchers)
	for i := range watchers {
		g.Go(func() {
			err := docs.WatchWork(ctx, w.ID, func(w store.Work) bool {
				if saw[i] = append(saw[i], w.State); len(saw[i]) == 1 {
					joined.Done()
				}
				return true
			})
			if err != nil {
				t.Error(err)
			}
		})
	}
	joined.Wait()
	time.Sleep(time.Second)
	if err := db.Finish(ctx, w.ID, "done", ""); err != nil {
		t.Fatal(err)
	}
	g.Wait()
	took, most := looks.Load(), int64(time.Since(from)/workspace.PollWork)+1
	t.Logf("%d looks for %d watchers", took, watchers)
	if took < 2 || took > most {
		t.Errorf("%d looks for %d watchers, of one who looks %d at most", took, watchers, most)
	}
	for i, s := range saw {
		if len(s) < 2 || s[0] != "waiting" || s[len(s)-1] != "done" {
			t.Fatalf("watcher %d saw %v", i, s)
		}
	}
	if err := docs.WatchWork(ctx, w.ID, func(w store.Work) bool { return w.State == "done" }); err != nil {
		t.Errorf("one that is over: %v", err)
	}
	if err := docs.WatchWork(ctx, w.ID+1000, func(store.Work) bool { return true }); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("one that is not there: %v", err)
	}
	gone, leave := context.WithTimeout(ctx, 50*time.Millisecond)
	defer leave()
	v, err := db.CreateWork(ctx, workspacetest.NewCan(t, db, 12), "run", []byte(`{}`), func(*sql.Tx, store.Work) (int64, error) { return 2, nil })
	if err != nil {
		t.Fatal(err)
	}
	if err := docs.WatchWork(gone, v.ID, func(store.Work) bool { return true }); !errors.Is(err, context.DeadlineExceeded) {
		t.Errorf("who goes away: %v", err)
	}
}
