package lay

import (
	"strconv"

	"morvek/core/document"
	"morvek/core/mesh"
)

// groups tells the group of each unit, that of most of its area.
func (how How) groups(s *document.State, list []Unit) []int {
	m := s.Map.Mesh()
	of := func(f mesh.FaceID) string { return m.MaterialName(f) }
	switch {
	case how.Blocks == ByObject && len(m.Objects) > 0:
		of = m.ObjectName
	case how.Blocks == ByObject:
		piece, _ := m.Components()
		of = func(f mesh.FaceID) string { return strconv.Itoa(int(piece[f])) }
	case how.Blocks == ByPick:
		picked := map[mesh.FaceID]bool{}
		for _, f := range s.Map.ShellsOf(how.Picked) {
			picked[f] = true
		}
		of = func(f mesh.FaceID) string {
			if picked[f] {
				return "picked"
			}
			return ""
		}
	}
	number := map[string]int{}
	out := make([]int, len(list))
	for i, u := range list {
		area := map[string]float64{}
		best := of(u.lowest[0])
		for _, f := range u.lowest {
			k := of(f)
			if area[k] += m.FaceAreas()[f]; area[k] > area[best] {
				best = k
			}
		}
		if _, ok := number[best]; !ok {
			number[best] = len(number)
		}
		out[i] = number[best]
	}
	return out
}
