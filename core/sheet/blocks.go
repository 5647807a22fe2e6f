package sheet

import (
	"context"
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// What is tried for blocks: how wide they are against the side of a square that would just hold
// their shells, and how often the scale is halved in.
var blockWidths = []float64{1.1, 0.75, 1.5, 0.5}

const (
	blockTries = 10
	blockCells = 320 // across a block
	blockHigh  = 5   // the most a block is higher than wide
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
	low, high := 0., min(usable*math.Sqrt(float64(o.Tiles)/p.total), p.largest())
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

// blocksAt places all at a scale, nil if there is no room for the blocks.
func (p *packer) blocksAt(ctx context.Context, scale float64, members [][]int, around []planar.Triangle) ([]Placement, error) {
	for _, wide := range blockWidths {
		out := make([]Placement, len(p.shells))
		blocks := make([]Shell, len(members))
		fits := true
		for g, list := range members {
			size, err := p.layBlock(ctx, list, scale, wide, out)
			if err != nil {
				return nil, err
			}
			if fits = fits && size != (r2.Vec{}); !fits {
				break
			}
			blocks[g] = rectangle(size)
		}
		if !fits {
			continue
		}
		o := p.o
		o.Turns = NoTurns
		placed, laid, err := Fill(ctx, blocks, around, o)
		if err != nil {
			return nil, err
		}
		for g, list := range members {
			fits = fits && laid[g]
			for _, i := range list {
				out[i].Shift, out[i].Tile = r2.Add(out[i].Shift, placed[g].Shift), placed[g].Tile
			}
		}
		if fits {
			return out, nil
		}
	}
	return nil, nil
}

// layBlock lays shells at a scale into a rectangle with its lower left in the origin, and returns
// its size; none if one is too large for that.
func (p *packer) layBlock(ctx context.Context, list []int, scale, wide float64, out []Placement) (r2.Vec, error) {
	px := float64(p.o.SizePx)
	shells := make([]Shell, len(list))
	var area, longest float64
	for k, i := range list {
		shells[k] = p.shells[i]
		reach := p.o.PaddingPx / px
		size := r2.Scale(scale, p.boxes[i].Size())
		area += (size.X + reach) * (size.Y + reach)
		longest = max(longest, min(size.X, size.Y))
		if p.o.Turns == NoTurns || p.o.Turns == HalfTurns {
			longest = max(longest, size.X)
		}
	}
	width := math.Ceil(px*max(wide*math.Sqrt(area), longest*(1+2./blockCells))) + 1 // px
	room := p.o
	room.SizePx, room.MarginPx, room.Tiles = int(max(width, 16)), 0, 1
	q := newPacker(shells, room)
	q.high = blockHigh
	strip := newOccupancy(blockCells, blockHigh*blockCells)
	unit := float64(room.SizePx) / px // of the block in sheet units
	ok, err := q.placeOn(ctx, scale/unit, []*occupancy{strip})
	if err != nil || !ok {
		return r2.Vec{}, err
	}
	var right float64
	for k, i := range list {
		pl := q.found[k]
		pl.Scale, pl.Shift = scale, r2.Scale(unit, pl.Shift)
		out[i] = pl
		for _, t := range shells[k].Tris {
			for _, c := range t {
				right = max(right, pl.Apply(c).X)
			}
		}
	}
	return r2.Vec{X: right, Y: float64(q.top) / blockCells * unit}, nil
}

func rectangle(size r2.Vec) Shell {
	a, b, c, d := r2.Vec{}, r2.Vec{X: size.X}, size, r2.Vec{Y: size.Y}
	return Shell{Tris: []planar.Triangle{{a, b, c}, {a, c, d}}, Still: true}
}
