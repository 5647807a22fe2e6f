package document

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/parts"
	"morvek/core/shape"
)

// Reassign gives faces to a part, cuts along the new borders, closes those that
// are gone, and fits all parts it touched again. Locked shapes stay.
func (s *Tx) Reassign(m *mesh.Mesh, faces []mesh.FaceID, to PartID) {
	touched := map[PartID]bool{to: true}
	for _, f := range faces {
		if p := s.PartOf(f); p >= 0 {
			touched[p] = true
		}
		s.SetPart(f, to)
		s.MarkHand(f)
	}
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			t := m.Twin(h)
			if t == mesh.None {
				continue
			}
			s.Map.SetCut(m.Edge(h), s.PartOf(f) != s.PartOf(m.FaceOf(t)))
		}
	}
	all := s.PartFaces()
	for p := range touched {
		part := s.Part(PartID(p))
		part.RepeatOf, part.Mirrored, part.Pieces = nil, false, nil
		if len(all[p]) == 0 || part.Locked {
			continue
		}
		part.Fit = parts.Alternatives(m, all[p])[0]
		part.Grain, part.GrainOwn = s.GrainFor(m, all[p], part), false
	}
	s.dropEmptyParts()
}

// dropEmptyParts removes parts without faces and numbers the rest anew.
func (s *Tx) dropEmptyParts() {
	faces := s.PartFaces()
	to := make([]PartID, len(s.Parts))
	var kept []*Part
	for i, p := range s.Parts {
		to[i] = NoPart
		if len(faces[i]) > 0 {
			to[i] = PartID(len(kept))
			kept = append(kept, p)
		}
	}
	moved := func(p *PartID) *PartID {
		if p == nil || to[*p] == NoPart {
			return nil
		}
		q := to[*p]
		return &q
	}
	for f, p := range s.partOf {
		if p >= 0 {
			s.SetPart(mesh.FaceID(f), to[p])
		}
	}
	s.Parts = kept
	s.renumberElsewhere(to)
	for i, p := range kept {
		if p.RepeatOf != nil {
			s.Part(PartID(i)).RepeatOf = moved(p.RepeatOf)
		}
	}
}

// Regroup makes parts of what was found and leaves all others as they are. Shells end
// where parts now border on each other, and no longer where they did so before; the map
// and other seams stay. Parts that were the same already stay as they were.
func (s *Tx) Regroup(m *mesh.Mesh, found []parts.Part) {
	was := slices.Clone(s.partOf)
	size := make([]int, len(s.Parts))
	for _, p := range was {
		if p >= 0 {
			size[p]++
		}
	}
	var fresh []*Part
	var first, changed []mesh.FaceID
	for _, p := range found {
		if same := was[p.Faces[0]]; same >= 0 && size[same] == len(p.Faces) && !slices.ContainsFunc(p.Faces, func(f mesh.FaceID) bool { return was[f] != same }) {
			continue
		}
		part := &Part{Fit: p.Fit, Lay: Lay{Note: p.Note}, Pieces: PiecesOf(p.Pieces)}
		part.Grain = s.GrainFor(m, p.Faces, part)
		for _, f := range p.Faces {
			s.SetPart(f, PartID(len(s.Parts)+len(fresh)))
		}
		fresh, first, changed = append(fresh, part), append(first, p.Faces[0]), append(changed, p.Faces...)
	}
	if len(fresh) == 0 {
		return
	}
	old := PartID(len(s.Parts))
	s.Parts = append(s.Parts, fresh...)
	s.followNeighbours(m, func(p PartID) bool { return p >= old })
	for _, f := range changed {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			if t := m.Twin(h); t != mesh.None {
				g := m.FaceOf(t)
				if now := s.PartOf(f) != s.PartOf(g); now != (was[f] != was[g]) {
					s.Map.SetCut(m.Edge(h), now)
				}
			}
		}
	}
	s.dropEmptyParts()
	stay := len(s.Parts) - len(fresh)
	nameParts(m, s.Parts[stay:], first, s.Parts[:stay])
	s.FindRepeats(m)
	s.heed(m, changed)
}

// Place puts found parts into the state, for the faces they were sought in.
func (s *Tx) Place(m *mesh.Mesh, faces []mesh.FaceID, found []parts.Part) {
	for _, f := range faces {
		s.SetPart(f, NoPart)
		s.Map.Unmap(f)
	}
	s.dropEmptyParts()
	fresh := make([]*Part, 0, len(found))
	first := make([]mesh.FaceID, len(found))
	for i, p := range found {
		part := &Part{Fit: p.Fit, Lay: Lay{Note: p.Note}, Pieces: PiecesOf(p.Pieces)}
		part.Grain = s.GrainFor(m, p.Faces, part)
		first[i] = p.Faces[0]
		for _, f := range p.Faces {
			s.SetPart(f, PartID(len(s.Parts)+i))
		}
		fresh = append(fresh, part)
	}
	nameParts(m, fresh, first, nil)
	old := PartID(len(s.Parts))
	s.Parts = append(s.Parts, fresh...)
	s.followNeighbours(m, func(p PartID) bool { return p >= old })
	s.ResetCuts(m, faces)
}

// ResetCuts puts the cuts at some faces where the shapes of their parts ask for
// them before anything is opened or attached: along the borders of parts, and at
// the sharp edges inside swept parts and boxes, the natural seams of a section with
// corners. What people wished stands.
func (s *Tx) ResetCuts(m *mesh.Mesh, faces []mesh.FaceID) {
	for _, f := range faces {
		p := s.PartOf(f)
		sharp := p >= 0 && s.Parts[p].Fit.Kind.Traits().Apart
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			e, t := m.Edge(h), m.Twin(h)
			s.Map.SetCut(e, t == mesh.None || p != s.PartOf(m.FaceOf(t)) || sharp && isSharp(m, e, &s.Parts[p].Fit))
		}
	}
	s.heed(m, faces)
}

// isSharp tells whether strips of a part are laid apart at an edge between them.
func isSharp(m *mesh.Mesh, e mesh.EdgeID, fit *shape.Fit) bool {
	bend := math.Abs(m.Dihedral(e))
	if bend <= sharpEdge || bend > sharpAlong || !fit.Bent() {
		return bend > sharpEdge
	}
	h := m.EdgeHalf(e)
	if math.Abs(r3.Dot(mesh.Unit(m.EdgeVec(h)), fit.Along(m.Points[m.From(h)]))) < 0.5 {
		return true
	}
	a, b := m.EdgeFaces(e)
	wide := m.FaceAreas()[a] / m.FaceAreas()[b]
	return max(wide, 1/wide) > sharpWider
}

// The bend across a swept part above which its strips are laid apart, and that along it where neither is so much
// wider: rods and wires of five sides are still round.
const (
	sharpEdge  = 57 * math.Pi / 180
	sharpAlong = 75 * math.Pi / 180
	sharpWider = 1.5
)
