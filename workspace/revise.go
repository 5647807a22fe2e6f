package workspace

import (
	"context"
	"errors"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/mapedits"
	"morvek/core/pipeline"
	"morvek/core/revise"
	"morvek/store"
)

// Revise does the whole job on a document that is the next revision of another one, and brings over
// the map of that which is seen: what is the same keeps its place, a seal and what was painted come
// along. tell hears what is done and how far it is.
func (d *Documents) Revise(ctx context.Context, o *Opened, from Ref, key string, tell func(what string, done float64)) error {
	if made, err := d.store.Made(ctx, o.Row.ID, key); err != nil || made {
		return err
	}
	before, err := d.Through(ctx, from)
	if err != nil {
		return err
	}
	if !before.Doc.State.Map.AnyMapped() {
		return document.Refuse("%s has nothing on its map to keep", before.Row.Title)
	}
	tell("comparing the models", 0)
	match, err := revise.Compare(ctx, before.Doc.State.Map, o.Doc.Mesh)
	if err != nil {
		return err
	}
	if err := match.Check(o.Doc.Mesh, before.Row.Title); err != nil {
		return err
	}
	res, err := pipeline.Run(ctx, o.Doc, func(station string, done float64) { tell("the whole job: "+station, 0.1+0.8*done) })
	if err != nil {
		return err
	}
	tell("keeping what is the same", 0.9)
	s, c, err := revise.Carry(ctx, before.Doc, res.Doc, match)
	if err != nil {
		return err
	}
	edits, states := res.Edits()
	edits, states = append(edits, edit.Edit(&mapedits.Carry{From: before.Row.ID, Carried: c})), append(states, s)
	now, err := d.append(ctx, o, edits, states, key)
	if errors.Is(err, store.ErrStale) {
		return document.Refuse("the document was changed meanwhile; bring the revision in again")
	}
	if err != nil {
		return err
	}
	return d.store.CopyPictures(ctx, before.Row.ID, int32(before.Doc.State.Shown.ID), now.Row.ID, int32(now.Doc.State.Shown.ID))
}
