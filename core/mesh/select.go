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
