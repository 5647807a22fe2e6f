package mesh

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"
)

// GrowToCrease extends picked faces over all edges that bend less than crease
// (radians). The result is ascending and contains the pick.
func (m *Mesh) GrowToCrease(faces []FaceID, crease float64) []FaceID {
	return m.growWhile(faces, func(e EdgeID, _ FaceID) bool { return math.Abs(m.Dihedral(e)) < crease })
}

// SameFacing extends picked faces to all connected faces whose normal is within
// angle (radians) of the mean normal of the pick.
func (m *Mesh) SameFacing(faces []FaceID, angle float64) []FaceID {
	var mean r3.Vec
	for _, f := range faces {
		mean = r3.Add(mean, r3.Scale(m.FaceAreas()[f], m.FaceNormals()[f]))
	}
	return m.growWhile(faces, func(_ EdgeID, f FaceID) bool { return Angle(mean, m.FaceNormals()[f]) <= angle })
}

// growWhile floods from faces over edges to faces that are accepted.
func (m *Mesh) growWhile(faces []FaceID, accept func(e EdgeID, to FaceID) bool) []FaceID {
	seen := make([]bool, m.NumFaces())
	var out []FaceID
	for _, f := range faces {
		if !seen[f] {
			seen[f] = true
			out = append(out, f)
		}
	}
	for k := 0; k < len(out); k++ {
		lo, hi := m.Corners(out[k])
		for h := lo; h < hi; h++ {
			t := m.twin[h]
			if t == None {
				continue
			}
			if g := m.cornerFace[t]; !seen[g] && accept(m.edge[h], g) {
				seen[g] = true
				out = append(out, g)
			}
		}
	}
	slices.Sort(out)
	return out
}

// SameMaterial returns all faces with the material of any picked face.
func (m *Mesh) SameMaterial(faces []FaceID) (out []FaceID) {
	wanted := map[string]bool{}
	for _, f := range faces {
		wanted[m.MaterialName(f)] = true
	}
	for f := range m.NumFaces() {
		if wanted[m.MaterialName(FaceID(f))] {
			out = append(out, FaceID(f))
		}
	}
	return out
}

// OpenBorders returns the edges with a face on one side only.
func (m *Mesh) OpenBorders() []EdgeID {
	return m.edgesWhere(func(e EdgeID) bool { return m.twin[m.edgeHalf[e]] == None })
}

// EdgesAbove returns the edges that bend by angle (radians) or more.
func (m *Mesh) EdgesAbove(angle float64) []EdgeID {
	return m.edgesWhere(func(e EdgeID) bool { return math.Abs(m.Dihedral(e)) >= angle })
}

// BorderOf returns the edges with a picked face on exactly one side.
func (m *Mesh) BorderOf(faces []FaceID) []EdgeID {
	in := m.faceSet(faces)
	return m.edgesWhere(func(e EdgeID) bool {
		a, b := m.EdgeFaces(e)
		return in[a] != (b != None && in[b])
	})
}

// EdgesWithin returns the edges between two of the given faces, ascending.
func (m *Mesh) EdgesWithin(faces []FaceID) (out []EdgeID) {
	local := m.borrow()
	defer m.giveBack(local, faces)
	for i, f := range faces {
		local[f] = int32(i)
	}
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			if t := m.twin[h]; t > h && local[m.cornerFace[t]] != None {
				out = append(out, m.edge[h])
			}
		}
	}
	slices.Sort(out)
	return out
}

func (m *Mesh) edgesWhere(accept func(EdgeID) bool) (out []EdgeID) {
	for e := range m.NumEdges() {
		if accept(EdgeID(e)) {
			out = append(out, EdgeID(e))
		}
	}
	return out
}

// Chains groups edges that touch, each group ascending, in order of the first.
func (m *Mesh) Chains(edges []EdgeID) [][]EdgeID {
	return m.ChainsWhere(slices.Sorted(slices.Values(edges)), func(_, _ EdgeID) bool { return true })
}

// ChainsWhere groups edges that touch and are alike: from the first edge of a group on,
// in the order given, each edge that goes with it. Each group is ascending.
func (m *Mesh) ChainsWhere(edges []EdgeID, alike func(first, e EdgeID) bool) [][]EdgeID {
	at := map[PointID][]EdgeID{}
	for _, e := range edges {
		h := m.edgeHalf[e]
		at[m.From(h)] = append(at[m.From(h)], e)
		at[m.To(h)] = append(at[m.To(h)], e)
	}
	seen := map[EdgeID]bool{}
	var out [][]EdgeID
	for _, e := range edges {
		if seen[e] {
			continue
		}
		seen[e] = true
		group := []EdgeID{e}
		for i := 0; i < len(group); i++ {
			h := m.edgeHalf[group[i]]
			for _, p := range []PointID{m.From(h), m.To(h)} {
				for _, o := range at[p] {
					if !seen[o] && alike(e, o) {
						seen[o] = true
						group = append(group, o)
					}
				}
			}
		}
		slices.Sort(group)
		out = append(out, group)
	}
	return out
}
