package parts

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// gutterCorner is the angle, over the surface, below which a border has a corner, and gutterLong how many times as long
// as its section a gutter is.
const (
	gutterCorner = 120 * math.Pi / 180
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
	length := func(k int) float64 { return chainLength(p, chains[k]) }
	k := 0
	if length(1)+length(3) < length(0)+length(2) {
		k = 1
	}
	rows := layers(p, chains[k], chains[k+2])
	if len(rows) < 3 || len(rows[0]) < 3 {
		return none, false
	}
	girth := min(length(k), length(k+2))
	weight := make([]float64, len(p.Pos))
	for v := range weight {
		weight[v] = 1
	}
	spine, long := middles(p, rows, weight)
	reach, mean := reaches(p, rows, spine)
	off, bad := spread(reach, mean)
	if long < gutterLong*girth || bad > 0 || math.Abs(p.Area()/long-girth) > girthSlack*girth || straight(spine) {
		return none, false
	}
	return shape.Fit{Kind: shape.Swept, Origin: spine[len(spine)/2], Radius: girth / (2 * math.Pi), Error: off, Spine: spine}, true
}

// fourSides splits the border of a disk at its four corners, both ends in each side; nil if it has more or fewer.
func fourSides(p *mesh.Patch) (sides [][]int32) {
	angle := make([]float64, len(p.Pos))
	for _, t := range p.Tris {
		for k := range 3 {
			a, b, c := p.Pos[t[k]], p.Pos[t[(k+1)%3]], p.Pos[t[(k+2)%3]]
			angle[t[k]] += mesh.Angle(r3.Sub(b, a), r3.Sub(c, a))
		}
	}
	loop := p.Borders()[0]
	isCorner := func(c int32) bool { return angle[p.CornerVert[c]] < gutterCorner }
	first := slices.IndexFunc(loop, isCorner)
	if first < 0 {
		return nil
	}
	loop = slices.Concat(loop[first:], loop[:first])
	for k, c := range loop {
		if isCorner(c) {
			if len(sides) > 0 {
				sides[len(sides)-1] = append(sides[len(sides)-1], c)
			}
			sides = append(sides, nil)
		}
		sides[len(sides)-1] = append(sides[len(sides)-1], c)
		if k == len(loop)-1 {
			sides[len(sides)-1] = append(sides[len(sides)-1], loop[0])
		}
	}
	if len(sides) != 4 {
		return nil
	}
	return sides
}

func chainLength(p *mesh.Patch, chain []int32) (l float64) {
	for k := 1; k < len(chain); k++ {
		l += r3.Norm(r3.Sub(p.Pos[p.CornerVert[chain[k]]], p.Pos[p.CornerVert[chain[k-1]]]))
	}
	return l
}
