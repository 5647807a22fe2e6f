package project

import (
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/unroll"
	"morvek/web/desk"
	"morvek/web/station"
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
			v.Projection.Kind == fitted, station.Outline(v.State, body.Faces)})
	}
	return c.JSON(http.StatusOK, out)
}
