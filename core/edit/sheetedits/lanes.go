package sheetedits

import (
	"context"

	"morvek/core/document"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/parallel"
	"morvek/core/segment"
	"morvek/core/words"
)

// Lanes divides the shells that rule the sheet: one strip as long as the sheet leaves
// most of it empty, a curved band fills little of its box. They are cut across in about
// equal lengths, straight and where it shows least. The dial says how much sharper the
// sheet must get for a piece; repeats are divided alike.
type Lanes struct {
	Faces  []mesh.FaceID `json:"faces,omitempty"`  // a face of each shell; none: those that rule the sheet
	Pieces int           `json:"pieces,omitempty"` // with faces: how many of each, 0 means 2
	Pack   bool          `json:"pack,omitempty"`   // and lay all anew
}

// Kind implements Edit.
func (*Lanes) Kind() string { return "lanes" }

// Describe implements Edit.
func (e *Lanes) Describe() string {
	if len(e.Faces) == 0 {
		return "divide shells that rule the sheet"
	}
	return "divide " + words.Count(len(e.Faces), "shell") + " across"
}

// Apply implements Edit.
func (e *Lanes) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	_, s, err := segment.Divide(ctx, d, e.Faces, e.Pieces, parallel.Part(progress, 0, 0.4))
	if err != nil {
		return nil, err
	}
	s = e.marked(d, s)
	if !e.Pack {
		return s, nil
	}
	return lay.Pack(ctx, d.With(s), parallel.Part(progress, 0.4, 1))
}

// marked notes that somebody divided the shells that were picked.
func (e *Lanes) marked(d *document.Document, s *document.State) *document.State {
	tx := d.With(s).Begin()
	for _, f := range e.Faces {
		tx.MarkHand(f)
	}
	return tx.Done()
}

// Plan gives the state after the edit with what each division costs, and how many times
// sharper everything becomes when it is packed.
func (e *Lanes) Plan(ctx context.Context, d *document.Document) (s *document.State, list []segment.Division, sharper float64, err error) {
	list, s, sharper, err = segment.DivideAndWeigh(ctx, d, e.Faces, e.Pieces, e.Pack)
	if err != nil {
		return nil, nil, 0, err
	}
	return e.marked(d, s), list, sharper, nil
}
