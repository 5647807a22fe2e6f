package sheet

import (
	"math"
	"slices"
	"sync"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// ground is what stays on the tiles: no shell may come nearer to it than the padding.
type ground struct {
	tris  []planar.Triangle   // in sheet units
	tiles [][]planar.Triangle // those that keep others away from each, relative to its lower left corner

	mu   sync.Mutex
	made map[spacing][]*occupancy

	rimOnce sync.Once
	rim     []rimEdge // its outline, in sheet units
	closed  bool      // the outline tells inside from outside
}

// spacing is what the rasters of a ground depend on: the number of cells, and how many of the
// padding are left to exact geometry.
type spacing struct {
	cells int
	less  float64
}

// newGround sorts triangles in sheet units by the tiles they touch; nil for none.
func newGround(tris []planar.Triangle, o Options) *ground {
	if len(tris) == 0 {
		return nil
	}
	g := &ground{tris: tris, tiles: make([][]planar.Triangle, o.Tiles), made: map[spacing][]*occupancy{}}
	for _, t := range tris {
		b := planar.Bounds(t[:]...)
		for at := max(0, int(math.Floor(b.Min.X/o.width()))-1); at < o.Tiles && float64(at) <= b.Max.X/o.width()+1; at++ { // what lies beside a tile keeps others away too
			g.tiles[at] = append(g.tiles[at], shifted(t, -float64(at)))
		}
	}
	return g
}

// shifted is a triangle some tiles to the right.
func shifted(t planar.Triangle, by float64) planar.Triangle {
	for k := range t {
		t[k].X += by
	}
	return t
}

// across is the ground with its axes exchanged.
func (g *ground) across() *ground {
	if g == nil {
		return nil
	}
	out := &ground{tiles: make([][]planar.Triangle, len(g.tiles)), made: map[spacing][]*occupancy{}}
	for _, t := range g.tris {
		at := max(0, min(float64(len(g.tiles)-1), math.Floor(planar.Bounds(t[:]...).Middle().X)))
		out.tris = append(out.tris, shifted(exchanged(shifted(t, -at)), at))
	}
	for i, list := range g.tiles {
		for _, t := range list {
			out.tiles[i] = append(out.tiles[i], exchanged(t))
		}
	}
	return out
}

// outline is that of all that stays, in sheet units; ok is false if it does not tell inside from
// outside.
func (g *ground) outline() (rim []rimEdge, ok bool) {
	if g == nil {
		return nil, true
	}
	g.rimOnce.Do(func() {
		edges, ok := outline(g.tris)
		for _, e := range edges {
			g.rim = append(g.rim, rimEdge{a: e[0], b: e[1]})
		}
		linked(g.rim)
		g.closed = ok
	})
	return g.rim, g.closed
}

// occupied are tiles on which nothing lies but the ground.
func (p *packer) occupied(cells int) []*occupancy {
	out := make([]*occupancy, p.o.Tiles)
	if p.ground == nil {
		for i := range out {
			out[i] = newOccupancy(p.grid(cells))
		}
		return out
	}
	g := p.ground
	g.mu.Lock()
	defer g.mu.Unlock()
	at := spacing{cells, p.less}
	base, ok := g.made[at]
	if !ok {
		base = make([]*occupancy, p.o.Tiles)
		for i := range base {
			base[i] = p.laidOut(g.tiles[i], cells)
		}
		g.made[at] = base
	}
	for i, o := range base {
		out[i] = o.copy()
	}
	return out
}

// laidOut is a tile on which triangles lie, grown by the padding.
func (p *packer) laidOut(tris []planar.Triangle, cells int) *occupancy {
	across, up := p.grid(cells)
	o := newOccupancy(across, up)
	if len(tris) == 0 {
		return o
	}
	margin, cell, reach := p.raster(cells)
	beside := int(math.Ceil(reach)) + 1 // cells around those of the tile, for what lies in its margin
	low := margin - float64(beside)*cell
	box := planar.Box{Min: r2.Vec{X: low, Y: low}}
	box.Max = r2.Add(box.Min, r2.Vec{X: float64(across+2*beside) * cell, Y: float64(up+2*beside) * cell})
	near := slices.DeleteFunc(slices.Clone(tris), func(t planar.Triangle) bool { return !planar.Bounds(t[:]...).Within(box, 0) })
	wider := 1e-9
	if reach >= 1 { // what was packed ends at the rims of cells, where rounding must not take the next one; fitting left a hair for it
		wider = -hair / 4
	}
	grown, by := rasteriseWithin(near, box, cell, wider).dilate(reach)
	o.add(grown, -beside-by, -beside-by)
	return o
}

func (o *occupancy) copy() *occupancy {
	c := newOccupancy(o.n, o.high)
	for k, l := range o.levels {
		copy(c.levels[k], l)
	}
	copy(c.gaps, o.gaps)
	return c
}
