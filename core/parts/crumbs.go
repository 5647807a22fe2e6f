package parts

import (
	"math"
	"slices"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// A crumb is a part of few faces; where many meet without a sharp bend nobody would call
// each of them a thing.
const (
	crumbFaces = 8
	manyCrumbs = 6
	crumbBend  = 40 * math.Pi / 180
	crumbShare = 0.02 // of the connected piece it belongs to
)

// uniteCrumbs makes one part of many small ones that go over into each other, with the
// free forms beside them: triangulated strips, twisted tubes and the like, of which no
// single shape explains more than a few triangles. What closes round a spine is swept.
func uniteCrumbs(m *mesh.Mesh, parts []Part) []Part {
	near, rim := neighbours(m, parts)
	area := make([]float64, len(parts))
	piece, n := m.Components()
	whole := make([]float64, n)
	for i, p := range parts {
		area[i] = partArea(m, p)
		whole[piece[p.Faces[0]]] += area[i]
	}
	small := func(i int) bool {
		p := &parts[i]
		return p.Fit.Kind == shape.Free || len(p.Pieces) == 0 && len(p.Faces) <= crumbFaces && area[i] < crumbShare*whole[piece[p.Faces[0]]]
	}
	goesOn := func(b border) bool { return small(b.other) && math.Abs(b.bend) < crumbBend && b.bend != 0 }
	loose := func(i int) bool { // a chamfer lies between wider things, a crumb among its like
		if !small(i) || parts[i].Fit.Kind == shape.Free {
			return small(i)
		}
		var among float64
		for _, b := range near[i] {
			if goesOn(b) {
				among += b.length
			}
		}
		return among > rim[i]/2
	}
	seen := make([]bool, len(parts))
	var groups [][]int
	for i := range parts {
		if seen[i] || !loose(i) || area[i] == 0 {
			continue
		}
		seen[i] = true
		group, crumbs := []int{i}, 0
		for k := 0; k < len(group); k++ {
			if parts[group[k]].Fit.Kind != shape.Free {
				crumbs++
			}
			for _, b := range near[group[k]] {
				if !seen[b.other] && area[b.other] > 0 && goesOn(b) && loose(b.other) {
					seen[b.other] = true
					group = append(group, b.other)
				}
			}
		}
		if crumbs >= manyCrumbs {
			groups = append(groups, group)
		}
	}
	out := unite(parts, groups, func(grp []int) (shape.Fit, float64) {
		if f, ok := tube(m, unionFaces(parts, grp)); ok {
			return f, 1
		}
		largest := slices.MaxFunc(grp, func(a, b int) int {
			if area[a] < area[b] {
				return -1
			}
			return 1
		})
		return shape.Fit{Kind: shape.Free, Origin: parts[largest].Fit.Origin}, 1
	})
	for i := range out {
		if out[i].Until == 1 { // nobody would take it apart into crumbs again
			out[i].Pieces, out[i].Until = nil, 0
		}
	}
	return out
}
