package workspace

import (
	"context"
	"errors"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/partedits"
	"morvek/core/pipeline"
	"morvek/core/revise"
	"morvek/store"
)

// Revise does the whole job on a document that is the next revision of another one, and brings over
// the map of that which is seen: what is the same keeps its place, a seal and what was painted come
// along. tell hears what is done and how far it is.
func (d *Documents) Revise(ctx context.Context, o *Opened, from Ref, by store.By, tell func(what string, done float64)) error {
	if made, err := d.store.Made(ctx, o.Row.ID, by.Key); err != nil || made {
		return err
	}
	before, match, err := d.matched(ctx, o, from, tell)
	if err != nil {
		return err
	}
	res, c, err := pipeline.Revise(ctx, o.Doc, pipeline.Before{Doc: before.Doc, ID: before.Row.ID, Match: match}, func(station string, done float64) { tell("the whole job: "+station, 0.1+0.9*done) })
	if err != nil {
		return err
	}
	edits, states := res.Edits()
	now, err := d.append(ctx, o, edits, states, by)
	if errors.Is(err, store.ErrStale) {
		return document.Refuse("the document was changed meanwhile; bring the revision in again")
	}
	if err != nil {
		return err
	}
	if c.Maps == nil {
		c.Maps = []revise.Pairing{{Was: before.Doc.State.Shown.ID, Is: now.Doc.State.Shown.ID}}
	}
	for _, m := range c.Maps {
		if err := d.store.CopyPictures(ctx, before.Row.ID, int32(m.Was), now.Row.ID, int32(m.Is)); err != nil {
			return err
		}
	}
	return nil
}

// Revisable refuses a document that cannot be the next revision of another any more.
func Revisable(o *Opened) error {
	if o.Row.Head > 0 {
		return document.Refuse("something was done to this model already; bring its file in again to keep the map of another")
	}
	return nil
}

// matched compares a document with the one it is to be the next revision of.
func (d *Documents) matched(ctx context.Context, o *Opened, from Ref, tell func(what string, done float64)) (before *Opened, m revise.Match, err error) {
	if err := Revisable(o); err != nil {
		return nil, m, err
	}
	if before, err = d.Through(ctx, from); err != nil {
		return nil, m, err
	}
	if !before.Doc.State.Map.AnyMapped() {
		return nil, m, document.Refuse("%s has nothing on its map to keep", before.Row.Title)
	}
	tell("comparing the models", 0)
	if m, err = revise.Compare(ctx, before.Doc.State.Map, o.Doc.Mesh); err != nil {
		return nil, m, err
	}
	return before, m, m.Check(o.Doc.Mesh, before.Row.Title)
}

// Foresee tells what Revise would do to a document on which nothing was done yet.
func (d *Documents) Foresee(ctx context.Context, o *Opened, from Ref, tell func(what string, done float64)) (revise.Outlook, error) {
	before, match, err := d.matched(ctx, o, from, tell)
	if err != nil {
		return revise.Outlook{}, err
	}
	parts, err := edit.Apply(ctx, o.Doc, &partedits.Recognise{}, func(done float64) { tell("reading the parts of the new one", 0.3+0.7*done) })
	if err != nil {
		return revise.Outlook{}, err
	}
	return revise.Foresee(before.Doc, o.Doc.With(parts), match), nil
}
