package bench

import (
	"fmt"
	"math"
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/core/document"
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
	if err := desk.KnownFaces(o.Doc.Mesh, r.Faces); err != nil {
		return err
	}
	out, err := facesBy(o.Doc, r)
	if err != nil {
		return err
	}
	if out == nil {
		out = []mesh.FaceID{}
	}
	return c.JSON(http.StatusOK, map[string][]mesh.FaceID{"faces": out})
}

// facesBy is what a verb makes of picked faces.
func facesBy(d *document.Document, r pickRequest) ([]mesh.FaceID, error) {
	m := d.Mesh
	switch r.Verb {
	case "crease", "facing":
		angle := r.AngleDeg * math.Pi / 180
		if !(angle > 0 && angle <= math.Pi) {
			return nil, badAngle(r.AngleDeg)
		}
		if r.Verb == "crease" {
			return m.GrowToCrease(r.Faces, angle), nil
		}
		return m.SameFacing(r.Faces, angle), nil
	case "grow":
		return m.GrowFaces(r.Faces), nil
	case "shrink":
		return m.ShrinkFaces(r.Faces), nil
	case "material":
		return m.SameMaterial(r.Faces), nil
	case "size":
		return m.SameSize(r.Faces), nil
	case "shape":
		return d.SameShape(r.Faces), nil
	case "part":
		return d.SamePart(r.Faces), nil
	case "repeats":
		return d.FacesOnRepeats(r.Faces), nil
	case "unmapped":
		return facesWhere(d.State.Map.Mapped(), false), nil
	case "invert":
		in := make([]bool, m.NumFaces())
		for _, f := range r.Faces {
			in[f] = true
		}
		return facesWhere(in, false), nil
	}
	return nil, echo.NewHTTPError(http.StatusBadRequest, fmt.Sprintf("there is no pick called %q", r.Verb))
}

func facesWhere(list []bool, is bool) (out []mesh.FaceID) {
	for f, ok := range list {
		if ok == is {
			out = append(out, mesh.FaceID(f))
		}
	}
	return out
}
