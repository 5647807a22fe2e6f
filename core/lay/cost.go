package lay

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/flatten"
	"morvek/core/mesh"
)

// ShellStretch returns the L² and the angular stretch p95 of faces as they are mapped.
func ShellStretch(s *document.State, m *mesh.Mesh, faces []mesh.FaceID) (l2, angular float64) {
	p, uv := atTrueScale(s, m, faces)
	return p.Stretch(uv)
}

func atTrueScale(s *document.State, m *mesh.Mesh, faces []mesh.FaceID) (*mesh.Patch, []r2.Vec) {
	p := s.Map.Patch(faces)
	uv := s.Map.Get(p)
	flatten.TrueScale(p, uv)
	return p, uv
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
func Cost(s *document.State, m *mesh.Mesh, faces []mesh.FaceID) (c ShellCost) {
	shells, of := s.Map.Shells()
	seen := map[int32]bool{mesh.None: true}
	for _, f := range faces {
		if !seen[of[f]] {
			seen[of[f]] = true
			c.add(atTrueScale(s, m, shells[of[f]].Faces))
		}
	}
	return c
}

// HasRoom tells whether faces lie on the sheet, with the padding around them.
func HasRoom(s *document.State, m *mesh.Mesh, faces []mesh.FaceID) bool {
	sheet := s.Settings.Sheet
	return s.Map.IsFree(faces, sheet.Across(), sheet.Padding/float64(sheet.Size), sheet.Margin/float64(sheet.Size))
}
