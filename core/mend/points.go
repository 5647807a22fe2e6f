package mend

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// weld lets each point within the distance of an earlier one of its object become that: by a grid
// of cells as wide as the distance, in linear time.
func weld(m *mesh.Mesh, o Options) plan {
	if !(o.Weld > 0) {
		return plan{}
	}
	object := make([]int32, m.NumPoints())
	used := make([]bool, m.NumPoints())
	for f := range mesh.FaceID(m.NumFaces()) {
		for _, p := range m.FacePoints(f) {
			if !used[p] {
				used[p], object[p] = true, m.FaceObject[f]
			}
		}
	}
	type cell struct {
		x, y, z int64
		object  int32
	}
	at := map[cell][]mesh.PointID{}
	lo, _ := m.Bounds()
	of := func(p r3.Vec, k int32) cell {
		return cell{int64(math.Floor((p.X - lo.X) / o.Weld)), int64(math.Floor((p.Y - lo.Y) / o.Weld)), int64(math.Floor((p.Z - lo.Z) / o.Weld)), k}
	}
	becomes := make([]mesh.PointID, m.NumPoints())
	moved := 0
	for i, p := range m.Points {
		becomes[i] = mesh.PointID(i)
		if !used[i] {
			continue
		}
		home := of(p, object[i])
		found := mesh.PointID(mesh.None)
		for d := range 27 {
			c := cell{home.x + int64(d%3) - 1, home.y + int64(d/3%3) - 1, home.z + int64(d/9) - 1, home.object}
			for _, q := range at[c] {
				if r3.Norm(r3.Sub(p, m.Points[q])) <= o.Weld && (found == mesh.None || q < found) {
					found = q
				}
			}
		}
		if found != mesh.None {
			becomes[i] = found
			moved++
		} else {
			at[home] = append(at[home], mesh.PointID(i))
		}
	}
	var faces []mesh.FaceID
	for f := range mesh.FaceID(m.NumFaces()) {
		for _, p := range m.FacePoints(f) {
			if becomes[p] != p {
				faces = append(faces, f)
				break
			}
		}
	}
	return plan{moved, faces, func() (*mesh.Mesh, error) { return renumber(m, becomes) }}
}

// unused are points no face uses.
func unused(m *mesh.Mesh, _ Options) plan {
	becomes := make([]mesh.PointID, m.NumPoints())
	for i := range becomes {
		becomes[i] = mesh.None
	}
	for _, p := range m.CornerPoint {
		becomes[p] = p
	}
	gone := 0
	for _, p := range becomes {
		if p == mesh.None {
			gone++
		}
	}
	return plan{gone, nil, func() (*mesh.Mesh, error) { return renumber(m, becomes) }}
}

// renumber makes a mesh in which points become others or, where they become None, go.
func renumber(m *mesh.Mesh, becomes []mesh.PointID) (*mesh.Mesh, error) {
	var points []mesh.PointID
	to := make([]mesh.PointID, len(becomes))
	for i, p := range becomes {
		to[i] = mesh.None
		if p == mesh.PointID(i) {
			to[i] = mesh.PointID(len(points))
			points = append(points, p)
		}
	}
	for i, p := range becomes {
		if p != mesh.None && p != mesh.PointID(i) {
			to[i] = to[p]
		}
	}
	faces := make([]mesh.Recut, m.NumFaces())
	for f := range faces {
		faces[f] = m.Whole(mesh.FaceID(f))
	}
	return m.Rebuilt(points, to, faces)
}
