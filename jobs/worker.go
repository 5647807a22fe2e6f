package jobs

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/riverqueue/river"

	"morvek/core/layout"
	"morvek/core/pipeline"
	"morvek/session"
	"morvek/store"
)

// Args is one piece of long work as it lies in the queue.
type Args struct {
	Work     int64           `json:"work"`
	Document int64           `json:"document"`
	Base     int64           `json:"base"` // the revision it was asked for
	Task     string          `json:"task"`
	Edit     json.RawMessage `json:"edit,omitempty"`
}

// Kind names the work in the queue.
func (Args) Kind() string { return "work" }

type worker struct {
	river.WorkerDefaults[Args]
	store *store.Store
	docs  *session.Documents
}

// Timeout allows for the largest models.
func (*worker) Timeout(*river.Job[Args]) time.Duration { return 30 * time.Minute }

// Work does what was asked and notes how it ended.
func (w *worker) Work(ctx context.Context, job *river.Job[Args]) error {
	a := job.Args
	if now, err := w.store.Work(ctx, a.Work); err != nil || now.Over() {
		return err
	}
	err := w.do(ctx, a)
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

func (w *worker) do(ctx context.Context, a Args) error {
	o, err := w.docs.Get(ctx, a.Document)
	if err != nil {
		return err
	}
	if a.Task == Look {
		return w.docs.Look(ctx, o, w.progress(ctx, a.Work, "looking from all sides"))
	}
	if o.Row.Revision != a.Base {
		return store.ErrStale
	}
	switch a.Task {
	case Edit:
		e, err := layout.Decode(a.Edit)
		if err != nil {
			return err
		}
		_, err = w.docs.Apply(ctx, a.Document, a.Base, e, w.progress(ctx, a.Work, e.Describe()))
		return err
	case Run:
		tell := w.tell(ctx, a.Work)
		res, err := pipeline.Run(ctx, o.Doc, func(station string, done float64) { tell("the whole job: "+station, done) })
		if err != nil {
			return err
		}
		if _, err = w.docs.AppendJob(ctx, o, res); err != nil {
			return fmt.Errorf("storing the result: %w", err)
		}
		return nil
	}
	return fmt.Errorf("nobody knows the work %q", a.Task)
}

func (w *worker) progress(ctx context.Context, work int64, what string) func(float64) {
	tell := w.tell(ctx, work)
	return func(done float64) { tell(what, done) }
}

// tell notes progress, ten times a second at most and from any goroutine.
func (w *worker) tell(ctx context.Context, work int64) func(what string, done float64) {
	turn := make(chan time.Time, 1)
	turn <- time.Time{}
	return func(what string, done float64) {
		select {
		case last := <-turn:
			if now := time.Now(); now.Sub(last) >= 100*time.Millisecond {
				last = now
				_ = w.store.Advance(ctx, work, what, done) // progress is a courtesy
			}
			turn <- last
		default: // somebody else tells just now
		}
	}
}
