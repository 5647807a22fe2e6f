package sheet

import (
	"context"

	"morvek/core/planar"
)

// Fill lays shells at their own size into the room that others leave on the tiles, the largest
// first, each on the first tile that has a place. around are triangles of what stays, in sheet
// units. Which found a place is told; the placements of others say nothing.
func Fill(ctx context.Context, shells []Shell, around []planar.Triangle, o Options) ([]Placement, []bool, error) {
	if err := o.check(); err != nil {
		return nil, nil, err
	}
	p := newPacker(shells, o)
	p.ground = newGround(around, p.o)
	p.sortBy(boxFirst)
	p.relate()
	p.some = true
	cells := p.fineCells()
	if _, err := p.place(ctx, 1, cells); err != nil {
		return nil, nil, err
	}
	if err := p.squeeze(ctx, around); err != nil {
		return nil, nil, err
	}
	return p.found, p.laid, nil
}
