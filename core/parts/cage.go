package parts

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// A component is a subdivided cage if hardly any of its borders between facets is sharp, much is in no
// shape, and hardly anything is exactly round. Its flats and walls go over into rounds and corners that
// begin so gently that no border is to be seen.
const (
	cageScraps = 48
	cageSharp  = 0.01 // of the length of all borders
	cageRound  = 0.02 // of its area
)

// A component is a block with rounded edges if so many balls are the corners where rounds meet, and there is
// hardly anything else but flats. It comes apart as a cage does, else its corners would be scraps.
const (
	blockBalls  = 4
	blockRounds = 2    // those that go on over flats between them are one
	ballMost    = 0.02 // of the area of all
	roundMost   = 0.1  // of the area of all
	blockLoose  = 0.05 // of the area of all
)

func (g *model) isCage(chosen []region, left [][]int) bool {
	odd := 0
	var area, round, sharp, length float64
	count := func(set []int) {
		for _, i := range set {
			area += g.list[i].area
			for _, s := range g.list[i].sides {
				length += s.length
				if !s.smooth {
					sharp += s.length
				}
			}
		}
	}
	for _, r := range chosen {
		count(r.set)
		if len(r.set) == 1 {
			odd++
		}
		if r.fit.Kind != shape.Plane && r.fit.HasDistance() && g.isExact(r) {
			round += r.area
		}
	}
	for _, set := range left {
		count(set)
		odd++
	}
	return odd >= cageScraps && sharp < cageSharp*length && round < cageRound*area || g.isBlock(chosen, left, area)
}

func (g *model) isBlock(chosen []region, left [][]int, area float64) bool {
	isBall := func(r region) bool { return r.fit.Kind == shape.Sphere && r.area < ballMost*area }
	balls, rounds := 0, 0
	for _, r := range chosen {
		if isBall(r) {
			balls++
		}
	}
	if balls < blockBalls {
		return false
	}
	var loose float64
	var inRounds []int
	for _, r := range chosen {
		switch {
		case isBall(r) || r.fit.Kind == shape.Plane:
		case r.fit.Kind != shape.Extruded && (r.area > roundMost*area || g.facesRound(r)) && !isBand(g.mesh, g.faces(r.set)):
			loose += r.area
		default:
			rounds++
			inRounds = append(inRounds, r.set...)
		}
	}
	for _, set := range left {
		loose += g.region(set, shape.Fit{}).area
	}
	return rounds >= blockRounds && loose < blockLoose*area && !g.inNoRows(inRounds) // which have no middle to be cut along
}

// What a flat is in a cage, and what goes with it.
const (
	flatBeside = 3    // times the area of what is beside it
	flatLarger = 5    // times what bends on into it
	cosRow     = 0.64 // of 50°: as far as the rows of a round are taken to be of a flat beside it
	wallShown  = 0.05 // of the area of all, for a wall that does not close round
	wallFlat   = 0.1  // share of flats in what is no curved wall
	mostOneWay = 0.8  // of the area of a curved wall: it turns by 130° at least
	leastWall  = 0.01 // of the area of all, for one that has no shape
	farRound   = 60 * math.Pi / 180
	farWall    = 80 * math.Pi / 180
)

// soften reads a cage: its flats and curved walls, among which all that is between them is shared out, so that
// rounds are cut along their middles. Left is what is too far from all.
func (g *model) soften(chosen []region, left [][]int, progress func() error) (parts []Part, rest [][]int, err error) {
	every := slices.Concat(left...)
	for _, r := range chosen {
		every = append(every, r.set...)
	}
	var area float64
	for _, i := range every {
		area += g.list[i].area
	}
	taken := map[int]bool{}
	var seeds []region
	plant := func(r region) {
		seeds = append(seeds, r)
		for _, i := range r.set {
			taken[i] = true
		}
	}
	for _, set := range g.flats(every) {
		plant(g.region(set, shape.FitPlane(g.gather(set))))
	}
	for _, r := range chosen {
		var level float64
		for _, i := range r.set {
			if taken[i] {
				level += g.list[i].area
			}
		}
		if level < wallFlat*r.area && g.facesRound(r) && (r.area > wallShown*area || isBand(g.mesh, g.faces(r.set))) {
			plant(r)
		}
	}
	isTaken := func(i int) bool { return taken[i] }
	scraps := slices.DeleteFunc(every, isTaken)
	shares := g.shareOut(seeds, scraps, farWall)
	for _, set := range g.connected(shares.far(scraps)) { // walls of no shape
		if r := g.region(set, g.remnant(set)); r.area > leastWall*area {
			plant(r)
		}
	}
	scraps = slices.DeleteFunc(scraps, isTaken)
	shares = g.shareOut(seeds, scraps, farRound)
	if err := shares.straighten(progress); err != nil {
		return nil, nil, err
	}
	got := make([][]int, len(seeds))
	for _, i := range scraps {
		if k := shares.owner[i]; k != none {
			got[k] = append(got[k], i)
		}
	}
	for k, r := range seeds {
		pieces := []Part{g.part(r.set, r.fit)}
		for _, set := range g.connected(got[k]) {
			pieces = append(pieces, g.part(set, g.remnant(set)))
		}
		if len(pieces) == 1 {
			parts = append(parts, pieces[0])
			continue
		}
		parts = append(parts, compound(pieces, together, shape.Softened(r.fit)))
	}
	return parts, g.connected(shares.far(scraps)), nil
}

// facesRound tells whether a region faces many ways, as a curved wall does and a round between two flats does not.
func (g *model) facesRound(r region) bool {
	var sum r3.Vec
	for _, i := range r.set {
		sum = r3.Add(sum, r3.Scale(g.list[i].area, g.list[i].normal))
	}
	return r3.Norm(sum) < mostOneWay*r.area
}

// flats returns the flats of a cage: facets in one plane that are together larger than what is beside them and
// that no larger flat bends on into.
func (g *model) flats(set []int) (flats [][]int) {
	of := make(map[int]int, len(set))
	var list [][]int
	for _, i := range set {
		if _, ok := of[i]; ok {
			continue
		}
		of[i] = len(list)
		level := []int{i}
		for k := 0; k < len(level); k++ {
			for _, s := range g.list[level[k]].sides {
				if _, ok := of[s.other]; !ok && s.smooth && s.bend < facetAngle && mesh.Angle(g.list[s.other].normal, g.list[i].normal) < facetAngle {
					of[s.other] = len(list)
					level = append(level, s.other)
				}
			}
		}
		list = append(list, level)
	}
	area := make([]float64, len(list))
	for k, level := range list {
		for _, i := range level {
			area[k] += g.list[i].area
		}
	}
	beside := func(k int) map[int]bool {
		out := map[int]bool{}
		for _, i := range list[k] {
			for _, s := range g.list[i].sides {
				if o, ok := of[s.other]; ok && o != k && s.smooth {
					out[o] = true
				}
			}
		}
		return out
	}
	gone := make([]bool, len(list))
	var order []int
	for k := range list {
		gone[k] = true
		for o := range beside(k) {
			gone[k] = false
			if flatBeside*area[o] > area[k] {
				gone[k] = true
				break
			}
		}
		if !gone[k] {
			order = append(order, k)
		}
	}
	slices.SortFunc(order, func(a, b int) int {
		return cmp.Or(cmp.Compare(float32(area[b]), float32(area[a])), cmp.Compare(a, b))
	})
	for _, k := range order {
		if gone[k] {
			continue
		}
		flats = append(flats, list[k])
		up := g.list[list[k][0]].normal
		seen := map[int]bool{k: true}
		for reached := []int{k}; len(reached) > 0; reached = reached[1:] {
			for o := range beside(reached[0]) {
				if !seen[o] && flatLarger*area[o] < area[k] && r3.Dot(g.list[list[o][0]].normal, up) > cosRow {
					seen[o], gone[o] = true, true
					reached = append(reached, o)
				}
			}
		}
	}
	return flats
}
