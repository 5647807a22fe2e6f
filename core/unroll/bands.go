package unroll

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// bands returns the rims at which a wall of revolution is divided so that no piece of it
// stretches by more than wallStretch when it is laid as a rectangle: its radii differ by
// that at most, which leaves room for the shear of its slanted facets. A row of faces that
// differs by more on its own, a cone, is a piece of its own.
func (f *frame) bands(m *mesh.Mesh, faces []mesh.FaceID) (out []mesh.EdgeID) {
	lo, hi := m.Bounds()
	tol := 1e-5 * r3.Norm(r3.Sub(hi, lo))
	level := func(e mesh.EdgeID) bool { // whether an edge runs around the axis
		h := m.EdgeHalf(e)
		p, q := m.Points[m.From(h)], m.Points[m.To(h)]
		return math.Abs(f.height(p)-f.height(q)) < tol && math.Abs(f.radius(p)-f.radius(q)) < tol
	}
	rows := m.Connected(faces, level)
	of := make(map[mesh.FaceID]int, len(faces))
	radii := make([][2]float64, len(rows))
	for i, row := range rows {
		radii[i] = [2]float64{math.Inf(1), 0}
		for _, g := range row {
			of[g] = i
			for _, p := range m.FacePoints(g) {
				r := f.radius(m.Points[p])
				radii[i] = [2]float64{min(radii[i][0], r), max(radii[i][1], r)}
			}
		}
	}
	rims := between(m, faces, func(a, b mesh.FaceID, e mesh.EdgeID) bool { return of[a] != of[b] })
	beside := make([][]int, len(rows))
	for _, e := range rims {
		a, b := m.EdgeFaces(e)
		beside[of[a]], beside[of[b]] = append(beside[of[a]], of[b]), append(beside[of[b]], of[a])
	}
	for i := range beside {
		slices.Sort(beside[i])
		if beside[i] = slices.Compact(beside[i]); len(beside[i]) > 2 {
			return nil // no profile runs through it
		}
	}
	// From one end of the profile to the other.
	band := make([]int, len(rows))
	done := make([]bool, len(rows))
	n := 0
	for pass := range 2 { // ends first, then what closes on itself
		for start := range rows {
			if done[start] || pass == 0 && len(beside[start]) > 1 {
				continue
			}
			n++
			reach := radii[start]
			for i := start; i >= 0; {
				r := [2]float64{min(reach[0], radii[i][0]), max(reach[1], radii[i][1])}
				if r[1] > wallStretch*r[0] && i != start {
					n++
					r = radii[i]
				}
				reach, band[i], done[i] = r, n, true
				next := -1
				for _, k := range beside[i] {
					if !done[k] {
						next = k
					}
				}
				i = next
			}
		}
	}
	for _, e := range rims {
		a, b := m.EdgeFaces(e)
		if band[of[a]] != band[of[b]] {
			out = append(out, e)
		}
	}
	return out
}
