package sheet

import (
	"context"

	"morvek/core/planar"
)

// squeezeLess is how many cells of the padding are left to exact geometry where a raster as fine
// as it gets finds no room, squeezeTries how many places are looked at more closely.
const (
	squeezeLess  = 2
	squeezeTries = 48
)

// squeeze looks for room for what found none on the raster: sheets that were tightened in exact
// geometry have holes that only exact geometry finds. Shells keep their size.
func (p *packer) squeeze(ctx context.Context, around []planar.Triangle) error {
	q := p.leaving(squeezeLess)
	cells := q.fineCells()
	q.ground = nil // not known since something more was laid
	for _, i := range p.order {
		if p.laid[i] || p.tooLarge(i, 1) {
			continue
		}
		if a := p.alike[i]; a >= 0 && !p.laid[a] { // its like found no room
			continue
		}
		if q.ground == nil {
			q.ground = newGround(p.withLaid(around), p.o)
			if _, ok := q.ground.outline(); !ok {
				return nil // what lies there does not tell inside from outside
			}
		}
		alone := newPacker(p.shells[i:i+1], p.o)
		alone.ground = q.ground
		for _, at := range q.places(i, cells) {
			if err := ctx.Err(); err != nil {
				return err
			}
			if c := alone.newCompactor([]Placement{at}); c.fit(1) {
				p.found[i], p.laid[i] = c.placements()[0], true
				q.ground = nil
				break
			}
		}
	}
	return nil
}

// withLaid are triangles together with those of all shells that were laid.
func (p *packer) withLaid(around []planar.Triangle) []planar.Triangle {
	out := append([]planar.Triangle{}, around...)
	for i, s := range p.shells {
		if !p.laid[i] {
			continue
		}
		for _, t := range s.Tris {
			out = append(out, p.found[i].triangle(t))
		}
	}
	return out
}

// places lists where a shell has room on the raster, the middle of each gap.
func (p *packer) places(i, cells int) (out []Placement) {
	_, cell, _ := p.raster(cells)
	forms := p.forms(i, 1, cell)
	for tile, o := range p.occupied(cells) {
		for f, fm := range forms {
			o.scan(fm, 0, o.high, func(row int, taken []uint64) (int, bool) {
				for at := 0; at < o.n; {
					lo := nextFree(taken, at)
					if lo >= o.n {
						break
					}
					at = nextTaken(taken, lo)
					out = append(out, p.placed(fm, spot{tile: tile, form: f, x: (lo + min(at, o.n) - 1) / 2, y: row}, 1, cells))
				}
				return 0, len(out) < squeezeTries
			})
		}
	}
	return out
}
