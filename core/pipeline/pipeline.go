// Package pipeline is the whole job as a list of edits, the same edits a person
// makes on the bench, with progress and cancel.
package pipeline

import (
	"context"
	"errors"
	"fmt"
	"time"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
)

// Step is one edit of the job with the station it belongs to.
type Step struct {
	Station string
	Edit    edit.Edit
	share   float64 // of the whole time, for progress
	idle    bool    // where it refuses, the job goes on without it
}

// Steps returns the edits of the whole job in order.
func Steps() []Step {
	return []Step{
		{"parts", &partedits.Recognise{}, 0.15, false},
		{"seams", &seamedits.Open{}, 0.15, false},
		{"seams", &seamedits.Attach{}, 0.05, false},
		{"flow", &flowedits.Flatten{}, 0.25, false},
		{"sheet", &sheetedits.Lanes{}, 0.05, true},
		{"flow", &flowedits.TrueUp{}, 0.1, true},
		{"sheet", &sheetedits.Pack{}, 0.25, true},
	}
}

// Progress is told the station under way and the share of the whole job done.
type Progress func(station string, done float64)

// Taken is an edit that was applied, with the state it led to.
type Taken struct {
	Edit  edit.Edit
	State *document.State
}

// Result is a finished job.
type Result struct {
	Doc     *document.Document
	Taken   []Taken
	Seconds map[string]float64
	Refused []error // why steps were left out: what they ask for may be there, or be impossible
}

// Edits returns the edits of a job with the state after each.
func (r Result) Edits() (edits []edit.Edit, states []*document.State) {
	for _, t := range r.Taken {
		edits, states = append(edits, t.Edit), append(states, t.State)
	}
	return edits, states
}

// Run applies the whole job to a document. When the context ends it returns
// its error and the document is as it was.
func Run(ctx context.Context, d *document.Document, progress Progress) (Result, error) {
	r := Result{Doc: d, Seconds: map[string]float64{}}
	if err := r.run(ctx, Steps(), 0, progress); err != nil {
		return Result{}, err
	}
	if progress != nil {
		progress("proof", 1)
	}
	return r, nil
}

// run takes further steps, of which so much of the job was done before.
func (r *Result) run(ctx context.Context, steps []Step, base float64, progress Progress) error {
	for _, s := range steps {
		tell := func(share float64) {
			if progress != nil {
				progress(s.Station, base+s.share*share)
			}
		}
		tell(0)
		start := time.Now()
		next, err := edit.Apply(ctx, r.Doc, s.Edit, tell)
		if err != nil {
			if ctx.Err() != nil {
				return ctx.Err()
			}
			if s.idle && errors.Is(err, document.ErrRefused) {
				r.Refused = append(r.Refused, err)
				r.Seconds[s.Station] += time.Since(start).Seconds()
				base += s.share
				continue
			}
			return fmt.Errorf("%s: %w", s.Edit.Describe(), err)
		}
		r.Seconds[s.Station] += time.Since(start).Seconds()
		r.take(s.Edit, next)
		base += s.share
	}
	return nil
}

// take notes an edit that was made.
func (r *Result) take(e edit.Edit, s *document.State) {
	r.Doc = r.Doc.With(s)
	r.Taken = append(r.Taken, Taken{e, s})
}
