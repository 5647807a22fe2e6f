package layout

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/flatten"
	"morvek/core/mesh"
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
	p := s.Map.Patch(faces)
	uv := s.Map.Get(p)
	flatten.TrueScale(p, uv)
	return p, uv
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

// Cost returns the stretch of the shells that have some of the faces.
func (s *State) Cost(m *mesh.Mesh, faces []mesh.FaceID) (c ShellCost) {
	shells, of := s.Map.Shells()
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
	return s.Map.IsFree(faces, sheet.Tiles, sheet.Padding/float64(sheet.Size), sheet.Margin/float64(sheet.Size))
}
