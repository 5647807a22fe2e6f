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
	asked := func() (n int64) { // transactions of this database; statistics come a little late
		time.Sleep(1500 * time.Millisecond)
		if _, err := db.DB().Exec(`select pg_stat_clear_snapshot()`); err != nil {
			t.Fatal(err)
		}
		if err := db.DB().QueryRow(`select xact_commit + xact_rollback from pg_stat_database where datname = current_database()`).Scan(&n); err != nil {
			t.Fatal(err)
		}
		return n
	}
	const watchers = 300
	before, from := asked(), time.Now()
	var g sync.WaitGroup
	saw := make([][]string, watchers)
	for i := range watchers {
		g.Go(func() {
			if err := docs.WatchWork(ctx, w.ID, func(w store.Work) bool { saw[i] = append(saw[i], w.State); return true }); err != nil {
				t.Error(err)
			}
		})
	}
	time.Sleep(2 * time.Second)
	if err := db.Finish(ctx, w.ID, "done", ""); err != nil {
		t.Fatal(err)
	}
	g.Wait()
	took, polls := asked()-before, int64(time.Since(from)/(200*time.Millisecond))
	t.Logf("%d transactions for %d watchers", took, watchers)
	if took > watchers+2*polls+100 { // one each to know that it is there, then those of one who looks; each by himself would look as often
		t.Errorf("%d transactions for %d watchers", took, watchers)
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
