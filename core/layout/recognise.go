package layout

import (
	"context"
	"math"
	"slices"

	"morvek/core/mesh"
	"morvek/core/parts"
	"morvek/core/shape"
)

// Recognise splits the mesh, or chosen parts of it, into parts by shape. The map
// of the faces is cleared and cuts are put along the borders of the new parts.
// Locked parts stay as they are.
type Recognise struct {
	Reading
	Parts []PartID `json:"parts,omitempty"` // none: all
}

// Kind implements Edit.
func (*Recognise) Kind() string { return "recognise" }

// Describe implements Edit.
func (r *Recognise) Describe() string {
	if len(r.Parts) > 0 {
		return "recognise " + partCount(len(r.Parts)) + " again"
	}
	return "recognise parts"
}

// Apply implements Edit.
func (r *Recognise) Apply(ctx context.Context, d *Document, progress func(float64)) (*State, error) {
	o, err := r.options(d)
	if err != nil {
		return nil, err
	}
	s := d.Begin()
	if len(r.Parts) > 0 {
		if err := s.checkParts(r.Parts...); err != nil {
			return nil, err
		}
	}
	open := func(p PartID) bool {
		return p == NoPart || !s.Parts[p].Locked && (len(r.Parts) == 0 || slices.Contains(r.Parts, p))
	}
	for f, p := range s.partOf {
		if open(p) {
			o.Faces = append(o.Faces, mesh.FaceID(f))
		}
	}
	if len(o.Faces) == 0 {
		return nil, refuse("all of these parts are locked; unlock one first")
	}
	var t parts.Tree
	if len(o.Faces) == len(s.partOf) {
		t, err = d.tree(ctx, o, progress)
		s.Settings.Finer = o.Detail - parts.Default().Detail
	} else {
		t, err = d.read(ctx, o, progress)
	}
	if err != nil {
		return nil, err
	}
	found := t.Cut(d.Mesh, o.Detail)
	s.place(d.Mesh, o.Faces, found)
	s.findRepeats(d.Mesh)
	return s.Done(), nil
}

// place puts found parts into the state, for the faces they were sought in.
func (s *Tx) place(m *mesh.Mesh, faces []mesh.FaceID, found []parts.Part) {
	for _, f := range faces {
		s.SetPart(f, NoPart)
		s.Map.Unmap(f)
	}
	s.dropEmptyParts()
	fresh := make([]*Part, 0, len(found))
	first := make([]mesh.FaceID, len(found))
	for i, p := range found {
		part := &Part{Fit: p.Fit, Note: p.Note, Pieces: pieces(p.Pieces)}
		part.Grain = s.grainFor(m, p.Faces, part)
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
	s.resetCuts(m, faces)
}

func pieces(list []parts.Part) (out []Piece) {
	for _, p := range list {
		out = append(out, Piece{p.Fit, p.Faces, pieces(p.Pieces)})
	}
	return out
}

// asParts is the other way round.
func asParts(list []Piece) (out []parts.Part) {
	for _, q := range list {
		out = append(out, parts.Part{Faces: q.Faces, Fit: q.Fit, Pieces: asParts(q.Pieces)})
	}
	return out
}

// resetCuts puts the cuts at some faces where the shapes of their parts ask for
// them before anything is opened or attached: along the borders of parts, and at
// the sharp edges inside swept parts and boxes, the natural seams of a section with
// corners. What people wished stands.
func (s *Tx) resetCuts(m *mesh.Mesh, faces []mesh.FaceID) {
	for _, f := range faces {
		p := s.PartOf(f)
		sharp := p >= 0 && (s.Parts[p].Fit.Kind == shape.Swept || s.Parts[p].Fit.Kind == shape.Box)
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			e, t := m.Edge(h), m.Twin(h)
			s.Map.SetCut(e, t == mesh.None || p != s.PartOf(m.FaceOf(t)) || sharp && math.Abs(m.Dihedral(e)) > sharpEdge)
		}
	}
	s.heed(m, faces)
}

// sharpEdge is the bend along a swept part above which its strips are laid apart;
// the facets of a coarse round rod bend less.
const sharpEdge = 52 * math.Pi / 180
