package parts

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// A body is drafted if all it is are floors square to one direction of pull, walls that each keep one slope to it
// all along their outline, and fillets between these: cases, trays, keys and lids as they come out of a mould.
const (
	pulls        = 6    // directions that are tried
	filletWidest = 0.8  // of the widest that it is beside
	floorsShare  = 0.05 // of the area of all, at the least
	wallsShare   = 0.03
	filletNarrow = 0.25 // of the widest of all, which is enough
	filletsShare = 0.45 // at the most
	roundShare   = 0.7  // of the walls, that go round by themselves
	wallsRound   = 0.5  // of what its normals are across the pull is left in their sum at the most
)

// drafted reads a component as a drafted body: its floors and walls, and each fillet whole. none if it is no such
// body, or one about an axis.
func (g *model) drafted(set []int, progress func() error) ([]Part, error) {
	order := g.largestFirst(set)
	for _, pull := range g.pullsOf(order) {
		tiers, fillets, err := g.tiers(order, pull, progress)
		if err != nil {
			return nil, err
		}
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
			if p.fillet = true; p.Fit.Kind == shape.Free {
				p.Fit.Axis = pull // it goes round that
			}
			out = append(out, p)
		}
		return out, nil
	}
	return nil, nil
}

// pullsOf lists the directions in which most of a component is flat, as far as there are floors enough. The largest
// facets come first.
func (g *model) pullsOf(order []int) []r3.Vec {
	type way struct {
		dir  r3.Vec
		area float64
	}
	var ways []way
	var all float64
next:
	for _, i := range order {
		f := &g.list[i]
		all += f.area
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
		if w.area > floorsShare*all {
			out = append(out, w.dir)
		}
	}
	return out
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
	return slices.ContainsFunc(patch.Borders(), func(loop []int32) bool { return slices.Max(loopTurns(patch, loop)) < coarseAngle })
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
