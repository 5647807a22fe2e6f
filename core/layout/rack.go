package layout

import (
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
	"morvek/core/planar"
)

// rack is the place below the sheet (V < 0) where shells wait, in rows from
// left to right.
type rack struct {
	x, y, row float64
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
	shells, _ := s.Map.Shells(m)
	for _, sh := range shells {
		if leaving[sh.Faces[0]] {
			continue
		}
		if b := s.boxOf(m, sh.Faces); b.Min.Y < 0 {
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

// inItsPlace lays a shell where its faces lay before if it stays on the sheet and lies on
// no other; otherwise it leaves the map as it is. That it comes close to another is left
// to the proof to say.
func (s *State) inItsPlace(d *Document, f flatShell) bool {
	for _, face := range f.patch.Faces {
		if !d.State.Map.Mapped[face] {
			return false
		}
	}
	moved := slices.Clone(f.uv)
	centreOn(d, f.patch, moved)
	was := s.Map.Clone()
	s.Map.Set(f.patch, moved)
	if b := s.boxOf(d.Mesh, f.patch.Faces); b.Max.Y > 0 && s.isFree(d.Mesh, f.patch.Faces, 0, 0) {
		return true
	}
	s.Map = was
	return false
}

// inItsBox lays a shell where its faces lay before if it takes no more room than they
// did; otherwise it leaves the map as it is. It is quick, for many shells.
func (s *State) inItsBox(d *Document, f flatShell) bool {
	moved := slices.Clone(f.uv)
	centreOn(d, f.patch, moved)
	const slack = 1e-5
	now, old := planar.Bounds(moved...), d.State.boxOf(d.Mesh, f.patch.Faces)
	if now.Min.X < old.Min.X-slack || now.Min.Y < old.Min.Y-slack || now.Max.X > old.Max.X+slack || now.Max.Y > old.Max.Y+slack {
		return false
	}
	s.Map.Set(f.patch, moved)
	return true
}

// centreOn moves a map to where its faces lie now, to the middle of the sheet if nowhere.
func centreOn(d *Document, p *mesh.Patch, uv []r2.Vec) {
	var shift r2.Vec
	if slices.ContainsFunc(p.Faces, func(f mesh.FaceID) bool { return !d.State.Map.Mapped[f] }) {
		b := planar.Bounds(uv...)
		shift = r2.Sub(r2.Vec{X: 0.5, Y: 0.5}, b.Middle())
	} else {
		for i, q := range d.State.Map.Get(p) {
			shift = r2.Add(shift, r2.Scale(1/float64(len(uv)), r2.Sub(q, uv[i])))
		}
	}
	for i := range uv {
		uv[i] = r2.Add(uv[i], shift)
	}
}
