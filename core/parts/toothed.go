package parts

import (
	"math"
	"slices"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// leastRails is how many sharp edges lead across a toothed ring at the least.
const leastRails = 8

// uniteToothed joins the flanks of teeth that taper or wind, as those of bevel and helical gears do: many narrow
// parts that lie side by side all round, with sharp edges between them that run from one end to the other.
func uniteToothed(m *mesh.Mesh, parts []Part) []Part {
	near, rim := neighbours(m, parts)
	areas := make([]float64, len(parts))
	for i, p := range parts {
		areas[i] = partArea(m, p)
	}
	flank := func(i int) bool {
		switch parts[i].Fit.Kind {
		case shape.Plane, shape.Cylinder, shape.Cone, shape.Extruded, shape.Swept, shape.Free:
			return len(near[i]) > 1 && areas[i] < toothArea*rim[i]*rim[i]
		}
		return false
	}
	rails := func(i int) []border { return near[i][:2] } // the longest two of a flank, one on either side
	links, sharp := make(links, len(parts)), map[[2]int]bool{}
	for i := range parts {
		if !flank(i) {
			continue
		}
		for _, b := range rails(i) {
			back := func(o border) bool { return o.other == i }
			if b.other > i && flank(b.other) && slices.ContainsFunc(rails(b.other), back) {
				links.link(i, b.other, -1)
				sharp[[2]int{i, b.other}] = math.Abs(b.bend) > coarseAngle
			}
		}
	}
	seen := make([]bool, len(parts))
	var groups [][]int
	for i := range parts {
		if seen[i] || len(links[i]) != 2 {
			continue
		}
		ring := links.follow(seen, i)
		if len(ring) < toothFlats {
			continue
		}
		edges, total, largest := 0, 0., 0.
		for k, a := range ring {
			b := ring[(k+1)%len(ring)]
			if sharp[[2]int{min(a, b), max(a, b)}] {
				edges++
			}
			total += areas[a]
			largest = max(largest, areas[a])
		}
		p := mesh.NewPatch(m, unionFaces(parts, ring), func(mesh.EdgeID) bool { return false })
		if edges < leastRails || largest > total/6 || p.Euler() != 0 || len(p.Borders()) != 2 || !liesFlat(p) {
			continue
		}
		groups = append(groups, ring)
	}
	return unite(parts, groups, func(grp []int) (shape.Fit, float64) {
		s := shape.Gather(m, unionFaces(parts, grp))
		if f := shape.FitExtruded(s); f.Bend <= extrudedSpread {
			return f, together
		}
		axis, _ := shape.AcrossAxis(s)
		f := shape.Fit{Kind: shape.Free, Axis: axis, Origin: parts[grp[0]].Fit.Origin}
		return f, together
	})
}

// toothArea is the area of a flank in squares of its rim: a square has 1/16.
const toothArea = 1. / 16
