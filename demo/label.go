package demo

import (
	"morvek/core/document"
	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/models"
)

// words are what the enamel of the models says.
var words = map[string]string{"storm-lamp": "Storm", "survey-case": "Fennhollow 7"}

// labels are the words a model carries: that on the front of its enamel.
func labels(m models.Model, built *mesh.Mesh) (out []flow.Label) {
	var faces []mesh.FaceID
	for f, n := range built.FaceNormals() {
		if id := mesh.FaceID(f); built.MaterialName(id) == "enamel" && n.Z > 0.99 {
			faces = append(faces, id)
		}
	}
	if len(faces) == 0 {
		return nil
	}
	if l, ok := flow.NewLabel(built, words[m.Slug], faces, document.DefaultSettings().Flow(), 0); ok {
		out = append(out, l)
	}
	return out
}
