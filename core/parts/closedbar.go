package parts

import (
	"slices"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// closedBar tells whether a component is a bar that closes on itself, such as a link of a chain or an oval ring: opened
// where two of its regions meet in a ring, or along a loop of its mesh, it is a tube.
func (g *model) closedBar(set []int, chosen []region) (shape.Fit, bool) {
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
	rings = append(rings[:min(mostRings, len(rings))], g.loops(faces)...)
	for _, ring := range rings {
		cut := mesh.AlsoCut(func(mesh.EdgeID) bool { return false }, ring)
		if f, ok := tubeOf(mesh.NewPatch(g.mesh, faces, cut)); ok {
			return f, true
		}
	}
	return shape.Fit{}, false
}

// loops returns the closed loops of the mesh along the sides of the first of some faces.
func (g *model) loops(faces []mesh.FaceID) (out [][]mesh.EdgeID) {
	lo, hi := g.mesh.Corners(faces[0])
	for h := lo; h < hi; h++ {
		if l := g.mesh.Loop(g.mesh.Edge(h)); l.Closed {
			out = append(out, l.Edges)
		}
	}
	return out
}

// mostRings is at how many rings a link is tried to be opened.
const mostRings = 6
