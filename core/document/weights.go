package document

import (
	"slices"

	"morvek/core/mesh"
)

// Weight is the density of a part relative to the common one.
func (s *State) Weight(p PartID) float64 {
	if p < 0 || s.Parts[p].Weight == 0 {
		return 1
	}
	return s.Parts[p].Weight
}

// Weights tells the density that a shell of some faces shall have relative to the common one,
// for the state as it is now: the mean by area of the weights of their parts, times that of
// the faces themselves.
func (s *State) Weights() func(shell []mesh.FaceID) float64 {
	own := map[mesh.FaceID]float64{}
	for _, w := range s.Wishes.Weights {
		for _, f := range w.Faces {
			own[f] = w.Weight
		}
	}
	areas := s.Map.Mesh().FaceAreas()
	return func(shell []mesh.FaceID) float64 {
		var sum, area float64
		first, even := 0., true
		for i, f := range shell {
			w := s.Weight(s.partOf[f])
			if v, ok := own[f]; ok {
				w *= v
			}
			if i == 0 {
				first = w
			}
			even = even && w == first
			sum += w * areas[f]
			area += areas[f]
		}
		if even || !(area > 0) {
			return first
		}
		return sum / area
	}
}

// WeighFaces gives faces a weight of their own, besides that of their parts; 1 takes it away.
func (tx *Tx) WeighFaces(faces []mesh.FaceID, weight float64) {
	moved := map[mesh.FaceID]bool{}
	for _, f := range faces {
		moved[f] = true
	}
	var out []FaceWeight
	for _, w := range tx.Wishes.Weights {
		out = append(out, FaceWeight{w.Weight, slices.DeleteFunc(slices.Clone(w.Faces), func(f mesh.FaceID) bool { return moved[f] })})
	}
	at := slices.IndexFunc(out, func(w FaceWeight) bool { return w.Weight == weight })
	if at < 0 {
		at = len(out)
		out = append(out, FaceWeight{Weight: weight})
	}
	out[at].Faces = append(out[at].Faces, faces...)
	slices.Sort(out[at].Faces)
	out[at].Faces = slices.Compact(out[at].Faces)
	tx.Wishes.Weights = tidyWeights(out)
}
