package workspace

import (
	"context"

	"morvek/core/document"
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

// When is a state of a document that was: after so many edits of its worklog, or one that got a name.
type When struct {
	Seq    int
	Moment int64 // 0: after Seq
}

// At returns a document as it was after the first seq edits of its worklog, or store.Now, seen through
// a map it had then. What never was is store.ErrNotFound.
func (d *Documents) At(ctx context.Context, ref Ref, seq int) (*Opened, error) {
	return d.Was(ctx, ref, When{Seq: seq})
}

// Was returns a document as it was once, seen through a map it had then, 0 for its first. What never was
// is store.ErrNotFound. Its row is that of now but for the head.
func (d *Documents) Was(ctx context.Context, ref Ref, when When) (*Opened, error) {
	now, err := d.Get(ctx, ref.Document)
	if err != nil {
		return nil, err
	}
	if when.Moment == 0 && (when.Seq == store.Now || when.Seq == now.Row.Head) {
		return now.Through(ref.Map)
	}
	was := d.held(now.Row, when)
	if was == nil {
		if was, err = d.loadWas(ctx, now, when); err != nil {
			return nil, err
		}
		d.hold(was, when)
	}
	return was.Through(ref.Map)
}

func (d *Documents) loadWas(ctx context.Context, now *Opened, when When) (*Opened, error) {
	if when.Moment != 0 {
		_, state, err := d.store.Moment(ctx, now.Row.ID, when.Moment)
		if err != nil {
			return nil, err
		}
		doc, err := document.Restore(now.Doc.Source, state)
		if err != nil {
			return nil, err
		}
		return opened(now.Row, doc), nil
	}
	st, err := d.store.LoadAt(ctx, now.Row.ID, when.Seq)
	if err != nil {
		return nil, err
	}
	doc, err := rebuilt(now.Doc.Source, st)
	if err != nil {
		return nil, err
	}
	st.Document.Head = when.Seq
	return opened(st.Document, doc), nil
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

// EndHistory forgets the worklog of a document at a revision for good; it stays as it is.
func (d *Documents) EndHistory(ctx context.Context, id, base int64, who string) (*Opened, error) {
	o, err := d.Get(ctx, id)
	if err != nil {
		return nil, err
	}
	if o.Row.Revision != base {
		return nil, store.ErrStale
	}
	state, err := o.Doc.State.MarshalBinary()
	if err != nil {
		return nil, err
	}
	if _, err := d.store.EndHistory(ctx, id, base, who, state); err != nil {
		return nil, err
	}
	return d.Get(ctx, id)
}
