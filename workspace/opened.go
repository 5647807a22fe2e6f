package workspace

import (
	"context"
	"errors"
	"sync"
	"sync/atomic"

	"morvek/core/document"
	"morvek/core/proof"
	"morvek/core/report"
	"morvek/core/segment"
	"morvek/store"
)

// Opened is a document as of one revision, seen through one of its maps, with what was
// measured of that so far.
type Opened struct {
	Row store.Document
	Doc *document.Document

	views *views // of the same revision

	once   sync.Once
	proof  proof.Report
	proved atomic.Bool
	since  atomic.Pointer[since] // nil: unknown

	drawn sync.Once
	card  report.Card

	mu        sync.Mutex
	audit     *proof.Report
	suggested []segment.Suggestion
	asked     bool
}

// views are a document as of one revision, by the map it is seen through.
type views struct {
	mu sync.Mutex
	of map[document.MapID]*Opened
}

func (v *views) get(id document.MapID) *Opened {
	v.mu.Lock()
	defer v.mu.Unlock()
	return v.of[id]
}

// opened is a document that nothing was measured of.
func opened(row store.Document, d *document.Document) *Opened {
	o := &Opened{Row: row, Doc: d, views: &views{of: map[document.MapID]*Opened{}}}
	o.views.of[d.State.Shown.ID] = o
	return o
}

// ErrNoMap is returned for a map that is not there, or not any more.
var ErrNoMap = errors.New("there is no such map")

// Through returns the same revision seen through another map, 0 for the first.
func (o *Opened) Through(id document.MapID) (*Opened, error) {
	if id == 0 {
		id = o.Doc.State.Maps()[0].ID
	}
	o.views.mu.Lock()
	defer o.views.mu.Unlock()
	if v := o.views.of[id]; v != nil {
		return v, nil
	}
	s, ok := o.Doc.State.Through(id)
	if !ok {
		return nil, ErrNoMap
	}
	v := &Opened{Row: o.Row, Doc: o.Doc.With(s), views: o.views}
	if was, _, ok := o.Since(); ok {
		if before := was.views.get(id); before != nil { // measured from there on
			v.since.Store(&since{before, document.Diff(before.Doc.State, s)})
		}
	}
	o.views.of[id] = v
	return v, nil
}

// since is the revision before and what leads from it to this one.
type since struct {
	was *Opened
	by  document.Delta
}

// next is the document in the state that an edit or a step made of it, which differs by a
// delta and is seen through the same map. What came before this revision is forgotten.
func (o *Opened) next(row store.Document, s *document.State, by document.Delta) *Opened {
	n := opened(row, o.Doc.With(s))
	n.since.Store(&since{o, by})
	o.views.mu.Lock()
	defer o.views.mu.Unlock()
	for _, v := range o.views.of {
		v.since.Store(nil)
	}
	return n
}

// Of is a document that is in no store, With one like it in another state.
func Of(d *document.Document) *Opened { return opened(store.Document{}, d) }

// With is the document in another state, which nobody has stored.
func (o *Opened) With(s *document.State) *Opened { return opened(o.Row, o.Doc.With(s)) }

// Since returns the revision before and what leads from it to this one, or false if that is
// not known any more.
func (o *Opened) Since() (*Opened, document.Delta, bool) {
	if s := o.since.Load(); s != nil {
		return s.was, s.by, true
	}
	return nil, document.Delta{}, false
}

// Proof returns the measure of the document, computed at first use: from that of the
// revision before, if that is known, in time that follows the change.
func (o *Opened) Proof() proof.Report {
	o.once.Do(func() {
		if was, by, ok := o.Since(); ok && was.proved.Load() {
			o.proof = o.Doc.Measured(was.proof, by)
		} else {
			o.proof = proof.Measure(o.Doc.ProofInput())
		}
		o.proved.Store(true)
	})
	return o.proof
}

// Card returns the route card, drawn up at first use.
func (o *Opened) Card() report.Card {
	o.drawn.Do(func() { o.card = report.CardOf(o.Doc, o.Proof()) })
	return o.card
}

// Audit returns the measure with the exposed seam length, computed at first use.
func (o *Opened) Audit(ctx context.Context) (proof.Report, error) {
	o.mu.Lock()
	defer o.mu.Unlock()
	if o.audit == nil {
		r := o.Proof()
		var err error
		if r.Totals.SeamExposed, err = proof.SeamExposed(ctx, o.Doc.ProofInput()); err != nil {
			return proof.Report{}, err
		}
		o.audit = &r
	}
	return *o.audit, nil
}

// Suggest returns the cuts that are missing, sought at first use.
func (o *Opened) Suggest(ctx context.Context) ([]segment.Suggestion, error) {
	o.mu.Lock()
	defer o.mu.Unlock()
	if !o.asked {
		var err error
		if o.suggested, err = segment.Suggest(ctx, o.Doc); err != nil {
			return nil, err
		}
		o.asked = true
	}
	return o.suggested, nil
}
