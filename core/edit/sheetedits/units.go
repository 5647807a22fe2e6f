package sheetedits

import (
	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/planar"
)

// unit is what moves as one on the sheet: a shell, or a stack of shells.
type unit struct {
	faces []mesh.FaceID
	box   planar.Box
}

// units lists what moves as one and has some of the faces, in the order of these.
func units(s *document.State, faces []mesh.FaceID) ([]unit, error) {
	if err := document.CheckFaces(s.Map.Mesh(), faces); err != nil {
		return nil, err
	}
	shells, of := s.Map.Shells()
	var out []unit
	seen := map[int32]bool{}
	for _, f := range faces {
		k := of[f]
		if k == mesh.None {
			return nil, document.Refuse("face %d is not mapped; flatten it first", f)
		}
		if seen[k] {
			continue
		}
		u := unit{box: s.Map.Box(shells[k].Faces)}
		for _, k := range stack(s, shells, k, u.box) {
			seen[k] = true
			u.faces = append(u.faces, shells[k].Faces...)
		}
		out = append(out, u)
	}
	if len(out) == 0 {
		return nil, document.Refuse("no shell is picked")
	}
	return out, nil
}

// stack lists the shells that lie on one on purpose, and that one.
func stack(s *document.State, shells []atlas.Shell, k int32, box planar.Box) []int32 {
	p := s.PartOf(shells[k].Faces[0])
	if p < 0 || !s.Stacks()(p) {
		return []int32{k}
	}
	root := s.StackRoot(p)
	var out []int32
	for i, sh := range shells {
		if q := s.PartOf(sh.Faces[0]); int32(i) == k || q >= 0 && s.StackRoot(q) == root && coincide(box, s.Map.Box(sh.Faces)) {
			out = append(out, int32(i))
		}
	}
	return out
}

// coincide tells whether shells with these boxes lie on each other, but for rounding.
func coincide(a, b planar.Box) bool {
	return r2.Norm(r2.Sub(a.Min, b.Min))+r2.Norm(r2.Sub(a.Max, b.Max)) < 1e-6*(1+r2.Norm(a.Size()))
}

// common is the box that holds all.
func common(list []unit) planar.Box {
	b := list[0].box
	for _, u := range list[1:] {
		b = planar.Bounds(b.Min, b.Max, u.box.Min, u.box.Max)
	}
	return b
}

// shift moves a unit; those that do not move are not touched.
func shift(s *document.Tx, u unit, by r2.Vec) {
	if by == (r2.Vec{}) {
		return
	}
	s.Map.Transform(u.faces, func(q r2.Vec) r2.Vec { return r2.Add(q, by) })
	for _, f := range u.faces {
		s.MarkHand(f)
	}
}

// usable is the part of a tile that shells may lie on.
func usable(s *document.State, tile int) planar.Box {
	m := s.Settings.Sheet.Margin / float64(s.Settings.Sheet.Size)
	at := float64(tile)
	return planar.Box{Min: r2.Vec{X: at + m, Y: m}, Max: r2.Vec{X: at + 1 - m, Y: 1 - m}}
}

// tileOf is the tile that the middle of a box lies on, the nearest there is.
func tileOf(s *document.State, b planar.Box) int {
	return max(0, min(s.Settings.Sheet.Tiles-1, int(b.Middle().X)))
}
