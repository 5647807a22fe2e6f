package jobs

import (
	"context"
	"log/slog"

	"github.com/riverqueue/river"
	"github.com/riverqueue/river/rivertype"

	"morvek/core/parallel"
	"morvek/store"
)

// DoBroken does a work in which a goroutine of the computation panics.
func DoBroken(ctx context.Context, s *store.Store, work store.Work) error {
	w := newWorker(s, nil, slog.New(slog.DiscardHandler))
	w.do = func(context.Context, store.Work) error {
		var g parallel.Group
		g.Do(func() { panic("a fault of ours") })
		return g.Wait()
	}
	return w.Work(ctx, &river.Job[Args]{JobRow: &rivertype.JobRow{ID: *work.JobID}, Args: Args{Work: work.ID}})
}
