package sheetedits

import (
	"context"
	"fmt"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/words"
)

// WeighFaces says how much room faces get, besides the weight of their parts: 1 is as much as
// others, 0.25 a quarter of the pixels along each edge. Shells get the mean of their faces; it
// counts when they are packed or made equal next.
type WeighFaces struct {
	Faces  []mesh.FaceID `json:"faces,omitempty"`
	Hidden float64       `json:"hidden,omitempty"` // besides, all shells whose exposure is below this: insides and undersides
	Weight float64       `json:"weight"`

	shells int
}

// Kind implements Edit.
func (*WeighFaces) Kind() string { return "weigh-faces" }

// Describe implements Edit.
func (e *WeighFaces) Describe() string {
	of := words.Count(len(e.Faces), "face")
	if e.Hidden > 0 {
		of = "what is hidden"
		if e.shells > 0 {
			of += ", " + words.Count(e.shells, "shell") + ","
		}
	}
	return fmt.Sprintf("give %s ×%g room", of, e.Weight)
}

// Apply implements Edit.
func (e *WeighFaces) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if err := document.CheckFaces(d.Mesh, e.Faces); err != nil {
		return nil, err
	}
	if err := document.CheckWeight(e.Weight); err != nil {
		return nil, err
	}
	if !(e.Hidden >= 0 && e.Hidden <= 1) {
		return nil, document.Refuse("exposure goes from 0 to 1, not to %g", e.Hidden)
	}
	faces := append([]mesh.FaceID{}, e.Faces...)
	if e.Hidden > 0 {
		hidden, n := hidden(d, e.Hidden)
		faces, e.shells = append(faces, hidden...), n
	}
	if len(faces) == 0 {
		return nil, document.Refuse("no face is picked, and none is hidden so much")
	}
	s := d.Begin()
	s.WeighFaces(faces, e.Weight)
	return s.Done(), nil
}

// hidden are the faces of all shells whose exposure, the mean by area, is below a limit.
func hidden(d *document.Document, limit float64) (out []mesh.FaceID, n int) {
	exposure := d.Exposure()
	shells, _ := d.State.Map.Shells()
	for _, sh := range shells {
		var seen, area float64
		for _, f := range sh.Faces {
			a := d.Mesh.FaceAreas()[f]
			seen += a * exposure.Face(f)
			area += a
		}
		if area > 0 && seen/area < limit {
			out, n = append(out, sh.Faces...), n+1
		}
	}
	return out, n
}
