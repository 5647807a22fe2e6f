// Package jobs runs long work through a queue on PostgreSQL: progress is noted
// as it goes, it can be cancelled from any process, and a crash loses nothing:
// the document changes only at the end, in one transaction, and work whose process
// is not heard of any more is taken up by another.
package jobs

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverdatabasesql"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivermigrate"

	"morvek/core/delivery"
	"morvek/core/edit"
	"morvek/store"
	"morvek/workspace"
)

// Queue takes work in and, if it was started with workers, does it.
type Queue struct {
	client *river.Client[pgx.Tx]
	insert *river.Client[*sql.Tx] // puts jobs into the store's own transactions
	pool   *pgxpool.Pool
	store  *store.Store
	log    *slog.Logger

	works bool
	halt  context.CancelFunc // ends the looking for lost work
	ended chan struct{}
}

// A worker says that it is alive every beat; work that nobody has said so of for silent
// is taken up again by whoever looks next.
const (
	beat   = 2 * time.Second
	silent = 8 * time.Second
	look   = 3 * time.Second
)

// Migrate brings the queue's own tables up to date.
func Migrate(ctx context.Context, url string) error {
	pool, err := pgxpool.New(ctx, url)
	if err != nil {
		return err
	}
	defer pool.Close()
	alone, err := pool.Acquire(ctx) // those who migrate at once wait for each other
	if err != nil {
		return err
	}
	defer alone.Release()
	const us = 0x6d6f727665 // any number that is nobody else's
	if _, err := alone.Exec(ctx, `select pg_advisory_lock($1)`, us); err != nil {
		return err
	}
	defer alone.Exec(context.WithoutCancel(ctx), `select pg_advisory_unlock($1)`, us) //nolint:errcheck // it ends with the connection
	m, err := rivermigrate.New(riverpgxv5.New(pool), nil)
	if err != nil {
		return err
	}
	_, err = m.Migrate(ctx, rivermigrate.DirectionUp, nil)
	return err
}

// Workers is how a process does the work of the queue.
type Workers struct {
	N     int    // works at a time; 0: it only takes work in
	Apart *Apart // work on foreign files; nil: in this process
}

// Open connects to the queue; with workers it also does the work of the queue.
func Open(ctx context.Context, url string, s *store.Store, docs *workspace.Documents, workers Workers, log *slog.Logger) (*Queue, error) {
	pool, err := pgxpool.New(ctx, url)
	if err != nil {
		return nil, err
	}
	q := &Queue{pool: pool, store: s, log: log, works: workers.N > 0, halt: func() {}, ended: make(chan struct{})}
	cfg := &river.Config{Logger: log}
	if workers.N > 0 {
		reg := river.NewWorkers()
		w := newWorker(s, docs, log)
		w.apart = workers.Apart
		river.AddWorker(reg, w)
		cfg.Workers = reg
		cfg.Queues = map[string]river.QueueConfig{river.QueueDefault: {MaxWorkers: workers.N}}
		cfg.FetchPollInterval = 300 * time.Millisecond
	}
	if q.insert, err = river.NewClient(riverdatabasesql.New(nil), &river.Config{Logger: log}); err != nil {
		pool.Close()
		return nil, err
	}
	if q.client, err = river.NewClient(riverpgxv5.New(pool), cfg); err != nil {
		pool.Close()
		return nil, err
	}
	if workers.N == 0 {
		close(q.ended)
		return q, nil
	}
	if err := q.client.Start(ctx); err != nil {
		pool.Close()
		return nil, err
	}
	ctx, q.halt = context.WithCancel(ctx)
	go q.takeUp(ctx)
	return q, nil
}

// takeUp queues lost work anew, for as long as the context lasts.
func (q *Queue) takeUp(ctx context.Context) {
	defer close(q.ended)
	for {
		if n, err := q.store.Requeue(ctx, silent, q.put(ctx)); err != nil && ctx.Err() == nil {
			q.log.Warn("looking for lost work", "err", err)
		} else if n > 0 {
			q.log.Info("took up lost work", "works", n)
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(look):
		}
	}
}

// Close stops taking work, and hands back what is under way.
func (q *Queue) Close(ctx context.Context) {
	q.halt()
	<-q.ended
	if q.works {
		_ = q.client.StopAndCancel(ctx)
	}
	q.pool.Close()
}

// The kinds of long work.
const (
	Run  = "run"  // the whole job
	Edit = "edit" // one edit
	Look = "look" // the exposure of every face
	Read = "read" // a file that somebody sent

	Deliver = "deliver" // what is handed over
	Revise  = "revise"  // the map of an earlier revision is brought over
)

// Run queues the whole job on a map of a document, seen at a revision, and returns the number
// of the work: that of the one under way if it was asked before.
func (q *Queue) Run(ctx context.Context, of workspace.Ref, base int64, who string) (int64, error) {
	return q.queue(ctx, of.Document, Run, Task{Base: base, Map: of.Map, Who: who})
}

// Edit queues one edit of a document as it is in o. Asked again with the same key it returns
// the number of the work that is under way.
func (q *Queue) Edit(ctx context.Context, o *workspace.Opened, by store.By, e edit.Edit) (int64, error) {
	b, err := edit.Encode(e)
	if err != nil {
		return 0, err
	}
	return q.queue(ctx, o.Row.ID, Edit, Task{Base: o.Row.Revision, Map: o.Doc.State.Shown.ID, Edit: b, Key: by.Key, Who: by.Who, Partition: o.Doc.State.Partition()})
}

// Look queues looking at every face of a document from all sides.
func (q *Queue) Look(ctx context.Context, document int64, who string) (int64, error) {
	return q.queue(ctx, document, Look, Task{Who: who})
}

// Read stores a file that somebody sent and queues reading it; it returns the numbers of both.
func (q *Queue) Read(ctx context.Context, n store.NewUpload, who string) (upload, work int64, err error) {
	args, err := json.Marshal(Task{Who: who})
	if err != nil {
		return 0, 0, err
	}
	upload, w, err := q.store.CreateUpload(ctx, n, Read, args, q.put(ctx))
	return upload, w.ID, err
}

// Revise queues bringing the map of an earlier revision over to a document.
func (q *Queue) Revise(ctx context.Context, o *workspace.Opened, from workspace.Ref, who string) (int64, error) {
	return q.queue(ctx, o.Row.ID, Revise, Task{Base: o.Row.Revision, Map: o.Doc.State.Shown.ID, From: from, Who: who})
}

// Deliver queues making a delivery of a document as it is in o. While one is made, asking for another
// is busy.
func (q *Queue) Deliver(ctx context.Context, o *workspace.Opened, order delivery.Order, who string) (int64, error) {
	if err := order.Check(o.Doc); err != nil {
		return 0, err
	}
	return q.queue(ctx, o.Row.ID, Deliver, Task{Base: o.Row.Revision, Map: o.Doc.State.Shown.ID, Order: &order, Who: who})
}

func (q *Queue) queue(ctx context.Context, document int64, kind string, t Task) (int64, error) {
	args, err := json.Marshal(t)
	if err != nil {
		return 0, err
	}
	w, err := q.store.CreateWork(ctx, document, kind, args, q.put(ctx))
	if errors.Is(err, store.ErrBusy) && w.Kind == kind && kind != Deliver && (kind != Edit || t.Key != "") {
		var under Task // asked for twice: one work does
		if json.Unmarshal(w.Args, &under) == nil && under.Base == t.Base && under.Map == t.Map && under.Key == t.Key && under.From == t.From {
			return w.ID, nil
		}
	}
	return w.ID, err
}

// put makes a job of a work in the transaction that notes it.
func (q *Queue) put(ctx context.Context) store.Enqueue {
	return func(tx *sql.Tx, w store.Work) (int64, error) {
		priority, err := turn(ctx, tx, w)
		if err != nil {
			return 0, err
		}
		res, err := q.insert.InsertTx(ctx, tx, Args{Work: w.ID}, &river.InsertOpts{MaxAttempts: 3, Priority: priority})
		if err != nil {
			return 0, err
		}
		return res.Job.ID, nil
	}
}

// mostOfOne is how many works one person may have waiting or under way.
const mostOfOne = 12

// ErrMany is returned to who has too many works under way.
var ErrMany = fmt.Errorf("%d long works of yours wait or are under way; let some of them end first, or cancel them", mostOfOne)

// turn is when a work's turn comes: the more somebody has under way the later, so that others come between. From
// 1, the first, to 4.
func turn(ctx context.Context, tx *sql.Tx, w store.Work) (int, error) {
	var t Task
	if err := json.Unmarshal(w.Args, &t); err != nil || t.Who == "" {
		return river.PriorityDefault, err
	}
	n := 0
	if err := tx.QueryRowContext(ctx, `select count(*) from works where state in ('waiting', 'running') and id <> $1 and args->>'who' = $2`, w.ID, t.Who).Scan(&n); err != nil {
		return 0, err
	}
	if n >= mostOfOne && w.Attempt == 0 {
		return 0, ErrMany
	}
	return min(1+n, 4), nil
}

// Cancel ends a work; what it has not stored yet is dropped.
func (q *Queue) Cancel(ctx context.Context, work int64) error {
	w, err := q.store.Work(ctx, work)
	if err != nil || w.Over() {
		return err
	}
	if err := q.store.Finish(ctx, work, "cancelled", "cancelled"); err != nil {
		return err
	}
	if w.JobID == nil {
		return nil
	}
	_, err = q.client.JobCancel(ctx, *w.JobID)
	return err
}
