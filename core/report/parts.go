package report

import (
	"fmt"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/proof"
	"morvek/core/words"
)

// PartRow is a part with its shells, for people; empty where there are no shells.
type PartRow struct {
	Name, Shape, Error, Stretch, Grain string
	Faces, Shells                      int

	First mesh.FaceID // a face of it, None where it has none
}

// PartRows are the parts of a document with what was measured of its shells, in their order.
func PartRows(d *document.Document, shells []proof.Shell) []PartRow {
	out := make([]PartRow, len(d.State.Parts))
	stretch, grain := make([]float64, len(out)), make([]float64, len(out))
	for _, s := range shells {
		if s.Part >= 0 {
			out[s.Part].Shells++
			stretch[s.Part], grain[s.Part] = max(stretch[s.Part], s.AngularP95), max(grain[s.Part], s.GrainOverDeg)
		}
	}
	for i, faces := range d.State.PartFaces() {
		p, r := d.State.Parts[i], &out[i]
		r.Name, r.Shape, r.Error, r.Faces, r.First = p.Name, string(p.Fit.Reads()), words.Length(p.Fit.Error, d.State.Settings.Unit), len(d.SourceFaces(faces)), mesh.None
		if len(faces) > 0 {
			r.First = faces[0]
		}
		if r.Shells > 0 {
			r.Stretch, r.Grain = words.Times(stretch[i], 3), fmt.Sprintf("%.1f°", grain[i])
		}
	}
	return out
}
