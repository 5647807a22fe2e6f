package main

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"os"
	"regexp"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"morvek/jobs"
	"morvek/localpg/pgtest"
	"morvek/web"
	"morvek/workspace"
	"morvek/workspace/workspacetest"
)

var database string

func TestMain(m *testing.M) {
	if os.Getenv(childWork) != "" { // a worker of the process below
		os.Exit(dispatch(context.Background(), []string{"child"}, os.Stdout, os.Stderr))
	}
	if dir := os.Getenv(demoIn); dir != "" {
		os.Exit(dispatch(context.Background(), []string{"demo", "-data", dir, "-addr", "127.0.0.1:0"}, os.Stdout, os.Stderr))
	}
	os.Exit(pgtest.Run(func(url string) (int, error) {
		database = url
		return m.Run(), nil
	}))
}

// place waits for the line that says where the application is.
type place struct{ at chan string }

func (p *place) Write(b []byte) (int, error) {
	if m := regexp.MustCompile(`http://[\d.:]+`).Find(b); m != nil {
		p.at <- string(m)
	}
	return len(b), nil
}

// Edits that are answered while the server stops: what got 200 is stored, and nothing
// else is; what was not done says so.
func TestAnOrderlyStopAnswersTruly(t *testing.T) {
	ctx := context.Background()
	a, err := openApp(ctx, database, jobs.Workers{N: 1}, 0, slog.New(slog.DiscardHandler))
	if err != nil {
		t.Fatal(err)
	}
	defer a.close()
	const writers = 8
	docs := make([]int64, writers)
	for i := range docs {
		docs[i] = workspacetest.NewCan(t, a.store, 400)
	}
	for round := range 3 {
		serving, stop := context.WithCancel(ctx)
		out := &place{make(chan string, 1)}
		ended := make(chan error, 1)
		go func() { ended <- a.serve(serving, "127.0.0.1:0", web.Config{}, "", out) }()
		base := <-out.at
		var g sync.WaitGroup
		var answered, refused atomic.Int64
		for w := range writers {
			g.Go(func() {
				before, err := a.store.Document(ctx, docs[w])
				if err != nil {
					t.Error(err)
					return
				}
				rev := before.Revision
				for n := 0; ; n++ {
					body := fmt.Sprintf(`{"base":%d,"edit":{"kind":"rename","params":{"part":0,"name":"round %d, edit %d"}}}`, rev, round, n)
					res, err := http.Post(fmt.Sprintf("%s/documents/%d/edits", base, docs[w]), "application/json", bytes.NewReader([]byte(body)))
					if err != nil {
						break // the door is shut
					}
					b, err := io.ReadAll(res.Body)
					res.Body.Close()
					var now struct{ Meta struct{ Revision int64 } }
					if res.StatusCode == http.StatusServiceUnavailable {
						refused.Add(1)
						break
					}
					if res.StatusCode != http.StatusOK || err != nil || json.Unmarshal(b, &now) != nil || now.Meta.Revision != rev+1 {
						t.Errorf("edit %d on revision %d: %d %q, %v", n, rev, res.StatusCode, b, err)
						return
					}
					answered.Add(1)
					rev = now.Meta.Revision
				}
				if after, err := a.store.Document(ctx, docs[w]); err != nil || after.Revision != rev {
					t.Errorf("the last answer was revision %d, the database has %d, %v", rev, after.Revision, err)
				}
			})
		}
		for answered.Load() < 40 && !t.Failed() {
			time.Sleep(time.Millisecond)
		}
		stop()
		g.Wait()
		if err := <-ended; err != nil {
			t.Error(err)
		}
		t.Logf("%d edits answered, %d told that we stop", answered.Load(), refused.Load())
	}
}

// A process that is stopped answers what it cannot finish with 503, never with 200.
func TestWhatIsCutOffSaysSo(t *testing.T) {
	ctx := context.Background()
	a, err := openApp(ctx, database, jobs.Workers{}, 0, slog.New(slog.DiscardHandler))
	if err != nil {
		t.Fatal(err)
	}
	defer a.close()
	id := workspacetest.NewCan(t, a.store, 100)
	o, err := workspace.New(a.store, 0).Get(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	serving, stop := context.WithCancel(ctx)
	out := &place{make(chan string, 1)}
	ended := make(chan error, 1)
	go func() { ended <- a.serve(serving, "127.0.0.1:0", web.Config{}, "", out) }()
	base := <-out.at
	// The row is held: the edit can only wait.
	db, err := sql.Open("pgx", database)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	tx, err := db.BeginTx(ctx, nil)
	if err != nil {
		t.Fatal(err)
	}
	defer tx.Rollback() //nolint:errcheck // a second one does nothing
	if _, err := tx.Exec(`select 1 from documents where id = $1 for update`, id); err != nil {
		t.Fatal(err)
	}
	code := make(chan int, 1)
	go func() {
		body := fmt.Sprintf(`{"base":%d,"edit":{"kind":"rename","params":{"part":0,"name":"late"}}}`, o.Row.Revision)
		res, err := http.Post(fmt.Sprintf("%s/documents/%d/edits", base, id), "application/json", bytes.NewReader([]byte(body)))
		if err != nil {
			code <- 0
			return
		}
		res.Body.Close()
		code <- res.StatusCode
	}()
	for waiting := 0; waiting == 0 && len(code) == 0; {
		if err := db.QueryRow(`select count(*) from pg_locks where not granted`).Scan(&waiting); err != nil {
			t.Fatal(err)
		}
	}
	stop()
	if got := <-code; got != http.StatusServiceUnavailable {
		t.Errorf("the edit that could not be finished was answered %d", got)
	}
	_ = tx.Rollback()
	if err := <-ended; err != nil {
		t.Error(err)
	}
	if now, err := a.store.Document(ctx, id); err != nil || now.Revision != o.Row.Revision {
		t.Errorf("it is stored all the same: revision %d, %v", now.Revision, err)
	}
}
