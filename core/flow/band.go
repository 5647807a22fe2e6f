package flow

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// bandGrain is the grain along a band that bends within its own surface, as the flat side of
// a bent bar does: it bends with the longer of its two long sides. ok is false for anything
// else.
func bandGrain(m *mesh.Mesh, faces []mesh.FaceID) (g Grain, ok bool) {
	p := mesh.NewPatch(m, faces, func(mesh.EdgeID) bool { return false })
	if !p.IsDisk() {
		return g, false
	}
	loop := p.Borders()[0]
	defect, _ := p.Defects()
	at := make([]int32, len(loop))
	first := -1
	for k, c := range loop {
		at[k], _ = p.Ends(c)
		if first < 0 && defect[at[k]] > corner {
			first = k
		}
	}
	if first < 0 {
		return g, false
	}
	// Sides between corners, the two longest of which are those of a band.
	type side struct {
		path       []r3.Vec
		long, bend float64
	}
	var sides []side
	var rim float64
	for k := range loop {
		v, w := at[(first+k)%len(loop)], at[(first+k+1)%len(loop)]
		if defect[v] > corner {
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
	if len(sides) < 3 {
		return g, false
	}
	slices.SortStableFunc(sides, func(a, b side) int { return int(math.Copysign(1, float64(float32(b.long)-float32(a.long)))) })
	a, b := sides[0], sides[1]
	if a.long+b.long < 0.75*rim || b.long < 0.5*a.long || min(a.bend, b.bend) < leastBend {
		return g, false
	}
	g = Grain{Mode: Along, Axis: unit(r3.Sub(a.path[len(a.path)-1], a.path[0])), Path: a.path}
	return g, a.long*a.long > slender*p.Area()
}

const (
	corner    = 40 * math.Pi / 180 // turn of a rim within its surface that ends a side
	leastBend = 20 * math.Pi / 180 // of both sides within the surface, all turns together
	slender   = 4                  // length of a band in widths
)
