package layout

import (
	"context"
	"math"
	"slices"

	"morvek/core/mesh"
	"morvek/core/parallel"
	"morvek/core/parts"
	"morvek/core/shape"
)

// Recognise splits the mesh, or chosen parts of it, into parts by shape. The map
// of the faces is cleared and cuts are put along the borders of the new parts.
// Locked parts stay as they are.
type Recognise struct {
	CreaseDeg float64  `json:"crease_deg,omitempty"` // 0: that of the document
	Tolerance float64  `json:"tolerance,omitempty"`  // share of the diagonal, 0: measured
	Detail    *float64 `json:"detail,omitempty"`     // 0 few parts … 1 every strip its own, none: 0.5
	Parts     []PartID `json:"parts,omitempty"`      // none: all
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
	s := d.State.Clone()
	o := parts.Default()
	o.Exposure = d.Exposure().Face
	if o.CreaseDeg = r.CreaseDeg; o.CreaseDeg == 0 {
		o.CreaseDeg = s.Settings.CreaseDeg
	}
	if r.Detail != nil {
		o.Detail = *r.Detail
	}
	o.Tolerance = r.Tolerance
	if !(o.Detail >= 0 && o.Detail <= 1) || !(o.Tolerance >= 0 && o.Tolerance <= 0.05) || !(o.CreaseDeg > 0 && o.CreaseDeg < 180) {
		return nil, refuse("detail goes from 0 to 1, tolerance from 0 to 0.05, the crease from 0° to 180°")
	}
	if len(r.Parts) > 0 {
		if err := s.checkParts(r.Parts...); err != nil {
			return nil, err
		}
	}
	open := func(p PartID) bool {
		return p == NoPart || !s.Parts[p].Locked && (len(r.Parts) == 0 || slices.Contains(r.Parts, p))
	}
	for f, p := range s.FacePart {
		if open(p) {
			o.Faces = append(o.Faces, mesh.FaceID(f))
		}
	}
	if len(o.Faces) == 0 {
		return nil, refuse("all of these parts are locked; unlock one first")
	}
	var tree parallel.Group
	tree.Do(func() { d.Mesh.BVH() }) // chamfers will ask for rays; their tree grows beside the facets
	found, err := parts.Recognise(ctx, d.Mesh, o, progress)
	_ = tree.Wait()
	if err != nil {
		return nil, err
	}
	s.place(d.Mesh, o.Faces, found)
	s.findRepeats(d.Mesh)
	return s, nil
}

// place puts found parts into the state, for the faces they were sought in.
func (s *State) place(m *mesh.Mesh, faces []mesh.FaceID, found []parts.Part) {
	for _, f := range faces {
		s.FacePart[f] = NoPart
		s.Map.Mapped[f] = false
		lo, hi := m.Corners(f)
		clear(s.Map.UV[lo:hi])
	}
	s.dropEmptyParts()
	fresh := make([]Part, 0, len(found))
	first := make([]mesh.FaceID, len(found))
	for i, p := range found {
		part := Part{Fit: p.Fit, Note: p.Note, Pieces: pieces(p.Pieces)}
		part.Grain = s.grainFor(m, p.Faces, &part)
		first[i] = p.Faces[0]
		for _, f := range p.Faces {
			s.FacePart[f] = PartID(len(s.Parts) + i)
		}
		fresh = append(fresh, part)
	}
	nameParts(m, fresh, first)
	s.Parts = append(s.Parts, fresh...)
	s.resetCuts(m, faces)
}

func pieces(list []parts.Part) (out []Piece) {
	for _, p := range list {
		out = append(out, Piece{p.Fit, p.Faces, pieces(p.Pieces)})
	}
	return out
}

// resetCuts puts the cuts at some faces where the shapes of their parts ask for
// them before anything is opened or attached: along the borders of parts, and at
// the sharp edges inside swept parts and boxes, the natural seams of a section with
// corners. What people wished stands.
func (s *State) resetCuts(m *mesh.Mesh, faces []mesh.FaceID) {
	for _, f := range faces {
		p := s.FacePart[f]
		sharp := p >= 0 && (s.Parts[p].Fit.Kind == shape.Swept || s.Parts[p].Fit.Kind == shape.Box)
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			e, t := m.Edge(h), m.Twin(h)
			s.Cut[e] = t == mesh.None || p != s.FacePart[m.FaceOf(t)] || sharp && math.Abs(m.Dihedral(e)) > sharpEdge
		}
	}
	s.heed(m, faces)
}

// sharpEdge is the bend along a swept part above which its strips are laid apart;
// the facets of a coarse round rod bend less.
const sharpEdge = 45 * math.Pi / 180
