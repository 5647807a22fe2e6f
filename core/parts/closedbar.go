package parts

import (
	"slices"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// closedBar tells whether a component is a bar that closes on itself, such as a link of a chain: opened where two of its
// regions meet in a ring, it is a tube.
func (g *model) closedBar(set []int, chosen []region) (shape.Fit, bool) {
	if len(chosen) < 2 {
		return shape.Fit{}, false
	}
	faces := g.faces(set)
	slices.Sort(faces)
	p := mesh.NewPatch(g.mesh, faces, func(mesh.EdgeID) bool { return false })
	if p.Euler() != 0 || len(p.Borders()) > 0 {
		return shape.Fit{}, false
	}
	of := map[mesh.FaceID]int{}
	for k, r := range chosen {
		for _, f := range g.faces(r.set) {
			of[f] = k + 1
		}
	}
	var rim []mesh.EdgeID
	for _, e := range g.mesh.EdgesWithin(faces) {
		if a, b := g.mesh.EdgeFaces(e); of[a] != of[b] {
			rim = append(rim, e)
		}
	}
	rings := g.mesh.Chains(rim)
	for _, ring := range rings[:min(mostRings, len(rings))] {
		cut := mesh.AlsoCut(func(mesh.EdgeID) bool { return false }, ring)
		if f, ok := tubeOf(mesh.NewPatch(g.mesh, faces, cut)); ok {
			return f, true
		}
	}
	return shape.Fit{}, false
}

// mostRings is at how many rings a link is tried to be opened.
const mostRings = 6
