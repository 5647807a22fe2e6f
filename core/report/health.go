package report

import (
	"strings"

	"morvek/core/document"
	"morvek/core/mesh"
)

// HealthReport is a finding about the mesh itself.
type HealthReport struct {
	Kind  string        `json:"kind"`
	Count int           `json:"count"`
	Note  string        `json:"note"`
	Faces []mesh.FaceID `json:"faces"`

	Repair string `json:"repair,omitempty"` // that does away with it
}

// ailments are what is wrong with a mesh by kind, of one and of many.
var ailments = map[string][2]string{
	"folded": {"face that repeats corners", "faces that repeat corners"}, "doubled": {"face that lies on another", "faces that lie on others"},
	"flipped": {"face wound against its neighbours", "faces wound against their neighbours"}, "bent-polygons": {"polygon that is not flat or crosses itself", "polygons that are not flat or cross themselves"},
	"slivers": {"face of a loose sliver", "faces of loose slivers"}, "zero-area": {"face without area", "faces without area"},
	"crowded-edge": {"edge of three or more faces", "edges of three or more faces"}, "open-border": {"open border", "open borders"},
	"doubled-points": {"doubled point", "doubled points"}, "unused-points": {"point no face uses", "points no face uses"},
}

// Name says of what there are as many as it counts.
func (h HealthReport) Name() string { return ailments[h.Kind][min(1, h.Count-1)] }

// Aside is what its note says beyond its name, "" for nothing.
func (h HealthReport) Aside() string {
	_, aside, _ := strings.Cut(h.Note, "; ")
	return aside
}

// HealthReports describes the state of the mesh that came in.
func HealthReports(d *document.Document) []HealthReport {
	out := []HealthReport{}
	for _, a := range d.Health() {
		h := HealthReport{a.Kind, a.Count, a.Note, a.Faces, a.Repair}
		if h.Faces == nil {
			h.Faces = []mesh.FaceID{}
		}
		out = append(out, h)
	}
	return out
}
