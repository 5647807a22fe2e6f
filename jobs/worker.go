package jobs

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"time"

	"github.com/riverqueue/river"

	"morvek/core/delivery"
	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/parallel"
	"morvek/store"
	"morvek/workspace"
)

// Args is one piece of long work as it lies in the queue; what is to be done stands
// with the work.
type Args struct {
	Work int64 `json:"work"`
}

// Kind names the work in the queue.
func (Args) Kind() string { return "work" }

// Task is what is to be done besides the kind of work.
type Task struct {
	Base int64           `json:"base"` // the revision it was asked for
	Map  document.MapID  `json:"map,omitempty"`
	Edit json.RawMessage `json:"edit,omitempty"`
	Key  string          `json:"key,omitempty"` // of the edit
	Who  string          `json:"who,omitempty"` // asked for it

	Order *delivery.Order `json:"order,omitempty"`
	From  workspace.Ref   `json:"from,omitzero"` // of the earlier revision

	Partition uint64 `json:"partition,omitempty"` // what numbers of parts in the edit mean
}

type worker struct {
	river.WorkerDefaults[Args]
	store *store.Store
	docs  *workspace.Documents
	log   *slog.Logger
	do    func(context.Context, store.Work) error
	apart *Apart
}

func newWorker(s *store.Store, docs *workspace.Documents, log *slog.Logger) *worker {
	w := &worker{store: s, docs: docs, log: log}
	w.do = func(ctx context.Context, work store.Work) error {
		if w.apart.apart(work.Kind) {
			return w.apart.perform(ctx, work)
		}
		return w.perform(ctx, work)
	}
	return w
}

// Timeout allows for the largest models.
func (*worker) Timeout(*river.Job[Args]) time.Duration { return 30 * time.Minute }

// tries is how often a work is begun: one that takes its process with it each time is
// given up.
const tries = 3

// Work does what was asked and notes how it ended.
func (w *worker) Work(ctx context.Context, job *river.Job[Args]) error {
	end := context.WithoutCancel(ctx) // for notes that must be made in any case
	work, err := w.store.BeginWork(end, job.Args.Work, job.ID)
	if errors.Is(err, store.ErrNotFound) {
		return nil // over, or another job's by now
	}
	if err != nil {
		return err
	}
	if work.Attempt > tries {
		return w.store.Finish(end, work.ID, "failed", "the program ended each time it did this; nothing was changed")
	}
	doing, cancel := context.WithCancel(ctx)
	var g parallel.Group
	g.Do(func() { w.stayAlive(doing, cancel, work.ID, job.ID) })
	err = parallel.Catch(func() error { return w.do(doing, work) })
	dropped := doing.Err() != nil && ctx.Err() == nil // it was taken from us: cancelled, or given to another
	cancel()
	_ = g.Wait()
	var p *parallel.Panic
	switch {
	case err == nil:
		return w.store.Finish(end, work.ID, "done", "")
	case dropped:
		return river.JobCancel(err)
	case errors.Is(ctx.Err(), context.DeadlineExceeded):
		return river.JobCancel(errors.Join(err, w.store.Finish(end, work.ID, "failed", "it took longer than half an hour; nothing was changed")))
	case ctx.Err() != nil: // cancelled by somebody, or this process is stopping
		if errors.Is(w.store.HandBack(end, work.ID, job.ID), store.ErrNotFound) {
			return river.JobCancel(err)
		}
		return river.JobSnooze(0)
	case errors.As(err, &p):
		w.log.Error("a work broke down", "work", work.ID, "err", err)
	}
	return river.JobCancel(errors.Join(err, w.store.Finish(end, work.ID, "failed", workspace.Words(err))))
}

// stayAlive says that a work is being done until the context ends, and cancels it when
// it has become somebody else's or is over.
func (w *worker) stayAlive(ctx context.Context, cancel context.CancelFunc, work, job int64) {
	for {
		select {
		case <-ctx.Done():
			return
		case <-time.After(beat):
		}
		if errors.Is(w.store.Beat(ctx, work, job), store.ErrNotFound) {
			cancel()
			return
		}
	}
}

func (w *worker) perform(ctx context.Context, work store.Work) error {
	var a Task
	if err := json.Unmarshal(work.Args, &a); err != nil {
		return err
	}
	if work.Kind == Read {
		return w.docs.BringIn(ctx, *work.UploadID, w.tell(ctx, work.ID))
	}
	o, err := w.docs.Through(ctx, workspace.Ref{Document: *work.DocumentID, Map: a.Map})
	if err != nil {
		return err
	}
	// The work is the key: done and stored, but not noted as done, it is not done again.
	done := store.By{Key: fmt.Sprintf("work %d", work.ID), Who: a.Who}
	switch work.Kind {
	case Look:
		return w.docs.Look(ctx, o, w.progress(ctx, work.ID, "looking from all sides"))
	case Revise:
		return w.docs.Revise(ctx, o, a.From, done, w.tell(ctx, work.ID))
	case Deliver:
		if a.Order == nil {
			return errors.New("a delivery of nothing")
		}
		return w.docs.Deliver(ctx, o, work.ID, *a.Order, w.tell(ctx, work.ID))
	case Edit:
		if o.Row.Revision != a.Base && o.Doc.State.Partition() != a.Partition {
			return store.ErrStale
		}
		e, err := edit.Decode(a.Edit)
		if err != nil {
			return err
		}
		_, err = w.docs.ApplyLong(ctx, o, store.By{Key: a.Key, Who: a.Who}, e, w.progress(ctx, work.ID, e.Describe()))
		return err
	case Run:
		tell := w.tell(ctx, work.ID)
		_, err := w.docs.RunLong(ctx, o, done, func(station string, again int, done float64) {
			what := "the whole job: "
			if again > 0 {
				what = "the whole job, with what was changed meanwhile: "
			}
			tell(what+station, done)
		})
		return err
	}
	return fmt.Errorf("nobody knows the work %q", work.Kind)
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
