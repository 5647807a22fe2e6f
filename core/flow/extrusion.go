package flow

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// extrusionMode tells which way most of an extrusion is long. A profile that closes has
// no rim along its axis: there its flats vote by area, each for its own longer side. An
// open one is a sheet, and its rim says which way its blank is long.
func extrusionMode(m *mesh.Mesh, faces []mesh.FaceID, axis r3.Vec) Mode {
	along, around := outline(m, faces, axis)
	long, girth := wallSize(m, faces, axis)
	if along < long { // a sheet has two sides along its axis
		var flat float64
		if along, around, flat = flatVotes(m, faces, axis); flat < leastFlats*long*girth || along+around == 0 {
			along, around = long, girth
			if flutes := m.Connected(faces, func(e mesh.EdgeID) bool { return math.Abs(m.Dihedral(e)) > facetBend }); len(flutes) >= leastFlutes {
				along, around, _ = votes(m, flutes, axis, func(int) bool { return true })
			}
		}
	}
	if around >= along {
		return Around
	}
	return Along
}

// outline is the length of the longest border loop of some faces along an axis and across it;
// the rims of holes do not count.
func outline(m *mesh.Mesh, faces []mesh.FaceID, axis r3.Vec) (along, around float64) {
	p := mesh.NewPatch(m, faces, func(mesh.EdgeID) bool { return false })
	for _, loop := range p.Borders() {
		var a, r float64
		for _, c := range loop {
			d := m.EdgeVec(p.Corner[c])
			if l := r3.Norm(d); l > 0 {
				t := r3.Dot(d, axis)
				a += t * t / l
				r += l - t*t/l
			}
		}
		if a+r > along+around {
			along, around = a, r
		}
	}
	return along, around
}

// balance is the ratio of sides up to which neither is the longer.
const balance = 1.3

// leastFlats is the share of a closed wall that must be flat for its flats to decide.
const leastFlats = 0.3

// leastFlutes is how many stretches between sharp edges vote like flats, those of a fluted column.
const leastFlutes = 12

// flatVotes returns the area of the flats of a wall, of those that are clearly longer
// along its axis than across, and of those that are longer around.
func flatVotes(m *mesh.Mesh, faces []mesh.FaceID, axis r3.Vec) (along, around, all float64) {
	regions := m.Connected(faces, func(e mesh.EdgeID) bool { return math.Abs(m.Dihedral(e)) > coplanar })
	of := make(map[mesh.FaceID]int, len(faces)) // region of each face
	wide := make([]float64, len(regions))
	for r, region := range regions {
		_, wide[r] = wallSize(m, region, axis)
		for _, f := range region {
			of[f] = r
		}
	}
	return votes(m, regions, axis, func(r int) bool { return !round(m, regions[r], of, wide) })
}

// votes are those of some regions of a wall, by area.
func votes(m *mesh.Mesh, regions [][]mesh.FaceID, axis r3.Vec, may func(r int) bool) (along, around, all float64) {
	for r, region := range regions {
		if !may(r) {
			continue
		}
		long, wide := wallSize(m, region, axis)
		area := long * wide
		all += area
		switch {
		case long > balance*wide:
			along += area
		case wide > balance*long:
			around += area
		}
	}
	return along, around, all
}

// round tells whether a flat is a facet of something round: it bends little to a facet of
// like width.
func round(m *mesh.Mesh, region []mesh.FaceID, of map[mesh.FaceID]int, wide []float64) bool {
	r := of[region[0]]
	for _, f := range region {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			t := m.Twin(h)
			if t == mesh.None {
				continue
			}
			if n, ok := of[m.FaceOf(t)]; ok && n != r && math.Abs(m.Dihedral(m.Edge(h))) < facetBend && max(wide[n], wide[r]) < 2*min(wide[n], wide[r]) {
				return true
			}
		}
	}
	return false
}

// coplanar is the bend up to which faces are one flat, facetBend that of the facets of a
// coarse arc.
const (
	coplanar  = 0.1 * math.Pi / 180
	facetBend = 35 * math.Pi / 180
)
