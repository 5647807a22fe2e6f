package report

import (
	"context"
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/proof"
	"morvek/core/shape"
)

// Version names the report format.
const Version = "1"

// Report is what is handed over with a model; the field names are a contract.
type Report struct {
	Version  string          `json:"version"`
	Model    ModelReport     `json:"model"`
	Sheet    proof.Sheet     `json:"sheet"`
	Parts    []PartReport    `json:"parts"`
	Shells   []proof.Shell   `json:"shells"`
	Totals   proof.Totals    `json:"totals"`
	Health   []HealthReport  `json:"health"`
	Findings []proof.Finding `json:"findings"`
	Maps     []MapReport     `json:"maps"` // all of the document; what stands above is of the shown one

	Labels []proof.LabelReading `json:"labels,omitempty"`

	Revision any `json:"revision,omitempty"` // what became of the faces of the model before, where one is revised
}

// MapReport sums up one of the maps of a document.
type MapReport struct {
	document.MapHead
	Shown  bool         `json:"shown,omitempty"`
	Totals proof.Totals `json:"totals"` // without the exposure of seams where it is not shown
}

// ModelReport tells which model was measured.
type ModelReport struct {
	File     string  `json:"file"`
	Faces    int     `json:"faces"`
	Points   int     `json:"points"`
	Unit     string  `json:"unit"`
	Diagonal float64 `json:"diagonal"`

	Triangles int      `json:"triangles"`
	Repaired  []string `json:"repaired,omitempty"` // what was done to it, as it was asked for
	Baked     []string `json:"baked,omitempty"`    // scales of nodes and the like that reading put into the points
	Lost      []string `json:"lost,omitempty"`     // what its file held that is not written in every format
}

// ModelOf tells which model a document is of.
func ModelOf(d *document.Document, file string) ModelReport {
	return ModelReport{File: file, Faces: d.Source.NumFaces(), Points: d.Source.NumPoints(), Unit: d.State.Settings.Unit, Diagonal: d.Mesh.Diagonal(),
		Triangles: len(d.Source.Triangles().Corner), Baked: d.Source.Baked, Lost: d.Source.Lost}
}

// PartReport is a part with its shape; half_angle is in degrees.
type PartReport struct {
	Name      string        `json:"name"`
	Shape     shape.Kind    `json:"shape"`
	Faces     []mesh.FaceID `json:"faces"`
	Axis      [3]float64    `json:"axis"`
	Origin    [3]float64    `json:"origin"`
	Radius    float64       `json:"radius"`
	HalfAngle float64       `json:"half_angle"`
	Pitch     float64       `json:"pitch,omitempty"` // of a helix, positive for a right-handed one
	Error     float64       `json:"error"`
	RepeatOf  *int          `json:"repeat_of"`
	Mirrored  bool          `json:"mirrored,omitempty"` // the repeat is a mirror image
	Pieces    []PartReport  `json:"pieces"`
	Note      string        `json:"note,omitempty"`
}

// PartReports describes the parts of a document.
func PartReports(d *document.Document) []PartReport {
	faces := d.State.PartFaces()
	out := make([]PartReport, 0, len(d.State.Parts))
	for i, p := range d.State.Parts {
		r := partReport(p.Fit, faces[i], p.Pieces)
		r.Name, r.Note = p.Name, p.Note
		if p.RepeatOf != nil {
			of := int(*p.RepeatOf)
			r.RepeatOf, r.Mirrored = &of, p.Mirrored
		}
		if r.Faces == nil {
			r.Faces = []mesh.FaceID{}
		}
		partInSource(d, &r)
		out = append(out, r)
	}
	return out
}

func partReport(f shape.Fit, faces []mesh.FaceID, pieces []document.Piece) PartReport {
	r := PartReport{Shape: f.Kind, Faces: faces, Axis: triple(f.Axis), Origin: triple(f.Origin), Radius: f.Radius,
		HalfAngle: f.HalfAngle * 180 / math.Pi, Pitch: f.Pitch, Error: f.Error, Pieces: []PartReport{}}
	for _, q := range pieces {
		r.Pieces = append(r.Pieces, partReport(q.Fit, q.Faces, q.Pieces))
	}
	return r
}

// Of measures a document, the exposure of its seams included.
func Of(ctx context.Context, d *document.Document, file string) (Report, error) {
	in := d.ProofInput()
	p := proof.Measure(in)
	var err error
	if p.Totals.SeamExposed, err = proof.SeamExposed(ctx, in); err != nil {
		return Report{}, err
	}
	r := Report{
		Version: Version, Sheet: d.State.Settings.Sheet, Parts: PartReports(d), Shells: p.Shells, Totals: p.Totals,
		Health: HealthReports(d), Findings: p.Findings, Labels: p.Labels,
		Model: ModelOf(d, file),
	}
	if r.Shells == nil {
		r.Shells = []proof.Shell{}
	}
	if r.Findings == nil {
		r.Findings = []proof.Finding{}
	}
	r.Totals.Seconds = map[string]float64{}
	for _, h := range d.State.Maps() {
		m := MapReport{MapHead: h, Shown: h.ID == d.State.Shown.ID, Totals: r.Totals}
		if other, ok := d.State.Through(h.ID); ok && !m.Shown {
			m.Totals = proof.Measure(d.With(other).ProofInput()).Totals
		}
		r.Maps = append(r.Maps, m)
	}
	inSource(d, &r)
	return r, nil
}

func triple(v r3.Vec) [3]float64 { return [3]float64{v.X, v.Y, v.Z} }

// inSource makes a report speak of the faces of the mesh that came in, those that are
// carried along with the faces that carry them.
func inSource(d *document.Document, r *Report) {
	for i := range r.Shells {
		r.Shells[i].Faces = d.SourceFaces(r.Shells[i].Faces)
	}
	for i := range r.Findings {
		r.Findings[i].Faces = d.SourceFaces(r.Findings[i].Faces)
	}
}

func partInSource(d *document.Document, p *PartReport) {
	p.Faces = d.SourceFaces(p.Faces)
	for i := range p.Pieces {
		partInSource(d, &p.Pieces[i])
	}
}
