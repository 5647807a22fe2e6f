package workspace

import (
	"context"
	"errors"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/pipeline"
	"morvek/store"
)

// Long work takes a while, and people go on in the meantime. What they change voids it only
// if the work changes the same things.

// ApplyLong applies an edit to a document as it is now, which people may go on changing
// while it is computed, and stores it. One with the key of an edit that was made already is
// not made again. Where the document was changed meanwhile in what the edit changes it is
// store.ErrStale.
func (d *Documents) ApplyLong(ctx context.Context, o *Opened, by store.By, e edit.Edit, progress func(float64)) (*Opened, error) {
	if made, err := d.store.Made(ctx, o.Row.ID, by.Key); err != nil || made {
		return o, err
	}
	next, err := edit.Apply(ctx, o.Doc, e, progress)
	if err != nil {
		return nil, err
	}
	return d.land(ctx, o, []edit.Edit{e}, []*document.State{next}, by)
}

// rerunMost is how often the whole job is done again because of what was changed meanwhile.
const rerunMost = 3

// RunLong does the whole job on a document and stores it as ApplyLong does; it is done again on
// the newest state, some times at most, where people changed meanwhile what it changes, for it
// is about the document as a whole, whatever that was like. progress is called from several
// goroutines; again tells how often the job was begun before.
func (d *Documents) RunLong(ctx context.Context, o *Opened, by store.By, progress func(station string, again int, done float64)) (*Opened, error) {
	for again := 0; ; again++ {
		if made, err := d.store.Made(ctx, o.Row.ID, by.Key); err != nil || made {
			return o, err
		}
		res, err := pipeline.Run(ctx, o.Doc, func(station string, done float64) { progress(station, again, done) })
		if err != nil {
			return nil, err
		}
		edits, states := res.Edits()
		now, err := d.land(ctx, o, edits, states, by)
		if !errors.Is(err, store.ErrStale) || again == rerunMost {
			return now, err
		}
		if o, err = d.now(ctx, o); err != nil {
			return nil, err
		}
	}
}

// land stores edits that were computed on o, after what was changed since.
func (d *Documents) land(ctx context.Context, o *Opened, edits []edit.Edit, states []*document.State, by store.By) (*Opened, error) {
	for {
		done, err := d.append(ctx, o, edits, states, by)
		if !errors.Is(err, store.ErrStale) {
			return done, err
		}
		now, err := d.now(ctx, o)
		if err != nil {
			return nil, err
		}
		if states, err = after(o.Doc.State, states, now.Doc.State); err != nil {
			return nil, err
		}
		before := now.Doc.State
		for i, s := range states { // the map may have been sealed meanwhile
			if err := edit.Heed(before, edits[i], s); err != nil {
				return nil, err
			}
			before = s
		}
		o = now
	}
}

// now is a document as it is now, seen through the same map; where that was removed it is
// store.ErrStale.
func (d *Documents) now(ctx context.Context, o *Opened) (*Opened, error) {
	now, err := d.Through(ctx, o.Ref())
	if errors.Is(err, ErrNoMap) {
		return nil, store.ErrStale
	}
	return now, err
}

// after is the states that lead on from base, led on from now instead.
func after(base *document.State, states []*document.State, now *document.State) ([]*document.State, error) {
	out := make([]*document.State, len(states))
	for i, s := range states {
		mine, ok := document.Diff(base, s).After(document.Diff(base, now), s.Map.Mesh())
		if !ok {
			return nil, store.ErrStale
		}
		var err error
		if out[i], err = mine.Redo(now); err != nil {
			return nil, err
		}
		base, now = s, out[i]
	}
	return out, nil
}
