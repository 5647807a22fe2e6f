package layout

import (
	"context"
	"math"

	"morvek/core/chart"
	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/parts"
	"morvek/core/shape"
)

// Recognise splits the mesh into parts by shape. The map is cleared and cuts
// are put along the borders of the parts.
type Recognise struct {
	CreaseDeg float64 `json:"crease_deg,omitempty"` // 0: that of the document
}

// Kind implements Edit.
func (*Recognise) Kind() string { return "recognise" }

// Describe implements Edit.
func (*Recognise) Describe() string { return "recognise parts" }

// Apply implements Edit.
func (r *Recognise) Apply(ctx context.Context, d *Document, progress func(float64)) (*State, error) {
	s := d.State.Clone()
	crease := r.CreaseDeg
	if crease == 0 {
		crease = s.Settings.CreaseDeg
	}
	o := parts.Default()
	o.CreaseDeg, o.Exposure = crease, d.Exposure().Face
	found, err := parts.Recognise(ctx, d.Mesh, o, progress)
	if err != nil {
		return nil, err
	}
	s.Parts = s.Parts[:0:0]
	first := make([]mesh.FaceID, len(found))
	for i, p := range found {
		part := Part{Fit: p.Fit, Grain: flow.DefaultGrain(d.Mesh, p.Faces, p.Fit)}
		for _, q := range p.Pieces {
			part.Pieces = append(part.Pieces, Piece{q.Fit, q.Faces})
		}
		s.Parts = append(s.Parts, part)
		first[i] = p.Faces[0]
		for _, f := range p.Faces {
			s.FacePart[f] = PartID(i)
		}
	}
	nameParts(d.Mesh, s.Parts, first)
	for e := range s.Cut {
		a, b := d.Mesh.EdgeFaces(mesh.EdgeID(e))
		s.Cut[e] = b == mesh.None || s.FacePart[a] != s.FacePart[b]
		if !s.Cut[e] && s.Parts[s.FacePart[a]].Fit.Kind == shape.Swept { // sharp edges of its section
			s.Cut[e] = math.Abs(d.Mesh.Dihedral(mesh.EdgeID(e))) > sharpEdge
		}
	}
	s.Map = chart.New(d.Mesh)
	return s, nil
}

// sharpEdge is the bend along a swept part above which its strips are laid apart;
// the facets of a coarse round rod bend less.
const sharpEdge = 45 * math.Pi / 180
