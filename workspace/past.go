package workspace

import (
	"context"

	"morvek/store"
)

// past is a document as it was once.
type past struct {
	revision int64 // the worklog is that of this revision
	when     When
	was      *Opened
}

// mostPast is how many states of before are held in memory: those of one comparison.
const mostPast = 2

// At returns a document as it was after the first seq edits of its worklog, or store.Now, seen through
// a map it had then. What never was is store.ErrNotFound. Its row is that of now but for the head.
func (d *Documents) At(ctx context.Context, ref Ref, seq int) (*Opened, error) {
	now, err := d.Get(ctx, ref.Document)
	if err != nil {
		return nil, err
	}
	if seq == store.Now || seq == now.Row.Head {
		return now.Through(ref.Map)
	}
	when := When{Seq: seq}
	if was := d.held(now.Row, when); was != nil {
		return was.Through(ref.Map)
	}
	st, err := d.store.LoadAt(ctx, ref.Document, seq)
	if err != nil {
		return nil, err
	}
	doc, err := rebuilt(now.Doc.Source, st)
	if err != nil {
		return nil, err
	}
	st.Document.Head = seq
	was := opened(st.Document, doc)
	d.hold(was, when)
	return was.Through(ref.Map)
}

func (d *Documents) hold(was *Opened, when When) {
	d.mu.Lock()
	defer d.mu.Unlock()
	d.past = append(d.past, past{was.Row.Revision, when, was})
	d.past = d.past[max(0, len(d.past)-mostPast):]
}

// held is a state of before that is in memory, nil if it is not.
func (d *Documents) held(now store.Document, when When) *Opened {
	d.mu.Lock()
	defer d.mu.Unlock()
	for _, p := range d.past {
		if p.was.Row.ID == now.ID && p.revision == now.Revision && p.when == when {
			return p.was
		}
	}
	return nil
}
