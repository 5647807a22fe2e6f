package proof

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// gaps is how near shells come to each other and to the rims of their tiles.
type gaps struct {
	pairs []gap     // nearer than wide, in order of the shells
	rims  []float64 // per shell, +Inf for those that are not measured
	least float64   // between any two, +Inf where there are none
}

// gap is the distance of two shells, in sheet units.
type gap struct {
	a, b     int
	distance float64
}

// wide is how much farther than the padding pairs are remembered: packed shells lie just
// beyond it.
const wide = 1.25

// gaps measures the distances between shells, and finds those that are below the padding.
// was tells which shell of before each shell is, or -1.
func (r *Report) gaps(in Input, c *change, was []int) (found findings) {
	px := float64(in.Sheet.Size)
	limit := in.Sheet.Padding / px * (1 - 1e-9)
	g := &r.known.gaps
	measured := false
	for i := range r.Shells {
		measured = measured || r.counts(i)
	}
	if r.Totals.MinGapPx, r.Totals.MinRimPx = -1, -1; !measured {
		return nil
	}
	if c == nil || !g.again(in, r, c, was, limit*wide) {
		g.all(in, r, limit*wide)
	}
	rim := math.Inf(1)
	for _, d := range g.rims {
		rim = min(rim, d)
	}
	if r.Totals.MinRimPx = px * max(0, rim); !math.IsInf(g.least, 1) {
		r.Totals.MinGapPx = px * g.least
	}
	for i := range r.Shells {
		if s := &r.Shells[i]; s.limbGap < limit && r.counts(i) {
			found.find(Limbs, "look", s.limbGap*px, s.limbs)
		}
	}
	for _, p := range g.pairs {
		if p.distance < limit {
			found.find(TooClose, "look", p.distance*px, slices.Concat(r.Shells[p.a].Faces, r.Shells[p.b].Faces))
		}
	}
	return found
}

// NearestPx is how near shells come to each other or to the rim, -1 where there are none.
func (t Totals) NearestPx() float64 {
	if t.MinGapPx < 0 {
		return t.MinRimPx
	}
	return min(t.MinGapPx, t.MinRimPx)
}

// counts tells whether the distance of a shell to others is measured: what waits on the rack is
// not laid yet.
func (r *Report) counts(i int) bool {
	s := &r.Shells[i]
	return s.StackedOn == nil && s.Area != 0 && s.Box.Max.Y > 0
}

// all measures all shells.
func (g *gaps) all(in Input, r *Report, limit float64) {
	var segs []planar.Segment
	g.rims = make([]float64, len(r.Shells))
	for i := range r.Shells {
		if g.rims[i] = math.Inf(1); r.counts(i) {
			own := in.Map.Border(r.Shells[i].Faces, int32(i))
			g.rims[i] = toRim(own, in.Sheet)
			segs = append(segs, own...)
		}
	}
	least, close := planar.MinGap(segs, limit)
	g.least, g.pairs = least.Distance, pairsOf(segs, close)
}

// again measures shells that are not those of before, and says whether that was enough to
// know the least gap of all.
func (g *gaps) again(in Input, r *Report, c *change, was []int, limit float64) bool {
	before := &c.before.known.gaps
	if len(before.rims) == 0 {
		return false
	}
	now := make([]int, len(before.rims))
	for k := range now {
		now[k] = -1
	}
	same := func(i int) bool { return was[i] >= 0 && r.counts(i) == c.before.counts(was[i]) }
	g.rims = make([]float64, len(r.Shells))
	var box planar.Box
	fresh := false
	borders := map[int][]planar.Segment{}
	for i := range r.Shells {
		g.rims[i] = math.Inf(1)
		switch {
		case same(i):
			now[was[i]], g.rims[i] = i, before.rims[was[i]]
		case r.counts(i):
			borders[i] = in.Map.Border(r.Shells[i].Faces, int32(i))
			g.rims[i] = toRim(borders[i], in.Sheet)
			b := r.Shells[i].Box
			if !fresh {
				box = b
			}
			box, fresh = planar.Bounds(box.Min, box.Max, b.Min, b.Max), true
		}
	}
	g.least = math.Inf(1)
	for _, p := range before.pairs {
		if a, b := now[p.a], now[p.b]; a >= 0 && b >= 0 {
			g.pairs = append(g.pairs, gap{min(a, b), max(a, b), p.distance})
			g.least = min(g.least, p.distance)
		}
	}
	if fresh {
		var segs []planar.Segment
		for i := range r.Shells {
			if !r.counts(i) {
				continue
			}
			own, is := borders[i]
			if !is {
				if !r.Shells[i].Box.Within(box, limit) {
					continue
				}
				own = in.Map.Border(r.Shells[i].Faces, int32(i))
			}
			segs = append(segs, own...)
		}
		_, close := planar.GapsWithin(segs, limit)
		for _, p := range pairsOf(segs, close) {
			if !same(p.a) || !same(p.b) {
				g.pairs = append(g.pairs, p)
				g.least = min(g.least, p.distance)
			}
		}
	}
	sortGaps(g.pairs)
	return g.least < limit // else the nearest of all may be two that nobody remembers
}

func pairsOf(segs []planar.Segment, close []planar.Gap) []gap {
	out := make([]gap, len(close))
	for k, p := range close {
		a, b := int(segs[p.A].Group), int(segs[p.B].Group)
		out[k] = gap{min(a, b), max(a, b), p.Distance}
	}
	sortGaps(out)
	return out
}

func sortGaps(list []gap) {
	slices.SortFunc(list, func(p, q gap) int { return cmp.Or(cmp.Compare(p.a, q.a), cmp.Compare(p.b, q.b)) })
}

// toRim is the least distance of a border to the rim of the tile it lies on.
func toRim(segs []planar.Segment, on Sheet) float64 {
	wide := on.TileWidth()
	last := float64(on.Across()) - wide // where the last tile begins
	rim := math.Inf(1)
	for _, s := range segs {
		for _, q := range []r2.Vec{s.A, s.B} {
			x := q.X - min(max(wide*math.Floor(q.X/wide), 0), last)
			rim = min(rim, x, wide-x, q.Y, 1-q.Y)
		}
	}
	return rim
}
