package pipeline

import (
	"context"

	"morvek/core/document"
	"morvek/core/edit/mapedits"
	"morvek/core/edit/projectedits"
	"morvek/core/revise"
)

// Before is the model that another one revises.
type Before struct {
	Doc   *document.Document // seen through the map that is kept
	ID    int64              // of its document, 0 for none
	Match revise.Match       // what the faces of the revision are of it
}

// Revise applies the whole job to a document that is the next revision of another: what people said of
// that holds for what is done anew, and what is the same keeps its place. Progress and cancel are those of Run.
func Revise(ctx context.Context, d *document.Document, of Before, progress Progress) (Result, revise.Carried, error) {
	r := Result{Doc: d, Seconds: map[string]float64{}}
	steps := Steps()
	recognise, rest, pack := steps[:1], steps[1:len(steps)-1], steps[len(steps)-1:]
	share := func(list []Step) (sum float64) {
		for _, s := range list {
			sum += s.share
		}
		return sum
	}
	if err := r.run(ctx, recognise, 0, progress); err != nil {
		return Result{}, revise.Carried{}, err
	}
	if s := revise.Adopt(of.Doc, r.Doc, of.Match); !document.Diff(r.Doc.State, s).Empty() {
		r.take(&mapedits.Wishes{From: of.ID}, s)
	}
	wished := projections(r.Doc, of.Match)
	if err := r.run(ctx, rest, share(recognise), progress); err != nil {
		return Result{}, revise.Carried{}, err
	}
	for _, e := range wished {
		s, err := e.Apply(ctx, r.Doc, nil)
		switch {
		case ctx.Err() != nil:
			return Result{}, revise.Carried{}, ctx.Err()
		case err != nil: // it cannot be laid so any more
			r.Refused = append(r.Refused, err)
		default:
			r.take(e, s)
		}
	}
	if err := r.run(ctx, pack, share(recognise)+share(rest), progress); err != nil {
		return Result{}, revise.Carried{}, err
	}
	s, c, err := revise.Carry(ctx, of.Doc, r.Doc, of.Match)
	if err != nil {
		return Result{}, c, err
	}
	s, pairs, err := revise.Others(ctx, of.Doc, r.Doc.With(s))
	if err != nil {
		return Result{}, c, err
	}
	if len(pairs) > 1 {
		c.Maps = pairs
	}
	r.take(&mapedits.Carry{From: of.ID, Carried: c}, s)
	if progress != nil {
		progress("proof", 1)
	}
	return r, c, nil
}

// projections are those that parts are to be laid by again, of which something is new.
func projections(d *document.Document, m revise.Match) (out []*projectedits.Project) {
	for p, faces := range d.State.PartFaces() {
		pr := d.State.Parts[p].Projection
		if pr == nil {
			continue
		}
		for _, f := range faces {
			if !m.Kind[f].Lies() {
				out = append(out, &projectedits.Project{Faces: faces, Projection: *pr})
				break
			}
		}
	}
	return out
}
