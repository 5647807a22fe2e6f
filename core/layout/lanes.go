package layout

import (
	"context"

	"morvek/core/mesh"
	"morvek/core/parallel"
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
	return "divide " + count(len(e.Faces), "shell") + " across"
}

// Apply implements Edit.
func (e *Lanes) Apply(ctx context.Context, d *Document, progress func(float64)) (*State, error) {
	_, s, err := divideShells(ctx, d, e.Faces, e.Pieces, parallel.Part(progress, 0, 0.4))
	if err != nil {
		return nil, err
	}
	s = e.marked(d, s)
	if !e.Pack {
		return s, nil
	}
	return packAll(ctx, d.With(s), parallel.Part(progress, 0.4, 1))
}

// marked notes that somebody divided the shells that were picked.
func (e *Lanes) marked(d *Document, s *State) *State {
	tx := d.With(s).Begin()
	for _, f := range e.Faces {
		tx.markHand(f)
	}
	return tx.Done()
}

// Plan gives the state after the edit with what each division costs, and how many times
// sharper everything becomes when it is packed.
func (e *Lanes) Plan(ctx context.Context, d *Document) (s *State, list []Division, sharper float64, err error) {
	list, s, sharper, err = divideAndWeigh(ctx, d, e.Faces, e.Pieces, e.Pack)
	if err != nil {
		return nil, nil, 0, err
	}
	return e.marked(d, s), list, sharper, nil
}
