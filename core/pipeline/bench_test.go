package pipeline_test

import (
	"context"
	"math"
	"testing"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/pipeline"
	"morvek/core/proof"
	"morvek/core/report"
	"morvek/models"
)

func benchRun(b *testing.B, m *mesh.Mesh) *document.Document {
	b.Helper()
	var d *document.Document
	var seconds map[string]float64
	for b.Loop() {
		r, err := pipeline.Run(context.Background(), document.New(m, document.DefaultSettings()), nil)
		if err != nil {
			b.Fatal(err)
		}
		d, seconds = r.Doc, r.Seconds
	}
	rep, err := report.Of(context.Background(), d, "bench")
	if err != nil {
		b.Fatal(err)
	}
	t := rep.Totals
	b.ReportMetric(float64(m.NumFaces()), "faces")
	b.ReportMetric(float64(t.Unmapped+t.Mirrored+t.Outside)+t.OverlapShare, "faults")
	b.ReportMetric(t.NearestPx(), "gap-px")
	b.ReportMetric(t.L2, "L2")
	b.ReportMetric(t.AngularP95, "angular-p95")
	b.ReportMetric(t.DensitySpread, "density-spread")
	b.ReportMetric(t.GrainOverDeg, "grain-deg")
	b.ReportMetric(t.Coverage, "coverage")
	b.ReportMetric(100*t.SeamOnFlat, "%seam-on-flat")
	b.ReportMetric(float64(t.Shells), "shells")
	b.ReportMetric(t.SeamExposed/creasesInView(d), "exposed-vs-creases")
	b.ReportMetric(t.Straight, "straight-share")
	grids, able := straightOfGrids(b, d)
	b.ReportMetric(grids, "straight-share-of-grids")
	b.ReportMetric(able, "straight-share-of-able-grids")
	var all float64
	for _, s := range seconds {
		all += s
	}
	for _, s := range []string{"parts", "seams", "flow", "sheet"} {
		b.ReportMetric(100*seconds[s]/all, "%time-"+s)
	}
	return d
}

// creasesInView is the exposed length of the naive cut: every edge that bends by the
// crease angle or more, and the openings anywhere on their walls, that is where the
// exposure is the mean of the wall.
func creasesInView(d *document.Document) float64 {
	m, x := d.Mesh, d.Exposure()
	mean := map[document.PartID]float64{}
	for p, faces := range d.State.PartFaces() {
		var sum, area float64
		for _, f := range faces {
			sum += m.FaceAreas()[f] * x.Face(f)
			area += m.FaceAreas()[f]
		}
		mean[document.PartID(p)] = sum / area
	}
	crease := d.State.Settings.CreaseDeg * math.Pi / 180
	var sum float64
	for i := range m.NumEdges() {
		e := mesh.EdgeID(i)
		f, g := m.EdgeFaces(e)
		switch {
		case g == mesh.None:
		case math.Abs(m.Dihedral(e)) >= crease:
			sum += m.EdgeLength(e) * x.Edge(e)
		case d.State.Map.IsCut(e) && d.State.PartOf(f) == d.State.PartOf(g):
			sum += m.EdgeLength(e) * mean[d.State.PartOf(f)]
		}
	}
	return sum
}

func BenchmarkDemo(b *testing.B) {
	for _, model := range models.Models() {
		b.Run(model.Slug, func(b *testing.B) {
			m, truth, err := model.Known()
			if err != nil {
				b.Fatal(err)
			}
			d := benchRun(b, m)
			b.ReportMetric(float64(proof.Measure(d.ProofInput()).Totals.Shells)/float64(truth.Used()), "shells-per-true-part")
		})
	}
}

func BenchmarkMast(b *testing.B) {
	for _, n := range []struct {
		name  string
		faces int
	}{{"50k", 50_000}, {"250k", 250_000}} {
		b.Run(n.name, func(b *testing.B) {
			m, err := models.Mast(n.faces)
			if err != nil {
				b.Fatal(err)
			}
			benchRun(b, m)
		})
	}
}
