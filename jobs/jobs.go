// Package jobs runs long work through a queue on PostgreSQL: progress is noted
// as it goes, it can be cancelled from any process, and a crash loses nothing,
// since the document changes only at the end, in one transaction.
package jobs

import (
	"context"
	"errors"
	"log/slog"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivermigrate"

	"morvek/core/layout"
	"morvek/session"
	"morvek/store"
)

// Queue takes work in and, if it was started with workers, does it.
type Queue struct {
	client *river.Client[pgx.Tx]
	pool   *pgxpool.Pool
	store  *store.Store
	works  bool
}

// Migrate brings the queue's own tables up to date.
func Migrate(ctx context.Context, url string) error {
	pool, err := pgxpool.New(ctx, url)
	if err != nil {
		return err
	}
	defer pool.Close()
	m, err := rivermigrate.New(riverpgxv5.New(pool), nil)
	if err != nil {
		return err
	}
	_, err = m.Migrate(ctx, rivermigrate.DirectionUp, nil)
	return err
}

// Open connects to the queue; with workers it also does the work of the queue.
func Open(ctx context.Context, url string, s *store.Store, docs *session.Documents, workers int, log *slog.Logger) (*Queue, error) {
	pool, err := pgxpool.New(ctx, url)
	if err != nil {
		return nil, err
	}
	q := &Queue{pool: pool, store: s, works: workers > 0}
	cfg := &river.Config{Logger: log}
	if workers > 0 {
		reg := river.NewWorkers()
		river.AddWorker(reg, &worker{store: s, docs: docs})
		cfg.Workers = reg
		cfg.Queues = map[string]river.QueueConfig{river.QueueDefault: {MaxWorkers: workers}}
		cfg.FetchPollInterval = 300 * time.Millisecond
	}
	if q.client, err = river.NewClient(riverpgxv5.New(pool), cfg); err != nil {
		pool.Close()
		return nil, err
	}
	if workers > 0 {
		if err := q.client.Start(ctx); err != nil {
			pool.Close()
			return nil, err
		}
	}
	return q, nil
}

// Close stops taking work and waits for what is under way to give up.
func (q *Queue) Close(ctx context.Context) {
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
)

// Run queues the whole job on a revision of a document and returns the number of the
// work: that of the one under way if it was asked before.
func (q *Queue) Run(ctx context.Context, document, base int64) (int64, error) {
	if w, err := q.store.RunningWork(ctx, document, Run); !errors.Is(err, store.ErrNotFound) {
		return w.ID, err
	}
	return q.queue(ctx, Args{Document: document, Base: base, Task: Run})
}

// Edit queues one edit on a revision of a document.
func (q *Queue) Edit(ctx context.Context, document, base int64, e layout.Edit) (int64, error) {
	b, err := layout.Encode(e)
	if err != nil {
		return 0, err
	}
	return q.queue(ctx, Args{Document: document, Base: base, Task: Edit, Edit: b})
}

// Look queues looking at every face of a document from all sides.
func (q *Queue) Look(ctx context.Context, document int64) (int64, error) {
	if w, err := q.store.RunningWork(ctx, document, Look); !errors.Is(err, store.ErrNotFound) {
		return w.ID, err
	}
	return q.queue(ctx, Args{Document: document, Task: Look})
}

func (q *Queue) queue(ctx context.Context, a Args) (int64, error) {
	if a.Task != Look { // two changes at once would only make one of them stale
		if _, err := q.store.RunningWork(ctx, a.Document, Run, Edit); err == nil {
			return 0, store.ErrBusy
		} else if !errors.Is(err, store.ErrNotFound) {
			return 0, err
		}
	}
	var err error
	if a.Work, err = q.store.CreateWork(ctx, a.Document, a.Task); err != nil {
		return 0, err
	}
	res, err := q.client.Insert(ctx, a, &river.InsertOpts{MaxAttempts: 3})
	if err != nil {
		return 0, errors.Join(err, q.store.Finish(ctx, a.Work, "failed", "could not be queued"))
	}
	return a.Work, q.store.SetJob(ctx, a.Work, res.Job.ID)
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
