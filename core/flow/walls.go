package flow

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// Wall is a flat of a form that no one shape explains, with the way its edges run.
type Wall struct {
	Normal r3.Vec `json:"normal"`
	Along  r3.Vec `json:"along"`
}

// wallsGrain is the grain of a form of flat walls, as a hopper or a tapered box is: each
// runs along its own long edges. ok is false where flats are not most of it.
func wallsGrain(m *mesh.Mesh, faces []mesh.FaceID) (g Grain, ok bool) {
	flats := m.Connected(faces, func(e mesh.EdgeID) bool { return math.Abs(m.Dihedral(e)) > coplanar })
	area := make([]float64, len(flats))
	order := make([]int, len(flats))
	var all float64
	for i, flat := range flats {
		order[i] = i
		for _, f := range flat {
			area[i] += m.FaceAreas()[f]
		}
		all += area[i]
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(float32(area[b]), float32(area[a])) })
	g.Mode = Walls
	var inWalls float64
	for k, i := range order {
		if k == mostWalls || area[i] < leastWall*all {
			break
		}
		var n r3.Vec
		for _, f := range flats[i] {
			n = r3.Add(n, r3.Scale(m.FaceAreas()[f], m.FaceNormals()[f]))
		}
		n = unit(n)
		if d, ok := prevailing(m, flats[i], n); ok {
			g.Walls = append(g.Walls, Wall{n, d})
			inWalls += area[i]
		}
	}
	return g, len(g.Walls) > 1 && inWalls > wallsShare*all
}

const (
	mostWalls  = 24
	leastWall  = 0.02 // of all area, to be a wall rather than a bevel between two
	wallsShare = 0.8  // of all area
)

// wall returns the direction of the wall that faces most as a normal does.
func (g Grain) wall(n r3.Vec) (along r3.Vec) {
	best := -2.0
	for _, w := range g.Walls {
		if d := r3.Dot(w.Normal, n); d > best+1e-9 {
			best, along = d, w.Along
		}
	}
	return along
}
