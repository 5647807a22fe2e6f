package sheet

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
)

// findTwins notes for each shell an earlier one that is the same but for where it lies, itself if
// there is none: their rasters are computed once.
func (p *packer) findTwins() {
	type key struct {
		w, h, area  float32
		tris        int
		still, free bool
	}
	p.twin = make([]int, len(p.shells))
	known := map[key][]int{}
	for i, s := range p.shells {
		size := p.boxes[i].Size()
		k := key{float32(size.X), float32(size.Y), float32(p.areas[i]), len(s.Tris), s.Still, s.Free}
		p.twin[i] = i
		for _, j := range known[k] {
			if p.same(i, j) {
				p.twin[i] = j
				break
			}
		}
		if p.twin[i] == i {
			known[k] = append(known[k], i)
		}
	}
}

// same tells whether two shells have the same triangles, but for where they lie and rounding.
func (p *packer) same(i, j int) bool {
	by, size := p.apartBy(i, j), p.boxes[i].Size()
	slack := 1e-12 * (max(size.X, size.Y) + math.Abs(by.X) + math.Abs(by.Y))
	for k, t := range p.shells[i].Tris {
		for c, q := range t {
			d := r2.Sub(r2.Sub(q, by), p.shells[j].Tris[k][c])
			if math.Abs(d.X) > slack || math.Abs(d.Y) > slack {
				return false
			}
		}
	}
	return true
}

// apartBy is how far a shell lies from another that is the same.
func (p *packer) apartBy(i, j int) r2.Vec { return r2.Sub(p.boxes[i].Min, p.boxes[j].Min) }

// asTwin is the placement of a shell that lies where one that is the same would by another.
func (p *packer) asTwin(i int, pl Placement) Placement {
	if p.twin[i] == i {
		return pl
	}
	still := pl
	still.Shift = r2.Vec{}
	pl.Shift = r2.Sub(pl.Shift, still.Apply(p.apartBy(i, p.twin[i])))
	return pl
}
