package layout

import (
	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
	"morvek/core/planar"
)

// rack is the place below the sheet (V < 0) where shells wait, in rows from
// left to right.
type rack struct {
	x, y, row float64
	others    []planar.Box // boxes of shells that stay where they are
}

const (
	rackGap = 0.02
	rackTop = 0.09 // room for the ruler and a label above it
)

// newRack starts below whatever already waits; the given pieces do not count.
func (s *State) newRack(m *mesh.Mesh, moving []piece) *rack {
	leaving := make(map[mesh.FaceID]bool)
	for _, p := range moving {
		for _, f := range p.faces {
			leaving[f] = true
		}
	}
	r := &rack{y: -rackTop}
	shells, _ := s.Map.Shells(m, s.IsCut)
	for _, sh := range shells {
		if leaving[sh.Faces[0]] {
			continue
		}
		b := s.boxOf(m, sh.Faces)
		r.others = append(r.others, b)
		if b.Min.Y < 0 {
			r.y = min(r.y, b.Min.Y-rackGap)
		}
	}
	return r
}

func (s *State) boxOf(m *mesh.Mesh, faces []mesh.FaceID) planar.Box {
	lo, _ := m.Corners(faces[0])
	b := planar.Box{Min: s.Map.UV[lo], Max: s.Map.UV[lo]}
	for _, f := range faces {
		lo, hi := m.Corners(f)
		b = planar.Bounds(append([]r2.Vec{b.Min, b.Max}, s.Map.UV[lo:hi]...)...)
	}
	return b
}

// put lays a shell at the next free place of the rack.
func (r *rack) put(f flatShell) {
	b := planar.Bounds(f.uv...)
	size := b.Size()
	if r.x > 0 && r.x+size.X > 1 {
		r.x, r.y, r.row = 0, r.y-r.row-rackGap, 0
	}
	shift := r2.Vec{X: r.x - b.Min.X, Y: r.y - b.Max.Y}
	for i := range f.uv {
		f.uv[i] = r2.Add(f.uv[i], shift)
	}
	r.x += size.X + rackGap
	r.row = max(r.row, size.Y)
}

// fits lays a shell around a centre if it stays on the sheet and touches no
// other shell's box there; otherwise it leaves it alone.
func (r *rack) fits(s *State, f flatShell, centre r2.Vec) bool {
	b := planar.Bounds(f.uv...)
	shift := r2.Sub(centre, r2.Scale(0.5, r2.Add(b.Min, b.Max)))
	b = planar.Box{Min: r2.Add(b.Min, shift), Max: r2.Add(b.Max, shift)}
	if b.Min.X < 0 || b.Min.Y < 0 || b.Max.X > float64(s.Settings.Sheet.Tiles) || b.Max.Y > 1 {
		return false
	}
	pad := s.Settings.Sheet.Padding / float64(s.Settings.Sheet.Size)
	for _, o := range r.others {
		if b.Min.X < o.Max.X+pad && o.Min.X-pad < b.Max.X && b.Min.Y < o.Max.Y+pad && o.Min.Y-pad < b.Max.Y {
			return false
		}
	}
	for i := range f.uv {
		f.uv[i] = r2.Add(f.uv[i], shift)
	}
	return true
}

// oldCentre returns the middle of the box the faces had on the sheet.
func oldCentre(d *Document, p *mesh.Patch) (r2.Vec, bool) {
	for _, f := range p.Faces {
		if !d.State.Map.Mapped[f] {
			return r2.Vec{}, false
		}
	}
	b := d.State.boxOf(d.Mesh, p.Faces)
	return r2.Scale(0.5, r2.Add(b.Min, b.Max)), true
}
