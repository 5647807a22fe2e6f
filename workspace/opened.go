package workspace

import (
	"context"
	"sync"
	"sync/atomic"

	"morvek/core/document"
	"morvek/core/proof"
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
	before *Opened        // of what this differs by change, until it is measured; nil: unknown
	change document.Delta // from before

	mu        sync.Mutex
	audit     *proof.Report
	suggested []segment.Suggestion
	asked     bool
}

// next is the document in the state that an edit or a step made of it.
func (o *Opened) next(row store.Document, s *document.State) *Opened {
	n := &Opened{Row: row, Doc: o.Doc.With(s)}
	if o.proved.Load() {
		n.before, n.change = o, document.Diff(o.Doc.State, s)
	}
	return n
}

// Proof returns the measure of the document, computed at first use: from that of the
// revision before, if that is known, in time that follows the change.
func (o *Opened) Proof() proof.Report {
	o.once.Do(func() {
		if b := o.before; b != nil {
			o.proof = o.Doc.Measured(b.proof, o.change)
		} else {
			o.proof = proof.Measure(o.Doc.ProofInput())
		}
		o.before = nil // it may be freed
		o.proved.Store(true)
	})
	return o.proof
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
