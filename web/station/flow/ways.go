package flow

import (
	"errors"
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/core/document"
	"morvek/core/flatten"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/web/desk"
	"morvek/web/station"
	"morvek/web/wire"
	"morvek/workspace"
)

// wayView is what a way of flattening would make of a shell.
type wayView struct {
	Method  flatten.Method `json:"method"`
	L2      float64        `json:"l2"`
	Angular float64        `json:"angular"`
	Why     string         `json:"why,omitempty"` // it is not possible
	Outline []float32      `json:"outline"`
}

// ways are those that are compared, what the shape asks for first.
var ways = append([]flatten.Method{""}, flatten.Methods...)

// mostCompared bounds the faces of shells that all ways are tried on.
const mostCompared = 20000

type room struct{ *desk.Desk }

func routes(g *echo.Group, d *desk.Desk) { g.POST("/flattenings", room{d}.flattenings) }

// flattenings compares the ways of flattening on the pieces of faces.
func (r room) flattenings(c *echo.Context) error {
	o, err := r.Open(c)
	if err != nil {
		return err
	}
	body, err := desk.ReadBody[struct {
		Faces []mesh.FaceID `json:"faces"`
	}](c)
	if err != nil {
		return err
	}
	if err := desk.KnownFaces(o.Doc.Mesh, body.Faces); err != nil {
		return err
	}
	if len(body.Faces) == 0 {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "choose a shell first")
	}
	out := []wayView{}
	for _, m := range ways {
		s, err := lay.Flatten(c.Request().Context(), o.Doc, lay.Options{Faces: body.Faces, Method: m}, nil)
		switch {
		case errors.Is(err, document.ErrRefused):
			out = append(out, wayView{Method: m, Why: workspace.Words(err), Outline: []float32{}})
			continue
		case err != nil:
			return err
		}
		faces := whole(s, body.Faces)
		if len(faces) > mostCompared {
			return echo.NewHTTPError(http.StatusUnprocessableEntity, "this is too much to compare all ways; choose one")
		}
		cost := lay.Cost(s, o.Doc.Mesh, body.Faces)
		out = append(out, wayView{Method: m, L2: wire.Finite(cost.L2), Angular: wire.Finite(cost.Angular), Outline: station.Outline(s, faces)})
	}
	return c.JSON(http.StatusOK, out)
}

// whole is all faces of the shells that have some of the faces.
func whole(s *document.State, some []mesh.FaceID) (out []mesh.FaceID) {
	shells, of := s.Map.Shells()
	seen := map[int32]bool{mesh.None: true}
	for _, f := range some {
		if k := of[f]; !seen[k] {
			seen[k] = true
			out = append(out, shells[k].Faces...)
		}
	}
	return out
}
