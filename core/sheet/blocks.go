package sheet

import (
	"cmp"
	"context"
	"math"
	"math/rand/v2"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// What is tried for blocks: how wide they are against the side of a square that would just hold
// their shells, how they are combined, and how often the scale is halved in.
var blockWidths = []float64{1.1, 0.85, 1.4, 0.6, 1.9, 2.6}

const (
	blockTries   = 10
	blockCombos  = 60
	blockCells   = 320 // across a block
	blockHigh    = 6   // the most a block is higher than wide
	looseByShare = 1.25
)

// PackBlocks places all shells at one scale as PackAround does, but those of a group lie together
// in a rectangle of their own, side by side with those of others. groups tells that of each shell.
func PackBlocks(ctx context.Context, shells []Shell, groups []int, around []planar.Triangle, o Options, progress func(float64)) ([]Placement, error) {
	if err := o.check(); err != nil {
		return nil, err
	}
	p := newPacker(shells, o)
	if p.total == 0 {
		return p.allAtMargin(), nil
	}
	members := gathered(groups)
	usable := 1 - 2*o.MarginPx/float64(o.SizePx)
	low, high := 0., min(usable*math.Sqrt(o.area()/p.total), p.largest())
	var best []Placement
	for try := 0; try < blockTries || best == nil; try++ {
		scale := (low + high) / 2
		if scale*p.longest*float64(o.SizePx) < 0.25 { // specks by now: it is the padding that leaves no room
			return nil, ErrNoRoom
		}
		placed, err := p.blocksAt(ctx, scale, members, around)
		switch {
		case err != nil:
			return nil, err
		case placed == nil:
			high = scale
		default:
			low, best = scale, placed
		}
		if progress != nil {
			progress(min(1, float64(try+1)/blockTries))
		}
	}
	return best, nil
}

// gathered lists the members of each group, in the order of their first ones.
func gathered(groups []int) (out [][]int) {
	at := map[int]int{}
	for i, g := range groups {
		k, ok := at[g]
		if !ok {
			k = len(out)
			at[g] = k
			out = append(out, nil)
		}
		out[k] = append(out[k], i)
	}
	return out
}

// lot is a way to lay a group in a rectangle with its lower left in the origin.
type lot struct {
	size   r2.Vec
	placed []Placement // of its members
}

// blocksAt places all at a scale, nil if there is no room for the blocks.
func (p *packer) blocksAt(ctx context.Context, scale float64, members [][]int, around []planar.Triangle) ([]Placement, error) {
	ways := make([][]lot, len(members))
	for g, list := range members {
		var err error
		if ways[g], err = p.waysToLay(ctx, list, scale); err != nil || len(ways[g]) == 0 {
			return nil, err
		}
	}
	random := rand.New(rand.NewPCG(3, uint64(len(members))))
	o := p.o
	o.Turns = NoTurns
	for combo := range blockCombos {
		chosen := make([]lot, len(members))
		blocks := make([]Shell, len(members))
		var area float64
		for g := range members {
			chosen[g] = ways[g][0] // the one that takes the least room first
			if combo > 0 {
				chosen[g] = ways[g][random.IntN(len(ways[g]))]
			}
			blocks[g] = rectangle(chosen[g].size)
			area += chosen[g].size.X * chosen[g].size.Y
		}
		if area > o.area() {
			continue
		}
		placed, laid, err := Fill(ctx, blocks, around, o)
		if err != nil {
			return nil, err
		}
		if slices.Contains(laid, false) {
			continue
		}
		out := make([]Placement, len(p.shells))
		for g, list := range members {
			for k, i := range list {
				out[i] = chosen[g].placed[k]
				out[i].Shift, out[i].Tile = r2.Add(out[i].Shift, placed[g].Shift), placed[g].Tile
			}
		}
		return out, nil
	}
	return nil, nil
}

// waysToLay lists rectangles of several widths that hold a group at a scale, those that take the
// least room first, without those that waste much.
func (p *packer) waysToLay(ctx context.Context, list []int, scale float64) (out []lot, err error) {
	usable := 1 - 2*p.o.MarginPx/float64(p.o.SizePx)
	for _, wide := range blockWidths {
		b, err := p.layBlock(ctx, list, scale, wide)
		if err != nil {
			return nil, err
		}
		if b.placed != nil && b.size.X <= usable+p.o.width()-1 && b.size.Y <= usable && !slices.ContainsFunc(out, func(c lot) bool { return c.size == b.size }) {
			out = append(out, b)
		}
	}
	room := func(b lot) float64 { return b.size.X * b.size.Y }
	slices.SortStableFunc(out, func(a, b lot) int { return cmp.Compare(room(a), room(b)) })
	return slices.DeleteFunc(out, func(b lot) bool { return room(b) > looseByShare*room(out[0]) }), nil
}

// layBlock lays shells at a scale into a rectangle about so wide; none if one is too large for
// that.
func (p *packer) layBlock(ctx context.Context, list []int, scale, wide float64) (best lot, err error) {
	px := float64(p.o.SizePx)
	shells := make([]Shell, len(list))
	var area, longest float64
	for k, i := range list {
		shells[k] = p.shells[i]
		reach := p.o.PaddingPx / px
		size := r2.Scale(scale, p.boxes[i].Size())
		area += scale*scale*p.areas[i] + reach*(size.X+size.Y)
		longest = max(longest, min(size.X, size.Y))
		if p.o.Turns == NoTurns || p.o.Turns == HalfTurns {
			longest = max(longest, size.X)
		}
	}
	width := math.Ceil(px*max(wide*math.Sqrt(area), longest*(1+2./blockCells))) + 1 // px
	room := p.o
	room.SizePx, room.MarginPx, room.Tiles, room.Wide = int(min(max(width, 16), 4*px)), 0, 1, false
	q := newPacker(shells, room)
	q.high = blockHigh
	unit := float64(room.SizePx) / px // of the block in sheet units
	for _, by := range []weight{longFirst, boxFirst} {
		q.sortBy(by)
		q.relate()
		q.top = 0
		ok, err := q.placeOn(ctx, scale/unit, blockCells, []*occupancy{newOccupancy(blockCells, blockHigh*blockCells)})
		if err != nil {
			return lot{}, err
		}
		if high := float64(q.top) / blockCells * unit; ok && (best.placed == nil || high < best.size.Y) {
			best = lot{size: r2.Vec{Y: high}, placed: q.found}
		}
	}
	for k := range best.placed {
		best.placed[k].Scale, best.placed[k].Shift = scale, r2.Scale(unit, best.placed[k].Shift)
		for _, t := range shells[k].Tris {
			for _, c := range t {
				best.size.X = max(best.size.X, best.placed[k].Apply(c).X)
			}
		}
	}
	return best, nil
}

func rectangle(size r2.Vec) Shell {
	a, b, c, d := r2.Vec{}, r2.Vec{X: size.X}, size, r2.Vec{Y: size.Y}
	return Shell{Tris: []planar.Triangle{{a, b, c}, {a, c, d}}, Still: true}
}
