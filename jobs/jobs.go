// Package jobs runs long work through a queue on PostgreSQL: progress is noted
// as it goes, it can be cancelled from any process, and a crash loses nothing,
// since the document changes only at the end, in one transaction.
package jobs

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivermigrate"

	"morvek/core/pipeline"
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
		river.AddWorker(reg, &runWorker{store: s, docs: docs})
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

// RunArgs is the whole job on a document, made on one revision of it.
type RunArgs struct {
	Work     int64 `json:"work"`
	Document int64 `json:"document"`
	Base     int64 `json:"base"`
}

// Kind names the work in the queue.
func (RunArgs) Kind() string { return "run" }

// Run queues the whole job and returns the number of the work.
func (q *Queue) Run(ctx context.Context, document, base int64) (int64, error) {
	if w, err := q.store.RunningWork(ctx, document); err == nil {
		return w.ID, nil
	} else if !errors.Is(err, store.ErrNotFound) {
		return 0, err
	}
	id, err := q.store.CreateWork(ctx, document, "run")
	if err != nil {
		return 0, err
	}
	res, err := q.client.Insert(ctx, RunArgs{id, document, base}, &river.InsertOpts{MaxAttempts: 3})
	if err != nil {
		return 0, errors.Join(err, q.store.Finish(ctx, id, "failed", "could not be queued"))
	}
	return id, q.store.SetJob(ctx, id, res.Job.ID)
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

type runWorker struct {
	river.WorkerDefaults[RunArgs]
	store *store.Store
	docs  *session.Documents
}

// Timeout allows for the largest models.
func (*runWorker) Timeout(*river.Job[RunArgs]) time.Duration { return 30 * time.Minute }

// Work runs the pipeline and appends its edits to the document.
func (w *runWorker) Work(ctx context.Context, job *river.Job[RunArgs]) error {
	a := job.Args
	if now, err := w.store.Work(ctx, a.Work); err != nil || now.Over() {
		return err
	}
	err := w.run(ctx, a)
	end := context.WithoutCancel(ctx)
	switch {
	case err == nil:
		return w.store.Finish(end, a.Work, "done", "")
	case ctx.Err() != nil:
		return river.JobCancel(errors.Join(ctx.Err(), w.store.Finish(end, a.Work, "cancelled", "cancelled")))
	default:
		return river.JobCancel(errors.Join(err, w.store.Finish(end, a.Work, "failed", session.Words(err))))
	}
}

func (w *runWorker) run(ctx context.Context, a RunArgs) error {
	o, err := w.docs.Get(ctx, a.Document)
	if err != nil {
		return err
	}
	if o.Row.Revision != a.Base {
		return store.ErrStale
	}
	var last time.Time
	res, err := pipeline.Run(ctx, o.Doc, func(station string, done float64) {
		if time.Since(last) < 100*time.Millisecond {
			return
		}
		last = time.Now()
		_ = w.store.Advance(ctx, a.Work, station, done) // progress is a courtesy
	})
	if err != nil {
		return err
	}
	if _, err = w.docs.AppendJob(ctx, o, res); err != nil {
		return fmt.Errorf("storing the result: %w", err)
	}
	return nil
}
