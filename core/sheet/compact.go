package sheet

import (
	"context"
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// compactor enlarges placed shells in exact geometry for as long as they can make way for
// each other: near corners and edges keep their distance as linear constraints on where the
// shells lie and how large they are (compaction by linear programming, Li & Milenkovic 1995),
// and those that do not hold are mended one after the other (relaxation, Agmon 1954, Motzkin
// & Schoenberg 1954). Shells are not turned.
type compactor struct {
	*packer
	from   []Placement
	rims   [][]rimEdge
	half   []r2.Vec // of the box of each shell, in model units
	turned []r2.Vec // middle of it, turned and not moved, in model units
	mid    []r2.Vec // of it, on the sheet
	room   planar.Box
	gap    float64
	scale  float64
	known  []contact // that held last
	stays  []rimEdge // outline of what stays
}

const (
	growStep  = 1.004 // of the scale, at first
	growLeast = 1.0004
	fitTries  = 4 // with contacts as they are then

	relaxRounds = 25 // of so many sweeps over what is near
	relaxSweeps = 40
	relaxNear   = 0.002 // of a contact, in tiles
	relaxed     = 1e-7  // what may be missing from a gap
	headway     = 0.9   // what a round must bring

	// gapHair is added to gaps, so that they hold when outlines are straightened and written with
	// few digits; to margins what relaxing may leave.
	gapHair    = 2*rimSlack + 4e-6
	marginHair = 2 * relaxed
)

// newCompactor takes shells as they are placed; they may overlap a little.
func (p *packer) newCompactor(from []Placement) *compactor {
	margin := p.o.MarginPx/float64(p.o.SizePx) + marginHair
	size := r2.Vec{X: p.o.width(), Y: 1}
	if p.across {
		size = swap(size)
	}
	c := &compactor{packer: p, from: from, scale: from[0].Scale, gap: p.o.PaddingPx/float64(p.o.SizePx) + gapHair,
		room: planar.Box{Min: r2.Vec{X: margin, Y: margin}, Max: r2.Vec{X: size.X - margin, Y: size.Y - margin}}}
	c.stays, _ = p.ground.outline()
	for i := range p.shells {
		rim, half, middle := p.rimAbout(i, from[i])
		c.rims, c.half, c.turned = append(c.rims, rim), append(c.half, half), append(c.turned, middle)
		c.mid = append(c.mid, r2.Add(r2.Scale(from[i].Scale, middle), from[i].Shift))
	}
	c.fillHoles()
	return c
}

// placements are the places as they are now.
func (c *compactor) placements() []Placement {
	out := make([]Placement, len(c.from))
	for i, at := range c.from {
		if len(c.rims[i]) == 0 {
			out[i] = c.atMargin(c.scale)
			continue
		}
		at.Scale, at.Shift = c.scale, r2.Sub(c.mid[i], r2.Scale(c.scale, c.turned[i]))
		out[i] = at
	}
	return out
}

// grow enlarges shells, which keep their distance, as far as they make way.
func (c *compactor) grow(ctx context.Context) error {
	for step := growStep; step > growLeast; {
		if err := ctx.Err(); err != nil {
			return err
		}
		to := min(c.scale*step, c.largest())
		if to < c.scale*growLeast {
			break
		}
		if !c.fit(to) {
			step = math.Sqrt(step)
		}
	}
	return nil
}

// fit moves shells so that they have room at a scale; where it does not get there it leaves them
// as they were.
func (c *compactor) fit(scale float64) bool {
	mid, room := make([]r2.Vec, len(c.mid)), c.room.Size()
	for i, m := range c.mid {
		if 2*scale*c.half[i].X > room.X || 2*scale*c.half[i].Y > room.Y {
			return false
		}
		corner := r2.Add(c.room.Min, r2.Vec{X: float64(c.from[i].Tile)})
		mid[i] = r2.Add(corner, r2.Scale(scale/c.scale, r2.Sub(m, corner)))
	}
	known := c.known
	for range fitTries {
		fresh := known == nil
		if fresh {
			known = c.contacts(mid, scale)
		}
		holds := c.relax(mid, scale, known)
		if holds && c.keeps(mid, scale) {
			c.mid, c.scale, c.known = mid, scale, known
			return true
		}
		if fresh && !holds {
			return false
		}
		known = nil
	}
	return false
}

// relax moves shells until all contacts hold and all lie on their tiles; it gives up where that
// makes no headway.
func (c *compactor) relax(mid []r2.Vec, scale float64, list []contact) bool {
	need := make([]float64, len(list)) // what is asked of the middles
	for i, k := range list {
		need[i] = c.gap - scale*k.arm + k.past
	}
	missing := func(i int32) float64 {
		k := &list[i]
		d := mid[k.a]
		if k.b != onGround {
			d.X, d.Y = d.X-mid[k.b].X, d.Y-mid[k.b].Y
		}
		return need[i] - k.n.X*d.X - k.n.Y*d.Y
	}
	var near []int32
	was := math.Inf(1)
	for range relaxRounds {
		near = near[:0]
		for i := range list {
			if missing(int32(i)) > -relaxNear {
				near = append(near, int32(i))
			}
		}
		worst := 0.0
		for sweep := range relaxSweeps {
			worst = c.ontoTiles(mid, scale)
			for _, i := range near {
				if short := missing(i); short > 0 {
					worst = max(worst, short)
					k := &list[i]
					if k.b == onGround {
						mid[k.a] = r2.Add(mid[k.a], r2.Scale(short, k.n))
						continue
					}
					by := r2.Scale(0.5*short, k.n)
					mid[k.a], mid[k.b] = r2.Add(mid[k.a], by), r2.Sub(mid[k.b], by)
				}
			}
			if worst < relaxed {
				if sweep == 0 {
					return true
				}
				break
			}
		}
		if worst > headway*was {
			return false
		}
		was = max(worst, relaxed)
	}
	return false
}

// ontoTiles moves shells back onto their tiles and tells how far at the most.
func (c *compactor) ontoTiles(mid []r2.Vec, scale float64) (farthest float64) {
	for i, m := range mid {
		if len(c.rims[i]) == 0 {
			continue
		}
		tile, h := float64(c.from[i].Tile), r2.Scale(scale, c.half[i])
		to := r2.Vec{X: max(tile+c.room.Min.X+h.X, min(tile+c.room.Max.X-h.X, m.X)), Y: max(c.room.Min.Y+h.Y, min(c.room.Max.Y-h.Y, m.Y))}
		farthest = max(farthest, math.Abs(to.X-m.X), math.Abs(to.Y-m.Y))
		mid[i] = to
	}
	return farthest
}

// keeps tells whether all keep their distance and none lies inside another.
func (c *compactor) keeps(mid []r2.Vec, scale float64) bool {
	segs, _ := c.segments(mid, scale)
	if least, _ := planar.GapsWithin(segs, c.gap); least.Distance < c.gap-2*relaxed {
		return false
	}
	for i, rim := range c.rims {
		if len(rim) == 0 {
			continue
		}
		if within(c.stays, r2.Add(mid[i], r2.Scale(scale, rim[0].a))) {
			return false
		}
		for j, other := range c.rims {
			if i == j || len(other) == 0 {
				continue
			}
			d := r2.Sub(mid[i], mid[j])
			if math.Abs(d.X)+scale*c.half[i].X < scale*c.half[j].X && math.Abs(d.Y)+scale*c.half[i].Y < scale*c.half[j].Y &&
				within(other, r2.Add(rim[0].a, r2.Scale(1/scale, d))) {
				return false
			}
		}
	}
	return true
}

// within tells whether an outline winds around a point.
func within(rim []rimEdge, q r2.Vec) bool {
	turns := 0
	for _, e := range rim {
		if (e.a.Y <= q.Y) == (e.b.Y <= q.Y) {
			continue
		}
		if e.a.X+(e.b.X-e.a.X)*(q.Y-e.a.Y)/(e.b.Y-e.a.Y) > q.X {
			if e.b.Y > e.a.Y {
				turns++
			} else {
				turns--
			}
		}
	}
	return turns != 0
}

// segments are all outlines as they would lie, and the edges they are of.
func (c *compactor) segments(mid []r2.Vec, scale float64) (segs []planar.Segment, of []*rimEdge) {
	for i, rim := range c.rims {
		for k := range rim {
			e := &rim[k]
			segs = append(segs, planar.Segment{A: r2.Add(mid[i], r2.Scale(scale, e.a)), B: r2.Add(mid[i], r2.Scale(scale, e.b)), Group: int32(i)})
			of = append(of, e)
		}
	}
	for k := range c.stays {
		e := &c.stays[k]
		segs, of = append(segs, planar.Segment{A: e.a, B: e.b, Group: onGround}), append(of, e)
	}
	return segs, of
}
