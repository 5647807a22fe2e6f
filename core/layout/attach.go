package layout

import (
	"context"
	"math"
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
func (e *Attach) Apply(ctx context.Context, d *Document, progress func(float64)) (*State, error) {
	s := d.State.Clone()
	stacked := s.stacks()
	a := newAttacher(ctx, d, s, func(p piece) bool { return !stacked(p.part) })
	dial := s.Settings.Dial
	if dial < 1 {
		a.worth = (1 - dial) / dial
		a.longest = 0.35 / dial * math.Sqrt(a.total) // longer strips are hard to lay out
		if err := a.round(part(progress, 0, 0.5)); err != nil {
			return nil, err
		}
	}
	if a.stretch = 1 + 0.1*(0.5-dial); a.stretch > 1 {
		a.grain = 5 * math.Pi / 180
		if err := a.round(part(progress, 0.5, 1)); err != nil {
			return nil, err
		}
	}
	if err := a.slivers(); err != nil {
		return nil, err
	}
	return s, nil
}
