package pipeline_test

import (
	"context"
	"math"
	"testing"

	"morvek/core/layout"
	"morvek/core/mesh"
	"morvek/core/pipeline"
	"morvek/demo"
)

func benchRun(b *testing.B, m *mesh.Mesh) {
	b.Helper()
	var d *layout.Document
	var seconds map[string]float64
	for b.Loop() {
		r, err := pipeline.Run(context.Background(), layout.New(m, layout.DefaultSettings()), nil)
		if err != nil {
			b.Fatal(err)
		}
		d, seconds = r.Doc, r.Seconds
	}
	rep, err := d.Report(context.Background(), "bench")
	if err != nil {
		b.Fatal(err)
	}
	t := rep.Totals
	b.ReportMetric(float64(m.NumFaces()), "faces")
	b.ReportMetric(float64(t.Unmapped+t.Mirrored+t.Outside)+t.OverlapShare, "faults")
	b.ReportMetric(t.MinGapPx, "gap-px")
	b.ReportMetric(t.L2, "L2")
	b.ReportMetric(t.AngularP95, "angular-p95")
	b.ReportMetric(t.DensitySpread, "density-spread")
	b.ReportMetric(t.GrainRMSDeg, "grain-deg")
	b.ReportMetric(t.Coverage, "coverage")
	b.ReportMetric(100*t.SeamOnFlat, "%seam-on-flat")
	b.ReportMetric(float64(t.Shells), "shells")
	b.ReportMetric(t.SeamExposed/creasesInView(d), "exposed-vs-creases")
	b.ReportMetric(t.Straight, "straight-share")
	var all float64
	for _, s := range seconds {
		all += s
	}
	for _, s := range []string{"parts", "seams", "flow", "sheet"} {
		b.ReportMetric(100*seconds[s]/all, "%time-"+s)
	}
}

// creasesInView is the exposed length of the naive cut: every edge that bends by the
// crease angle or more.
func creasesInView(d *layout.Document) float64 {
	m, x := d.Mesh, d.Exposure()
	var sum float64
	for i := range m.NumEdges() {
		e := mesh.EdgeID(i)
		if _, g := m.EdgeFaces(e); g != mesh.None && math.Abs(m.Dihedral(e)) >= d.State.Settings.CreaseDeg*math.Pi/180 {
			sum += m.EdgeLength(e) * x.Edge(e)
		}
	}
	return sum
}

func BenchmarkDemo(b *testing.B) {
	for _, model := range demo.Models() {
		b.Run(model.Slug, func(b *testing.B) {
			m, err := model.Mesh()
			if err != nil {
				b.Fatal(err)
			}
			benchRun(b, m)
		})
	}
}

func BenchmarkMast(b *testing.B) {
	for _, n := range []struct {
		name  string
		faces int
	}{{"50k", 50_000}, {"250k", 250_000}} {
		b.Run(n.name, func(b *testing.B) {
			m, err := demo.Mast(n.faces)
			if err != nil {
				b.Fatal(err)
			}
			benchRun(b, m)
		})
	}
}
