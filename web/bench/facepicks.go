package bench

import (
	"fmt"
	"math"
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/core/mesh"

	"morvek/web/desk"
)

// pickRequest asks for a verb on picked faces.
type pickRequest struct {
	Verb     string        `json:"verb"`
	Faces    []mesh.FaceID `json:"faces"`
	AngleDeg float64       `json:"angle_deg"`
}

// pick answers the face verbs: what a pick becomes. It changes nothing.
func (b *Bench) pick(c *echo.Context) error {
	o, err := b.Open(c)
	if err != nil {
		return err
	}
	r, err := desk.ReadBody[pickRequest](c)
	if err != nil {
		return err
	}
	m := o.Doc.Mesh
	if err := desk.KnownFaces(m, r.Faces); err != nil {
		return err
	}
	angle := r.AngleDeg * math.Pi / 180
	if !(angle > 0 && angle <= math.Pi) {
		return badAngle(r.AngleDeg)
	}
	var out []mesh.FaceID
	switch r.Verb {
	case "crease":
		out = m.GrowToCrease(r.Faces, angle)
	case "facing":
		out = m.SameFacing(r.Faces, angle)
	case "material":
		out = m.SameMaterial(r.Faces)
	case "unmapped":
		for f, ok := range o.Doc.State.Map.Mapped() {
			if !ok {
				out = append(out, mesh.FaceID(f))
			}
		}
	case "invert":
		in := make([]bool, m.NumFaces())
		for _, f := range r.Faces {
			in[f] = true
		}
		for f, ok := range in {
			if !ok {
				out = append(out, mesh.FaceID(f))
			}
		}
	default:
		return echo.NewHTTPError(http.StatusBadRequest, fmt.Sprintf("there is no pick called %q", r.Verb))
	}
	if out == nil {
		out = []mesh.FaceID{}
	}
	return c.JSON(http.StatusOK, map[string][]mesh.FaceID{"faces": out})
}
