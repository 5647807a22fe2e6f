package flow

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// bandGrain is the grain along a band that bends within its own surface, as the flat side of
// a bent bar does, or closes on itself there: it bends with the longer of its two long sides.
// ok is false for anything else.
func bandGrain(m *mesh.Mesh, faces []mesh.FaceID) (g Grain, ok bool) {
	p := mesh.NewPatch(m, faces, func(mesh.EdgeID) bool { return false })
	borders := p.Borders()
	if p.Euler() != 2-len(borders) || len(borders) > 2 {
		return g, false
	}
	var sides []side
	var rim float64
	for _, loop := range borders {
		list, l := sidesOf(p, loop)
		sides = append(sides, list...)
		rim += l
	}
	slices.SortStableFunc(sides, func(a, b side) int { return cmp.Compare(float32(b.long), float32(a.long)) })
	if len(sides) < 2 {
		return g, false
	}
	a, b := sides[0], sides[1]
	if a.long+b.long < 0.75*rim || b.long < 0.5*a.long || min(a.bend, b.bend) < leastBend {
		return g, false
	}
	g = Grain{Mode: Along, Axis: unit(r3.Sub(a.path[len(a.path)-1], a.path[0])), Path: a.path}
	if g.Axis == (r3.Vec{}) {
		g.Axis = unit(r3.Sub(a.path[1], a.path[0]))
	}
	return g, a.long*a.long > slender*p.Area()
}

// side is a stretch of rim without a corner.
type side struct {
	path       []r3.Vec
	long, bend float64 // bend within the surface, all turns together
}

// sidesOf returns the sides of a border, one if it has no corner, and its length.
func sidesOf(p *mesh.Patch, loop []int32) (sides []side, rim float64) {
	defect, _ := p.Defects()
	start := func(k int) int32 {
		v, _ := p.Ends(loop[k%len(loop)])
		return v
	}
	first := 0
	for k := range loop {
		if defect[start(k)] > corner {
			first = k
			break
		}
	}
	for k := range loop {
		v, w := start(first+k), start(first+k+1)
		if k == 0 || defect[v] > corner {
			sides = append(sides, side{path: []r3.Vec{p.Pos[v]}})
		} else {
			sides[len(sides)-1].bend += math.Abs(defect[v])
		}
		s := &sides[len(sides)-1]
		l := r3.Norm(r3.Sub(p.Pos[w], p.Pos[v]))
		s.path = append(s.path, p.Pos[w])
		s.long += l
		rim += l
	}
	return sides, rim
}

const (
	corner    = 40 * math.Pi / 180 // turn of a rim within its surface that ends a side
	leastBend = 20 * math.Pi / 180 // of both sides
	slender   = 4                  // length of a band in widths
)
