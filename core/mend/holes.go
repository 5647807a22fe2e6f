package mend

import (
	"slices"

	"morvek/core/mesh"
)

// end is a place on a border of an object.
type end struct {
	object int32
	place  mesh.PointID
}

// holes are borders where a mesh ends that run round once: each is closed by a polygon of the object,
// group and material of the face beside it, which is on no map.
func holes(m *mesh.Mesh, _ Options) plan {
	loops := rims(m)
	if len(loops) == 0 {
		return plan{}
	}
	var beside []mesh.FaceID
	for _, l := range loops {
		for _, h := range l {
			beside = append(beside, m.FaceOf(h))
		}
	}
	slices.Sort(beside)
	return plan{len(loops), slices.Compact(beside), func() (*mesh.Mesh, error) {
		faces := make([]mesh.Recut, 0, m.NumFaces()+len(loops))
		for f := range mesh.FaceID(m.NumFaces()) {
			faces = append(faces, m.Whole(f))
		}
		for _, l := range loops {
			slices.Reverse(l) // against the faces beside it
			faces = append(faces, mesh.Recut{Of: m.FaceOf(l[0]), Corners: l, Bare: true})
		}
		return m.Recut(faces)
	}}
}

// rims are the borders of a mesh that run round once, as the halfedges along them in their order.
func rims(m *mesh.Mesh) (loops [][]mesh.HalfedgeID) {
	places := m.Places()
	at := func(h mesh.HalfedgeID, p mesh.PointID) end { return end{m.FaceObject[m.FaceOf(h)], places[p]} }
	span := func(h mesh.HalfedgeID) [2]end {
		a, b := at(h, m.From(h)), at(h, m.To(h))
		if b.place < a.place {
			a, b = b, a
		}
		return [2]end{a, b}
	}
	uses := map[[2]end]int{}
	var open []mesh.HalfedgeID
	for h := range mesh.HalfedgeID(m.NumCorners()) {
		if m.Twin(h) == mesh.None && m.From(h) != m.To(h) {
			open = append(open, h)
			uses[span(h)] = 0
		}
	}
	for h := range mesh.HalfedgeID(m.NumCorners()) {
		if n, ok := uses[span(h)]; ok {
			uses[span(h)] = n + 1
		}
	}
	out := map[end][]mesh.HalfedgeID{}
	for _, h := range open {
		if uses[span(h)] == 1 { // at others faces are wound against each other, or there are too many
			out[at(h, m.From(h))] = append(out[at(h, m.From(h))], h)
		}
	}
	seen := map[mesh.HalfedgeID]bool{}
	for _, h := range open {
		if seen[h] || uses[span(h)] != 1 {
			continue
		}
		var loop []mesh.HalfedgeID
		for on := h; !seen[on]; {
			seen[on] = true
			loop = append(loop, on)
			next := out[at(on, m.To(on))]
			if len(next) != 1 { // it ends, or touches itself
				loop = nil
				break
			}
			if on = next[0]; on == h {
				break
			}
		}
		if len(loop) >= 3 && at(loop[len(loop)-1], m.To(loop[len(loop)-1])) == at(h, m.From(h)) {
			loops = append(loops, loop)
		}
	}
	return loops
}
