package station

import (
	"slices"

	"morvek/core/document"
	"morvek/core/mesh"
)

// Outline draws faces as a state would map them: their borders, small enough for a
// picture: segments, four numbers each, in a unit square.
func Outline(s *document.State, faces []mesh.FaceID) []float32 {
	out := []float32{}
	if s == nil {
		return out
	}
	segs := s.Map.Border(faces, 0)
	if len(segs) == 0 {
		return out
	}
	lo, hi := segs[0].A, segs[0].A
	for _, g := range segs {
		lo.X, lo.Y = min(lo.X, g.A.X, g.B.X), min(lo.Y, g.A.Y, g.B.Y)
		hi.X, hi.Y = max(hi.X, g.A.X, g.B.X), max(hi.Y, g.A.Y, g.B.Y)
	}
	size := max(hi.X-lo.X, hi.Y-lo.Y, 1e-12)
	const most = 1500 // segments that still tell something
	step := max(1, len(segs)/most)
	for i, g := range segs {
		if i%step == 0 || len(segs) <= most {
			out = append(out, float32((g.A.X-lo.X)/size), float32((g.A.Y-lo.Y)/size), float32((g.B.X-lo.X)/size), float32((g.B.Y-lo.Y)/size))
		}
	}
	return slices.Clip(out)
}
