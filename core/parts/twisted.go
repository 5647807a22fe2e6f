package parts

import "morvek/core/mesh"

// A body is of twisted quads, cut into triangles one way or the other, if so many of its faces are triangles that
// pair up to quads, and so many of these are not flat.
const (
	pairedShare  = 0.9
	twistedShare = 0.05
)

// twisted returns for each triangle the one that it makes a quad with, in bodies of twisted quads; None for all
// others. Of their triangles one rises and the next falls, which tells nothing of the surface they are on.
func twisted(m *mesh.Mesh, faces []mesh.FaceID, tol tolerance) []mesh.FaceID {
	pairs := mesh.QuadPairs(m)
	out := make([]mesh.FaceID, len(pairs))
	for f := range out {
		out[f] = mesh.None
	}
	n := m.FaceNormals()
	for _, body := range m.Connected(faces, func(mesh.EdgeID) bool { return false }) {
		paired, bent := 0.0, 0.0
		for _, f := range body {
			if pairs[f] != mesh.None {
				paired++
				if !tol.coplanar(m, n[f], m.FaceCentre(f), pairs[f]) {
					bent++
				}
			}
		}
		if all := float64(len(body)); paired < pairedShare*all || bent < twistedShare*all {
			continue
		}
		for _, f := range body {
			out[f] = pairs[f]
		}
	}
	return out
}
