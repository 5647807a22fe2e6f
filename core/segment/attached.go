package segment

import (
	"morvek/core/atlas"
	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/planar"
)

// attached are the pieces of a shell that are of one part each, by the boxes they lie in, and the
// borders at which they hang together.
type attached struct {
	boxes  []planar.Box
	joints []joint
}

// mostJoined bounds the pieces of a shell that is taken apart.
const mostJoined = 200

// newAttached finds the pieces of a shell; there are no joints where they are too many.
func newAttached(d *document.Document, l atlas.Lifted) *attached {
	a := &attached{}
	m, s, faces := d.Mesh, d.State, l.Patch.Faces
	part := s.FaceParts()
	between := func(e mesh.EdgeID) bool {
		f, g := m.EdgeFaces(e)
		return part[f] != part[g]
	}
	pieces := m.Connected(faces, func(e mesh.EdgeID) bool { return s.Map.Ends(e) || between(e) })
	if len(pieces) > mostJoined {
		return a
	}
	of := make(map[mesh.FaceID]int, len(faces))
	for k, piece := range pieces {
		for _, f := range piece {
			of[f] = k
		}
	}
	a.boxes = boxes(l, of, len(pieces))
	at := map[[2]int]int{}
	for _, e := range m.EdgesWithin(faces) {
		if s.Map.Ends(e) || !between(e) {
			continue
		}
		f, g := m.EdgeFaces(e)
		key := [2]int{min(of[f], of[g]), max(of[f], of[g])}
		k, ok := at[key]
		if !ok {
			k, at[key] = len(a.joints), len(a.joints)
			a.joints = append(a.joints, joint{a: key[0], b: key[1]})
		}
		a.joints[k].edges = append(a.joints[k].edges, e)
	}
	return a
}

// boxes are those of n pieces of a shell as they lie, of tells which a face is in.
func boxes(l atlas.Lifted, of map[mesh.FaceID]int, n int) []planar.Box {
	out, begun := make([]planar.Box, n), make([]bool, n)
	p := l.Patch
	for i, f := range p.Faces {
		k := of[f]
		for _, v := range p.CornerVert[p.FaceStart[i]:p.FaceStart[i+1]] {
			q := l.UV[v]
			if !begun[k] {
				out[k], begun[k] = planar.Box{Min: q, Max: q}, true
			}
			out[k] = planar.Bounds(out[k].Min, out[k].Max, q)
		}
	}
	return out
}
