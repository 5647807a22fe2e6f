package layout

import "context"

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
	return attachFlat(ctx, d, progress)
}
