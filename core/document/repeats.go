package document

import (
	"iter"
	"maps"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/parts"
)

// FindRepeats notes which parts are equal to an earlier one.
func (s *Tx) FindRepeats(m *mesh.Mesh) {
	for i, r := range parts.Repeats(m, s.PartFaces()) {
		p := s.Part(PartID(i))
		p.RepeatOf, p.Mirrored = nil, false
		if r.Of != mesh.None {
			of := PartID(r.Of)
			p.RepeatOf, p.Mirrored = &of, r.Mirrored
		}
	}
}

// ComeOff cuts the border of a part towards the parts it shall be free of, so that
// it can go its own way. It tells whether it was attached to one.
func (s *Tx) ComeOff(m *mesh.Mesh, faces []mesh.FaceID, of func(PartID) bool) bool {
	attached := false
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			t := m.Twin(h)
			if t == mesh.None || s.Map.IsCut(m.Edge(h)) || !of(s.PartOf(m.FaceOf(t))) {
				continue
			}
			s.Map.SetCut(m.Edge(h), true)
			attached = true
		}
	}
	return attached
}

// Others accepts every part but p.
func Others(p PartID) func(PartID) bool { return func(q PartID) bool { return q != p } }

// GiveMap gives seams and map of part a to part b, which comes off its neighbours.
// It returns the corners that correspond, and false if the parts do not.
func (s *Tx) GiveMap(m *mesh.Mesh, faces [][]mesh.FaceID, a, b PartID, mirrored bool) (map[mesh.HalfedgeID]mesh.HalfedgeID, bool) {
	pair, ok := parts.Correspond(m, faces[a], faces[b], mirrored)
	if !ok {
		return nil, false
	}
	s.ComeOff(m, faces[b], Others(b))
	s.Map.Follow(pair, mirrored)
	s.Part(b).Method = s.Parts[a].Method
	s.unstack(faces[b])
	return pair, true
}

// StackRepeats lays parts onto others that they are equal to, mirrored ones turned over, with the
// same seams: each of their shells comes to lie on one. It returns how many are so.
func (s *Tx) StackRepeats(m *mesh.Mesh, on map[PartID]PartID) (n int) {
	faces := s.PartFaces()
	var lies []Lie
	for _, p := range slices.Sorted(maps.Keys(on)) {
		base := on[p]
		over := s.Parts[p].Mirrored != s.Parts[base].Mirrored
		pair, ok := s.GiveMap(m, faces, base, p, over)
		if !ok {
			continue
		}
		if over {
			s.Map.Transform(faces[p], func(q r2.Vec) r2.Vec { return r2.Vec{X: -q.X, Y: q.Y} })
		}
		s.ComeOff(m, faces[base], Others(base))
		n++
		for _, f := range faces[base] {
			lo, _ := m.Corners(f)
			lies = append(lies, Lie{f, m.FaceOf(pair[lo])})
		}
	}
	s.Stack(lies...)
	return n
}

// OnRepeats adds to edges those at the same places of the repeats of their parts,
// mirrored ones included: what is done to one can be done to all.
func (d *Document) OnRepeats(edges []mesh.EdgeID) []mesh.EdgeID {
	m, s := d.Mesh, d.State
	faces := s.PartFaces()
	byPart := map[PartID][]mesh.HalfedgeID{}
	for _, e := range edges {
		h := m.EdgeHalf(e)
		for _, side := range []mesh.HalfedgeID{h, m.Twin(h)} {
			if side != mesh.None && s.PartOf(m.FaceOf(side)) >= 0 {
				p := s.PartOf(m.FaceOf(side))
				byPart[p] = append(byPart[p], side)
			}
		}
	}
	out := slices.Clone(edges)
	for p, sides := range byPart {
		for pair, mirrored := range d.onRepeats(p, faces) {
			for _, h := range sides {
				if mirrored { // the halfedge between the same two places starts at the other end
					h = m.Next(h)
				}
				out = append(out, m.Edge(pair[h]))
			}
		}
	}
	return ids.Once(out)
}

// FacesOnRepeats adds to faces those at the same places of the repeats of their parts, mirrored
// ones included. The result is ascending.
func (d *Document) FacesOnRepeats(picked []mesh.FaceID) []mesh.FaceID {
	m, s := d.Mesh, d.State
	faces := s.PartFaces()
	byPart := map[PartID][]mesh.FaceID{}
	for _, f := range picked {
		if p := s.PartOf(f); p >= 0 {
			byPart[p] = append(byPart[p], f)
		}
	}
	out := slices.Clone(picked)
	for p, mine := range byPart {
		for pair := range d.onRepeats(p, faces) {
			for _, f := range mine {
				lo, _ := m.Corners(f)
				out = append(out, m.FaceOf(pair[lo]))
			}
		}
	}
	return ids.Once(out)
}

// onRepeats yields for each repeat of a part, given the faces of all, which of its corners lie where those
// of the part do, and whether it is mirrored.
func (d *Document) onRepeats(p PartID, faces [][]mesh.FaceID) iter.Seq2[map[mesh.HalfedgeID]mesh.HalfedgeID, bool] {
	s := d.State
	return func(yield func(map[mesh.HalfedgeID]mesh.HalfedgeID, bool) bool) {
		root := s.RepeatRoot(p)
		for i := range s.Parts {
			q := PartID(i)
			if q == p || s.RepeatRoot(q) != root {
				continue
			}
			mirrored := s.Parts[p].Mirrored != s.Parts[q].Mirrored
			if pair, ok := parts.Correspond(d.Mesh, faces[p], faces[q], mirrored); ok && !yield(pair, mirrored) {
				return
			}
		}
	}
}

// SameShape returns the faces of all parts whose shape is that of the part of a picked face. The
// result is ascending.
func (d *Document) SameShape(picked []mesh.FaceID) []mesh.FaceID {
	s := d.State
	return d.ofParts(picked, func(p, q PartID) bool { return s.Parts[p].Fit.Kind == s.Parts[q].Fit.Kind })
}

// SamePart returns all faces of the parts of picked faces. The result is ascending.
func (d *Document) SamePart(picked []mesh.FaceID) []mesh.FaceID {
	return d.ofParts(picked, func(p, q PartID) bool { return p == q })
}

// ofParts returns the faces of all parts that are like the part of a picked face.
func (d *Document) ofParts(picked []mesh.FaceID, like func(p, q PartID) bool) (out []mesh.FaceID) {
	s := d.State
	wanted := make([]bool, len(s.Parts))
	for _, f := range picked {
		p := s.PartOf(f)
		if p < 0 || wanted[p] {
			continue
		}
		for q := range wanted {
			wanted[q] = wanted[q] || like(p, PartID(q))
		}
	}
	for f, p := range s.FaceParts() {
		if p >= 0 && wanted[p] {
			out = append(out, mesh.FaceID(f))
		}
	}
	return out
}
