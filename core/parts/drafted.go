package parts

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/shape"
)

// A body is drafted if all it is are floors square to one direction of pull, walls that each keep one slope to it
// all along their outline, and fillets between these: cases, trays, keys and lids as they come out of a mould.
const (
	pulls        = 6                   // directions that are tried
	sameSlope    = 1.5 * math.Pi / 180 // of facets in one tier
	floorSlope   = 85 * math.Pi / 180
	tierWider    = 2.5  // than the rows of a fillet beside it
	filletWidest = 0.8  // of the widest that it is beside
	floorsShare  = 0.05 // of the area of all, at the least
	wallsShare   = 0.03
	filletNarrow = 0.25 // of the widest of all, which is enough
	filletsShare = 0.45 // at the most
	cornerHigh   = 0.6  // of the height of a wall
	cornerLeans  = 8 * math.Pi / 180
	roundShare   = 0.7 // of the walls, that go round by themselves
	wallsRound   = 0.5 // of what its normals are across the pull is left in their sum at the most
)

// tier is facets that hang together and have one slope to the pull.
type tier struct {
	set     []int
	slope   float64 // of the normal above the plane across the pull, radians
	across  r3.Vec  // sum of what the normals are across the pull, by area
	area    float64
	wide    float64
	isFloor bool
}

// tier is facets about a pull as a tier, as steep as the first of them.
func (g *model) tier(set []int, pull r3.Vec) tier {
	t := tier{set: set, slope: slopeTo(g.list[set[0]].normal, pull)}
	t.isFloor = math.Abs(t.slope) > floorSlope
	for _, i := range set {
		f := &g.list[i]
		t.area += f.area
		t.across = r3.Add(t.across, r3.Scale(f.area, r3.Sub(f.normal, r3.Scale(r3.Dot(f.normal, pull), pull))))
	}
	return t
}

// take adds another to a tier.
func (t *tier) take(o tier) {
	t.set = append(t.set, o.set...)
	t.area += o.area
	t.across = r3.Add(t.across, o.across)
}

// slopeTo is the angle of a normal above the plane across a direction, radians.
func slopeTo(normal, pull r3.Vec) float64 { return math.Asin(max(-1, min(1, r3.Dot(normal, pull)))) }

// drafted reads a component as a drafted body: its floors and walls, and each fillet whole. none if it is no such
// body, or one about an axis.
func (g *model) drafted(set []int, progress func() error) ([]Part, error) {
	for _, pull := range g.pullsOf(set) {
		tiers, fillets := g.tiers(set, pull)
		if !g.isDrafted(tiers, fillets) || !slices.ContainsFunc(tiers, g.hasRoundCorners) {
			continue
		}
		var out []Part
		turned := true
		for _, t := range tiers {
			p, err := g.tierPart(t, pull, progress)
			if err != nil {
				return nil, err
			}
			turned = turned && p.Fit.Kind != shape.Extruded && p.Fit.Kind != shape.Free
			out = append(out, p)
		}
		if turned { // what is about an axis is read by its profile
			continue
		}
		for _, f := range fillets {
			p := g.part(f, g.remnant(f))
			p.fillet = true
			out = append(out, p)
		}
		return out, nil
	}
	return nil, nil
}

// pullsOf lists the directions in which most of a component is flat.
func (g *model) pullsOf(set []int) []r3.Vec {
	type way struct {
		dir  r3.Vec
		area float64
	}
	order := slices.Clone(set)
	slices.SortFunc(order, func(a, b int) int {
		return cmp.Or(cmp.Compare(float32(g.list[b].area), float32(g.list[a].area)), cmp.Compare(a, b))
	})
	var ways []way
next:
	for _, i := range order {
		f := &g.list[i]
		for k := range ways {
			if math.Abs(r3.Dot(ways[k].dir, f.normal)) > math.Cos(normalSlack) {
				ways[k].area += f.area
				continue next
			}
		}
		if len(ways) < 4*pulls {
			ways = append(ways, way{f.normal, f.area})
		}
	}
	slices.SortStableFunc(ways, func(a, b way) int { return cmp.Compare(float32(b.area), float32(a.area)) })
	var out []r3.Vec
	for _, w := range ways[:min(pulls, len(ways))] {
		out = append(out, w.dir)
	}
	return out
}

// tiers returns the floors and walls of a component about a pull, and what is left between them.
func (g *model) tiers(set []int, pull r3.Vec) (tiers []tier, fillets [][]int) {
	order := slices.Clone(set)
	slices.SortFunc(order, func(a, b int) int {
		return cmp.Or(cmp.Compare(float32(g.list[b].area), float32(g.list[a].area)), cmp.Compare(a, b))
	})
	slope := func(i int) float64 { return slopeTo(g.list[i].normal, pull) }
	of := make(map[int]int, len(set))
	var all []tier
	for _, i := range order {
		if _, ok := of[i]; ok {
			continue
		}
		level := []int{i}
		of[i] = len(all)
		for k := 0; k < len(level); k++ {
			for _, s := range g.list[level[k]].sides {
				if _, ok := of[s.other]; !ok && s.smooth && math.Abs(slope(s.other)-slope(i)) < sameSlope+g.list[s.other].slack {
					of[s.other] = len(all)
					level = append(level, s.other)
				}
			}
		}
		all = append(all, g.tier(level, pull))
	}
	for k := range all {
		t := &all[k]
		var rim float64
		for _, i := range t.set {
			for _, s := range g.list[i].sides {
				if o, ok := of[s.other]; !ok || o != k {
					rim += s.length
				}
			}
		}
		t.wide = width(t.area, rim)
	}
	var loose []int
	for k, t := range all {
		if g.isWider(all, of, k) {
			tiers = append(tiers, t)
		} else {
			loose = append(loose, t.set...)
		}
	}
	tiers, loose = g.corners(tiers, loose, pull)
	return tiers, g.connected(loose)
}

// corners gives walls what is about as steep and as high as they are beside them: the corners of an outline that
// was made smaller by scaling lean more than its sides. Left is what no wall takes.
func (g *model) corners(tiers []tier, loose []int, pull r3.Vec) ([]tier, []int) {
	span := func(set []int) (lo, hi float64) {
		lo, hi = math.Inf(1), math.Inf(-1)
		for _, i := range set {
			for _, p := range g.list[i].knots {
				t := r3.Dot(g.mesh.Points[p], pull)
				lo, hi = min(lo, t), max(hi, t)
			}
		}
		return lo, hi
	}
	free := ids.Set(loose)
	of := map[int]int{}
	for k, t := range tiers {
		for _, i := range t.set {
			of[i] = k
		}
	}
	for k := range tiers {
		t := &tiers[k]
		if t.isFloor || t.set == nil {
			continue
		}
		bottom, top := span(t.set)
		like := func(slope float64, set []int) bool {
			lo, hi := span(set)
			return hi-lo > cornerHigh*(top-bottom) && math.Abs(slope-t.slope) < cornerLeans
		}
		for n := 0; n < len(t.set); n++ {
			for _, s := range g.list[t.set[n]].sides {
				o, isTier := of[s.other]
				switch {
				case !s.smooth || isTier && (o == k || tiers[o].isFloor):
				case isTier && like(tiers[o].slope, tiers[o].set):
					t.take(tiers[o])
					for _, i := range tiers[o].set {
						of[i] = k
					}
					tiers[o].set = nil
				case free[s.other] && like(slopeTo(g.list[s.other].normal, pull), []int{s.other}):
					delete(free, s.other)
					of[s.other] = k
					t.take(g.tier([]int{s.other}, pull))
				}
			}
		}
	}
	tiers = slices.DeleteFunc(tiers, func(t tier) bool { return t.set == nil })
	return tiers, slices.DeleteFunc(loose, func(i int) bool { return !free[i] })
}

// isWider tells whether a tier is far wider than one that it goes over into: that is a row of a fillet then.
func (g *model) isWider(all []tier, of map[int]int, k int) bool {
	for _, i := range all[k].set {
		for _, s := range g.list[i].sides {
			if o, ok := of[s.other]; ok && o != k && s.smooth && all[k].wide > tierWider*all[o].wide {
				return true
			}
		}
	}
	return false
}

// isDrafted tells whether tiers and fillets make a drafted body.
func (g *model) isDrafted(tiers []tier, fillets [][]int) bool {
	if len(fillets) == 0 {
		return false
	}
	in := map[int]int{}
	var all, floors, walls, round, between, widest float64
	for k, t := range tiers {
		all += t.area
		widest = max(widest, t.wide)
		for _, i := range t.set {
			in[i] = k
		}
		if t.isFloor {
			floors += t.area
			continue
		}
		walls += t.area
		if r3.Norm(t.across) < wallsRound*t.area*math.Cos(t.slope) {
			round += t.area
		}
	}
	for _, set := range fillets {
		var area, rim, beside float64

		for _, i := range set {
			area += g.list[i].area
			for _, s := range g.list[i].sides {
				k, ok := in[s.other]
				if ok && s.smooth {
					beside = max(beside, tiers[k].wide)
				}
				if ok || !s.smooth {
					rim += s.length
				}
			}
		}
		if width(area, rim) > max(filletWidest*beside, filletNarrow*widest) {
			return false
		}
		between += area
	}
	all += between
	return floors > floorsShare*all && walls > wallsShare*all && between < filletsShare*all && round > roundShare*walls
}

// hasRoundCorners tells whether a floor has an outline without sharp corners: a cage, or a block with rounded edges
// that meet in balls, leaves flats with such.
func (g *model) hasRoundCorners(t tier) bool {
	if !t.isFloor {
		return false
	}
	patch := mesh.NewPatch(g.mesh, g.faces(t.set), func(mesh.EdgeID) bool { return false })
	at := func(loop []int32, k int) r3.Vec { return patch.Pos[patch.CornerVert[loop[(k+len(loop))%len(loop)]]] }
	for _, loop := range patch.Borders() {
		sharpest := 0.
		for k := range loop {
			sharpest = max(sharpest, mesh.Angle(r3.Sub(at(loop, k), at(loop, k-1)), r3.Sub(at(loop, k+1), at(loop, k))))
		}
		if sharpest < coarseAngle {
			return true
		}
	}
	return false
}

// tierPart is a floor or a wall as a part: a wall without draft is an extrusion along the pull, others are their
// planes and cones.
func (g *model) tierPart(t tier, pull r3.Vec, progress func() error) (Part, error) {
	if f, ok := g.whole(t.set); ok && f.Kind != shape.Turned && (f.Kind != shape.Extruded || math.Abs(t.slope) < sameSlope) {
		p, err := g.extrusion(t.set, f, progress)
		if err != nil || len(p) == 1 {
			return append(p, Part{})[0], err
		}
		return compound(p, together, f), nil
	}
	chosen, left, err := g.split(t.set, false, progress)
	if err != nil {
		return Part{}, err
	}
	var pieces []Part
	for _, r := range chosen {
		pieces = append(pieces, g.part(r.set, r.fit))
	}
	for _, set := range left {
		pieces = append(pieces, g.part(set, g.remnant(set)))
	}
	return compound(pieces, together, shape.Fit{Kind: shape.Free, Axis: pull, Origin: g.list[t.set[0]].centre}), nil
}
