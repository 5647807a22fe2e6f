package workspace

import (
	"context"
	"sync"
	"sync/atomic"

	"morvek/core/document"
	"morvek/core/proof"
	"morvek/core/report"
	"morvek/core/segment"
	"morvek/store"
)

// Opened is a document as of one revision, with what was measured of it so far.
type Opened struct {
	Row store.Document
	Doc *document.Document

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

// since is the revision before and what leads from it to this one.
type since struct {
	was *Opened
	by  document.Delta
}

// next is the document in the state that an edit or a step made of it, which differs by a
// delta. What came before this revision is forgotten.
func (o *Opened) next(row store.Document, s *document.State, by document.Delta) *Opened {
	n := &Opened{Row: row, Doc: o.Doc.With(s)}
	n.since.Store(&since{o, by})
	o.since.Store(nil)
	return n
}

// Of is a document that is in no store, With one like it in another state.
func Of(d *document.Document) *Opened { return &Opened{Doc: d} }

// With is the document in another state, which nobody has stored.
func (o *Opened) With(s *document.State) *Opened { return &Opened{Row: o.Row, Doc: o.Doc.With(s)} }

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
