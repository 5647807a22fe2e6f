package parts

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// toothFlats is how many flats over creases make one extruded thing: a gear or a
// rack, but not a box or a hexagon.
const toothFlats = 12

// uniteTeeth joins the flats of toothed extrusions: many narrow flats round one
// direction, none of them dominant, with creases between them.
func (g *model) uniteTeeth(parts []Part) []Part {
	near, _ := neighbours(g.mesh, parts)
	areas := make([]float64, len(parts))
	for i, p := range parts {
		areas[i] = partArea(g.mesh, p)
	}
	across := func(i int, axis r3.Vec) bool {
		f := parts[i].Fit
		switch f.Kind {
		case shape.Plane:
			return math.Abs(r3.Dot(f.Axis, axis)) < math.Sin(normalSlack)
		case shape.Cylinder, shape.Extruded:
			return math.Abs(r3.Dot(f.Axis, axis)) > math.Cos(normalSlack)
		}
		return false
	}
	taken := make([]bool, len(parts))
	tried := make(map[int][]r3.Vec)
	var groups [][]int
	for i := range parts {
		if parts[i].Fit.Kind != shape.Plane {
			continue
		}
		for _, b := range near[i] {
			if taken[i] || taken[b.other] || parts[b.other].Fit.Kind != shape.Plane {
				continue
			}
			axis := r3.Cross(parts[i].Fit.Axis, parts[b.other].Fit.Axis)
			if r3.Norm(axis) < 0.05 {
				continue
			}
			axis = mesh.Unit(axis)
			if slices.ContainsFunc(tried[i], func(t r3.Vec) bool { return math.Abs(r3.Dot(t, axis)) > math.Cos(normalSlack) }) {
				continue
			}
			group := []int{i}
			seen := map[int]bool{i: true}
			for k := 0; k < len(group); k++ {
				for _, o := range near[group[k]] {
					if !seen[o.other] && !taken[o.other] && across(o.other, axis) {
						seen[o.other] = true
						group = append(group, o.other)
					}
				}
			}
			var total, largest float64
			for _, k := range group {
				tried[k] = append(tried[k], axis)
				total += areas[k]
				largest = max(largest, areas[k])
			}
			if len(group) < toothFlats || largest > total/6 || !g.alike(parts, group, areas, axis) {
				continue
			}
			for _, k := range group {
				taken[k] = true
			}
			groups = append(groups, group)
		}
	}
	return unite(parts, groups, func(grp []int) (shape.Fit, float64) {
		return shape.FitExtruded(shape.Gather(g.mesh, unionFaces(parts, grp))), together
	})
}

// alike tells whether nearly all of a group reaches from one end of the extrusion to the
// other: the walls of a house look across one direction too, but are no teeth.
func (g *model) alike(parts []Part, group []int, areas []float64, axis r3.Vec) bool {
	lo, hi := make([]float64, len(group)), make([]float64, len(group))
	first, last := math.Inf(1), math.Inf(-1)
	for k, i := range group {
		lo[k], hi[k] = math.Inf(1), math.Inf(-1)
		for _, f := range parts[i].Faces {
			for _, q := range g.mesh.FacePoints(f) {
				t := r3.Dot(g.mesh.Points[q], axis)
				lo[k], hi[k] = min(lo[k], t), max(hi[k], t)
			}
		}
		first, last = min(first, lo[k]), max(last, hi[k])
	}
	var whole, all float64
	for k, i := range group {
		all += areas[i]
		if hi[k]-lo[k] > 0.9*(last-first) {
			whole += areas[i]
		}
	}
	return whole > 0.9*all
}

// uniteBars joins the strips of a bent bar with a sharp-edged section: strips
// that run side by side from end to end and close round the section.
func uniteBars(m *mesh.Mesh, parts []Part) []Part {
	near, rim := neighbours(m, parts)
	runsWith := func(i int, b border) bool {
		return b.length > 0.35*max(rim[i], rim[b.other])
	}
	seen := make([]bool, len(parts))
	var groups [][]int
	fits := map[int]shape.Fit{}
	for i := range parts {
		if seen[i] || parts[i].Fit.Kind == shape.Plane || parts[i].Fit.Kind == shape.Swept {
			continue
		}
		group := []int{i}
		in := map[int]bool{i: true}
		for k := 0; k < len(group) && len(group) <= 12; k++ {
			for _, b := range near[group[k]] {
				if !in[b.other] && runsWith(group[k], b) {
					in[b.other] = true
					group = append(group, b.other)
				}
			}
		}
		if len(group) < 3 || len(group) > 12 {
			continue
		}
		f, ok := tube(m, unionFaces(parts, group))
		if !ok || straight(f.Spine) {
			continue
		}
		for _, k := range group {
			seen[k] = true
		}
		fits[slices.Min(group)] = f
		groups = append(groups, group)
	}
	return unite(parts, groups, func(grp []int) (shape.Fit, float64) { return fits[grp[0]], together })
}

func straight(spine []r3.Vec) bool {
	a, b := spine[0], spine[len(spine)-1]
	chord := r3.Norm(r3.Sub(b, a))
	for _, p := range spine {
		if polylineDistance(p, []r3.Vec{a, b}) > 0.02*chord {
			return false
		}
	}
	return chord > 0
}
