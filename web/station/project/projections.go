package project

import (
	"net/http"
	"slices"

	"github.com/labstack/echo/v5"

	"morvek/core/document"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/unroll"
	"morvek/web/desk"
	"morvek/web/wire"
)

// optionView is what a kind of projection would make of faces.
type optionView struct {
	Kind       unroll.Kind       `json:"kind"`
	Projection unroll.Projection `json:"projection"`
	L2         float64           `json:"l2"`
	Angular    float64           `json:"angular"`
	Flips      int               `json:"flips"`
	Away       int               `json:"away"`
	Shells     int               `json:"shells"`
	Overlaps   bool              `json:"overlaps"`
	Why        string            `json:"why,omitempty"`
	Fitted     bool              `json:"fitted"`  // what the shape of the part asks for
	Outline    []float32         `json:"outline"` // segments, four numbers each, in a unit square
}

// mostCompared bounds the faces that all kinds are tried on: free ones are flattened for
// it.
const mostCompared = 20000

// projections compares the kinds of projection on faces, the best first.
func (r room) projections(c *echo.Context) error {
	o, err := r.Open(c)
	if err != nil {
		return err
	}
	body, err := desk.ReadBody[struct {
		Faces []mesh.FaceID `json:"faces"`
		Kinds []unroll.Kind `json:"kinds"`
	}](c)
	if err != nil {
		return err
	}
	st := o.Doc.State
	var fitted unroll.Kind
	if len(body.Faces) > 0 && body.Faces[0] >= 0 && int(body.Faces[0]) < o.Doc.Mesh.NumFaces() {
		if p := st.PartOf(body.Faces[0]); p >= 0 {
			fitted = unroll.Of(st.Parts[p].Fit.Kind)
		}
	}
	if len(body.Kinds) == 0 {
		body.Kinds = unroll.ProjectionKinds
		if len(body.Faces) > mostCompared {
			body.Kinds = []unroll.Kind{unroll.Flat, unroll.Cylindrical, unroll.Boxed}
		}
	}
	list, err := lay.Compare(c.Request().Context(), o.Doc, body.Faces, body.Kinds)
	if err != nil {
		return err
	}
	out := []optionView{}
	for _, v := range list {
		out = append(out, optionView{v.Projection.Kind, v.Projection, wire.Finite(v.L2), wire.Finite(v.Angular), v.Flips, v.Away, v.Shells, v.Overlaps, v.Why,
			v.Projection.Kind == fitted, outline(o.Doc.Mesh, v.State, body.Faces)})
	}
	return c.JSON(http.StatusOK, out)
}

// outline draws faces as a state would map them: their borders, small enough for a
// picture.
func outline(m *mesh.Mesh, s *document.State, faces []mesh.FaceID) []float32 {
	out := []float32{}
	if s == nil {
		return out
	}
	segs := s.Map.Border(faces, 0)
	if len(segs) == 0 {
		return out
	}
	lo, hi := segs[0].A, segs[0].A
	for _, g := range segs {
		lo.X, lo.Y = min(lo.X, g.A.X, g.B.X), min(lo.Y, g.A.Y, g.B.Y)
		hi.X, hi.Y = max(hi.X, g.A.X, g.B.X), max(hi.Y, g.A.Y, g.B.Y)
	}
	size := max(hi.X-lo.X, hi.Y-lo.Y, 1e-12)
	const most = 1500 // segments that still tell something
	step := max(1, len(segs)/most)
	for i, g := range segs {
		if i%step == 0 || len(segs) <= most {
			out = append(out, float32((g.A.X-lo.X)/size), float32((g.A.Y-lo.Y)/size), float32((g.B.X-lo.X)/size), float32((g.B.Y-lo.Y)/size))
		}
	}
	return slices.Clip(out)
}
