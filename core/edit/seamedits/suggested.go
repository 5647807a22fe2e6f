package seamedits

import (
	"context"
	"errors"
	"fmt"

	"morvek/core/document"
	"morvek/core/ids"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/parallel"
	"morvek/core/segment"
)

// Attach leaves pieces attached to a neighbour along one border where the union
// still lies flat: the narrow sides of a board to its face, the flats of a nut to
// each other. The most exposed seams go first. How much of the sheet a union may waste is
// the dial's to say: 0 attaches whatever lies flat, 1 nothing. Below the middle of
// the dial unions may also stretch a little. Slivers, too small to paint, go to a
// neighbour at any place of the dial.
type Attach struct{}

// Kind implements Edit.
func (*Attach) Kind() string { return "attach" }

// Describe implements Edit.
func (*Attach) Describe() string { return "leave what lies flat attached" }

// Apply implements Edit.
func (e *Attach) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	return segment.Attach(ctx, d, progress)
}

// Dial suggests all seams anew for a place between fewer pieces (0) and less stretch
// (1): borders of parts, openings, corner cuts, darts, what stays attached, and what is
// divided for the sheet's sake. What people cut, closed or keep whole stands. Where there
// is a map, shells that came out different are flattened and wait on the rack, or all are
// packed; the others stay.
type Dial struct {
	Dial float64 `json:"dial"`
	Pack bool    `json:"pack,omitempty"`
}

// Kind implements Edit.
func (*Dial) Kind() string { return "dial" }

// Describe implements Edit.
func (e *Dial) Describe() string {
	return fmt.Sprintf("seams for %.0f %% less stretch", 100*e.Dial)
}

// Long implements edit.Long.
func (*Dial) Long() bool { return true }

// Apply implements Edit.
func (e *Dial) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	if !(e.Dial >= 0 && e.Dial <= 1) {
		return nil, document.Refuse("the dial goes from 0 to 1, not to %g", e.Dial)
	}
	if !d.State.Recognised() {
		return nil, document.Refuse("nothing is recognised yet; recognise parts first, the seams follow from them")
	}
	s := d.Begin()
	s.Settings.Dial = e.Dial
	s.ResetCuts(d.Mesh, ids.All[mesh.FaceID](d.Mesh.NumFaces()))
	now, err := segment.Open(ctx, d.With(s.Done()), nil, parallel.Part(progress, 0, 0.25))
	if err != nil {
		return nil, err
	}
	if now, err = segment.Attach(ctx, d.With(now), parallel.Part(progress, 0.25, 0.5)); err != nil {
		return nil, err
	}
	if !d.State.Map.AnyMapped() {
		return now, nil
	}
	if now, err = lay.FlattenChanged(ctx, d, now, parallel.Part(progress, 0.5, 0.7)); err != nil {
		return nil, err
	}
	_, lanes, err := segment.Divide(ctx, d.With(now), nil, 0, parallel.Part(progress, 0.7, 0.8))
	switch {
	case err == nil:
		now = lay.Stay(lanes, d, lay.SameShell(d))
	case !errors.Is(err, document.ErrRefused): // refused: there is nothing to divide
		return nil, err
	}
	if !e.Pack {
		return now, nil
	}
	return lay.Pack(ctx, d.With(now), parallel.Part(progress, 0.8, 1))
}

// Open cuts the openings that closed walls need, in the least exposed place.
type Open struct {
	Parts []document.PartID `json:"parts,omitempty"` // none: all
	Faces []mesh.FaceID     `json:"faces,omitempty"` // in place of parts: of closed shells, which are laid at once
}

// Kind implements Edit.
func (*Open) Kind() string { return "open" }

// Describe implements Edit.
func (o *Open) Describe() string {
	switch {
	case len(o.Faces) > 0:
		return "cut the opening of a closed wall"
	case len(o.Parts) == 0:
		return "cut openings"
	}
	return fmt.Sprintf("cut openings of %d parts", len(o.Parts))
}

// Long implements edit.Long.
func (o *Open) Long() bool { return len(o.Parts)+len(o.Faces) == 0 }

// Apply implements Edit.
func (o *Open) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	if len(o.Faces) == 0 {
		return segment.Open(ctx, d, o.Parts, progress)
	}
	if err := document.CheckFaces(d.Mesh, o.Faces); err != nil {
		return nil, err
	}
	now, err := segment.Open(ctx, d, d.State.PartsOf(o.Faces), parallel.Part(progress, 0, 0.4))
	if err != nil {
		return nil, err
	}
	if now, err = lay.FlattenChanged(ctx, d, now, parallel.Part(progress, 0.4, 1)); err != nil {
		return nil, err
	}
	if document.Diff(d.State, now).Empty() {
		return nil, document.Refuse("this wall needs no opening, or none can be cut; cut one by hand")
	}
	return now, nil
}
