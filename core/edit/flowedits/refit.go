package flowedits

import (
	"context"
	"errors"
	"fmt"

	"morvek/core/document"
	"morvek/core/edit/preview"
	"morvek/core/ids"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/words"
)

// Refit mends faces that were forgotten or went wrong: they are flattened into the hole they leave,
// or, where they do not fit there, as shells of their own that are laid where there is room. All else
// keeps its place to the last bit, also on a sealed map.
type Refit struct {
	Faces []mesh.FaceID `json:"faces"`
}

// Kind implements Edit.
func (*Refit) Kind() string { return "refit" }

// Describe implements Edit.
func (e *Refit) Describe() string { return "fit " + words.Count(len(e.Faces), "face") + " in again" }

// Frees tells which faces of a sealed map may move.
func (e *Refit) Frees() []mesh.FaceID { return e.Faces }

// fitted is what became of the faces, by number.
type fitted struct {
	holes, beside int
	waiting       int // shells that found no room
}

// Apply implements Edit.
func (e *Refit) Apply(ctx context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	s, _, err := e.apply(ctx, d)
	return s, err
}

func (e *Refit) apply(ctx context.Context, d *document.Document) (*document.State, fitted, error) {
	var f fitted
	if err := document.CheckPick(d.Mesh, e.Faces); err != nil {
		return nil, f, err
	}
	if err := d.Begin().Unstacked(d.State.Stacks(), e.Faces); err != nil {
		return nil, f, err
	}
	var own []mesh.FaceID
	for _, group := range d.Mesh.Connected(ids.With(nil, e.Faces), d.State.Map.IsCut) {
		s := d.Begin()
		err := lay.IntoHole(ctx, s, group, nil)
		switch {
		case ctx.Err() != nil:
			return nil, f, ctx.Err()
		case err == nil:
			f.holes += len(group)
			d = d.With(s.Done())
		case errors.Is(err, document.ErrRefused):
			own = append(own, group...)
		default:
			return nil, f, err
		}
	}
	if len(own) == 0 {
		return d.State, f, nil
	}
	f.beside = len(own)
	s, err := beside(ctx, d, own)
	if err != nil {
		return nil, f, err
	}
	out, filled, err := lay.Fill(ctx, d.With(s), own, lay.Even)
	f.waiting = len(filled.Left)
	return out, f, err
}

// beside flattens faces as shells of their own; they lie anywhere.
func beside(ctx context.Context, d *document.Document, faces []mesh.FaceID) (*document.State, error) {
	m := d.Mesh
	s := d.Begin()
	in := ids.Set(faces)
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			if t := m.Twin(h); t != mesh.None && !in[m.FaceOf(t)] {
				s.Map.SetCut(m.Edge(h), true)
			}
		}
		s.Map.Unmap(f)
	}
	return lay.Flatten(ctx, d.With(s.Done()), lay.Options{Faces: faces}, nil)
}

// Preview says what becomes of the faces, and how many others stay.
func (e *Refit) Preview(ctx context.Context, d *document.Document) (preview.Preview, error) {
	s, f, err := e.apply(ctx, d)
	if err != nil {
		return preview.Preview{}, err
	}
	said := ""
	add := func(n int, what string) {
		if n > 0 {
			if said != "" {
				said += ", "
			}
			said += fmt.Sprintf(what, n)
		}
	}
	add(f.holes, "%d into their hole")
	add(f.beside, "%d beside, where there is room")
	add(f.waiting, "%d shells wait on the rack for want of room")
	add(stayed(d, s, ids.Set(e.Faces)), "%d others keep their place")
	return preview.Preview{State: s, Said: said}, nil
}

// stayed counts the faces besides some whose corners all lie where they lay.
func stayed(d *document.Document, now *document.State, but map[mesh.FaceID]bool) (n int) {
	was := d.State.Map
	for f := range mesh.FaceID(d.Mesh.NumFaces()) {
		if but[f] || !was.IsMapped(f) || !now.Map.IsMapped(f) {
			continue
		}
		same := true
		lo, hi := d.Mesh.Corners(f)
		for h := lo; h < hi; h++ {
			same = same && was.At(h) == now.Map.At(h)
		}
		if same {
			n++
		}
	}
	return n
}
