package layout

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/planar"
)

// stacks returns what tells whether a part shares its place on the sheet with another,
// for the state as it is now.
func (s *State) stacks() func(PartID) bool {
	in := make([]bool, len(s.Parts))
	for i, p := range s.Parts {
		if p.StackedOn != nil {
			in[i], in[*p.StackedOn] = true, true
		}
	}
	return func(p PartID) bool { return p >= 0 && in[p] }
}

// inStack tells whether a part shares its place on the sheet with another.
func (s *State) inStack(p PartID) bool { return s.stacks()(p) }

// shellStretch returns the L² and the angular stretch p95 of faces as they are mapped.
func (s *State) shellStretch(m *mesh.Mesh, faces []mesh.FaceID) (l2, angular float64) {
	p, uv := s.atTrueScale(m, faces)
	return p.Stretch(uv)
}

func (s *State) atTrueScale(m *mesh.Mesh, faces []mesh.FaceID) (*mesh.Patch, []r2.Vec) {
	p := mesh.NewPatch(m, faces, s.IsCut)
	uv := s.Map.Get(p)
	flatten.TrueScale(p, uv)
	return p, uv
}

// density returns the size of faces on the sheet per model unit, 0 if they have none.
func (s *State) density(m *mesh.Mesh, faces []mesh.FaceID) float64 {
	var flat float64
	for _, t := range s.Map.Triangles(m, faces) {
		flat += math.Abs(t.Area())
	}
	if area := faceArea(m, faces); area > 0 {
		return math.Sqrt(flat / area)
	}
	return 0
}

func orOne(x float64) float64 {
	if x > 0 {
		return x
	}
	return 1
}

// faceArea is the area of faces in the model.
func faceArea(m *mesh.Mesh, faces []mesh.FaceID) (a float64) {
	for _, f := range faces {
		a += m.FaceAreas()[f]
	}
	return a
}

// ShellCost sums up the stretch of some shells.
type ShellCost struct {
	Shells  int
	L2      float64 // by area
	Angular float64 // the worst p95 of one

	squares, area float64 // of L², weighted by area, so far
}

// add counts a shell in; its map is at true scale.
func (c *ShellCost) add(p *mesh.Patch, uv []r2.Vec) {
	l2, angular := p.Stretch(uv)
	if !hasRoom(p, uv) {
		l2, angular = math.Inf(1), math.Inf(1)
	}
	a := p.Area()
	c.Shells++
	c.Angular = max(c.Angular, angular)
	c.squares += a * l2 * l2
	c.area += a
	if c.area > 0 {
		c.L2 = math.Sqrt(c.squares / c.area)
	}
}

// ShellsOf returns the faces of the shells that have some of the given ones.
func (s *State) ShellsOf(m *mesh.Mesh, faces []mesh.FaceID) (out []mesh.FaceID) {
	shells, of := s.Map.Shells(m)
	seen := map[int32]bool{mesh.None: true}
	for _, f := range faces {
		if !seen[of[f]] {
			seen[of[f]] = true
			out = append(out, shells[of[f]].Faces...)
		}
	}
	return out
}

// Cost returns the stretch of the shells that have some of the faces.
func (s *State) Cost(m *mesh.Mesh, faces []mesh.FaceID) (c ShellCost) {
	shells, of := s.Map.Shells(m)
	seen := map[int32]bool{mesh.None: true}
	for _, f := range faces {
		if !seen[of[f]] {
			seen[of[f]] = true
			c.add(s.atTrueScale(m, shells[of[f]].Faces))
		}
	}
	return c
}

// hasRoom tells whether faces lie on the sheet, with the padding around them.
func (s *State) hasRoom(m *mesh.Mesh, faces []mesh.FaceID) bool {
	sheet := s.Settings.Sheet
	return s.isFree(m, faces, sheet.Padding/float64(sheet.Size), sheet.Margin/float64(sheet.Size))
}

// isFree tells whether faces lie on the sheet and on no others, with some padding and
// margin in units of the sheet.
func (s *State) isFree(m *mesh.Mesh, faces []mesh.FaceID, pad, margin float64) bool {
	own := s.boxOf(m, faces)
	sheet := s.Settings.Sheet
	if own.Max.Y <= 0 {
		return true // it waits on the rack anyway
	}
	const slack = 1e-9
	if own.Min.X < margin-slack || own.Min.Y < margin-slack || own.Max.X > float64(sheet.Tiles)-margin+slack || own.Max.Y > 1-margin+slack {
		return false
	}
	mine := set(faces)
	shells, _ := s.Map.Shells(m)
	segs := s.Map.Border(m, faces, 0)
	tris := s.Map.Triangles(m, faces)
	n := len(tris)
	for i, sh := range shells {
		if mine[sh.Faces[0]] {
			continue
		}
		b := s.boxOf(m, sh.Faces)
		if b.Min.X > own.Max.X+pad || own.Min.X > b.Max.X+pad || b.Min.Y > own.Max.Y+pad || own.Min.Y > b.Max.Y+pad {
			continue
		}
		segs = append(segs, s.Map.Border(m, sh.Faces, int32(i+1))...)
		tris = append(tris, s.Map.Triangles(m, sh.Faces)...)
	}
	_, close := planar.MinGap(segs, pad*(1-1e-9))
	if pad > 0 && slices.ContainsFunc(close, func(g planar.Gap) bool { return segs[g.A].Group == 0 || segs[g.B].Group == 0 }) {
		return false
	}
	return !slices.ContainsFunc(planar.Overlaps(tris, 1e-4), func(o planar.Overlap) bool { return (int(o.A) < n) != (int(o.B) < n) })
}
