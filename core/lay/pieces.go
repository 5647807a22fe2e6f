package lay

import (
	"slices"

	"morvek/core/document"
	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/shape"
)

// piecesOf returns the pieces that contain the given faces, all if none given.
func piecesOf(s *document.State, m *mesh.Mesh, faces []mesh.FaceID) []Piece {
	all := Pieces(s, m)
	if len(faces) == 0 {
		return all
	}
	wanted := ids.Set(faces)
	var out []Piece
	for _, p := range all {
		if slices.ContainsFunc(p.Faces, func(f mesh.FaceID) bool { return wanted[f] }) {
			out = append(out, p)
		}
	}
	return out
}

func facesOf(list []Piece) [][]mesh.FaceID {
	out := make([][]mesh.FaceID, len(list))
	for i, p := range list {
		out[i] = p.Faces
	}
	return out
}

// IsSheet tells whether a shape is what a sheet-metal worker could make, so that
// cuts at its corners are all it takes.
func IsSheet(k shape.Kind) bool {
	return k.Traits().Sheet
}

// Piece is a set of faces that hang together over uncut edges.
type Piece struct {
	Faces []mesh.FaceID
	Part  document.PartID // of its largest share of area
}

// Pieces returns what will be one shell each, in order of the first face.
func Pieces(s *document.State, m *mesh.Mesh) []Piece {
	region, n := m.Regions(s.Map.IsCut)
	out := make([]Piece, n)
	for f, r := range region {
		out[r].Faces = append(out[r].Faces, mesh.FaceID(f))
	}
	areas := m.FaceAreas()
	for i := range out {
		weight := map[document.PartID]float64{}
		best := s.PartOf(out[i].Faces[0])
		for _, f := range out[i].Faces {
			p := s.PartOf(f)
			weight[p] += areas[f]
			if weight[p] > weight[best]*(1+1e-9) {
				best = p
			}
		}
		out[i].Part = best
	}
	return out
}
