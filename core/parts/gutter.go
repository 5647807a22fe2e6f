package parts

import (
	"math"
	"slices"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// gutterCorner is the turn of a border, over the surface, from which it has a corner, and gutterLong how many times as
// long as its section a gutter is.
const (
	gutterCorner = 60 * math.Pi / 180
	gutterLong   = 1.5
)

// gutter tells whether facets are an open section swept along a bent spine, as the top of a handrail: a grid of rows
// from one end to the other, of the same girth all along.
func (g *model) gutter(set []int) (shape.Fit, bool) {
	none := shape.Fit{}
	p := mesh.NewPatch(g.mesh, g.faces(set), func(mesh.EdgeID) bool { return false })
	if !p.IsDisk() {
		return none, false
	}
	chains := fourSides(p)
	if chains == nil {
		return none, false
	}
	length := func(k int) float64 { return loopLength(p, chains[k][:len(chains[k])-1]) }
	k := 0
	if length(1)+length(3) < length(0)+length(2) {
		k = 1
	}
	rows := layers(p, chains[k], chains[k+2])
	if len(rows) < 3 || len(rows[0]) < 3 {
		return none, false
	}
	girth := min(length(k), length(k+2))
	spine, long := middles(p, rows, nil)
	reach, mean := reaches(p, rows, spine)
	off, bad := spread(reach, mean)
	if long < gutterLong*girth || bad > 0 || math.Abs(p.Area()/long-girth) > girthSlack*girth || straight(spine) {
		return none, false
	}
	return shape.Fit{Kind: shape.Swept, Origin: spine[len(spine)/2], Radius: girth / (2 * math.Pi), Error: off, Spine: spine}, true
}

// fourSides splits the border of a disk at its four corners, both ends in each side; nil if it has more or fewer.
func fourSides(p *mesh.Patch) (sides [][]int32) {
	defects, _ := p.Defects()
	isCorner := func(c int32) bool { return defects[p.CornerVert[c]] > gutterCorner }
	loop := p.Borders()[0]
	first := slices.IndexFunc(loop, isCorner)
	if first < 0 {
		return nil
	}
	loop = slices.Concat(loop[first:], loop[:first])
	for _, c := range loop {
		if isCorner(c) {
			sides = append(sides, nil)
		}
		sides[len(sides)-1] = append(sides[len(sides)-1], c)
	}
	if len(sides) != 4 {
		return nil
	}
	for k := range sides {
		next := loop[0]
		if k+1 < len(sides) {
			next = sides[k+1][0]
		}
		sides[k] = append(sides[k], next)
	}
	return sides
}
