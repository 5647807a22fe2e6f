package parts

import "morvek/core/mesh"

// A body is of twisted quads, cut into triangles one way or the other, if so many of its faces are triangles that
// pair up to quads, so many of these are not flat, and so many of the points inside have four of them around. A mesh
// of triangles in no rows pairs up as well, but hardly by fours.
const (
	pairedShare  = 0.9
	twistedShare = 0.05
	regularShare = 0.95
)

// twisted returns for each triangle the one that it makes a quad with, in bodies of twisted quads; None for all
// others. Of their triangles one rises and the next falls, which tells nothing of the surface they are on.
func twisted(m *mesh.Mesh, faces []mesh.FaceID, tol tolerance, tilts []float64) []mesh.FaceID {
	pairs := mesh.QuadPairs(m)
	n := m.FaceNormals()
	for _, body := range m.Connected(faces, func(mesh.EdgeID) bool { return false }) {
		paired, bent := 0.0, 0.0
		for _, f := range body {
			if pairs[f] != mesh.None {
				paired++
				if !tol.coplanar(m, n[f], m.FaceCentre(f), pairs[f], tilts[pairs[f]]) {
					bent++
				}
			}
		}
		if all := float64(len(body)); paired < pairedShare*all || bent < twistedShare*all || byFours(m, body, pairs) < regularShare {
			for _, f := range body {
				pairs[f] = mesh.None
			}
		}
	}
	return pairs
}

// byFours is the share of the points inside a body and inside its pairs at which four quads meet; 1 if there are none.
func byFours(m *mesh.Mesh, body, pairs []mesh.FaceID) float64 {
	sides, open := map[mesh.PointID]int{}, map[mesh.PointID]bool{}
	for _, f := range body {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			p, o := m.From(h), m.Twin(h)
			if o == mesh.None {
				open[p], open[m.To(h)] = true, true
			} else if m.FaceOf(o) != pairs[f] {
				sides[p]++
			}
			if pairs[f] == mesh.None {
				open[p] = true
			}
		}
	}
	four, all := 0.0, 0.0
	for p, n := range sides {
		if !open[p] {
			all++
			if n == 4 {
				four++
			}
		}
	}
	if all == 0 {
		return 1
	}
	return four / all
}
