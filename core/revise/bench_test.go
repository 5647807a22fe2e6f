package revise_test

import (
	"context"
	"testing"
	"time"

	"morvek/core/document"
	"morvek/core/pipeline"
	"morvek/core/proof"
	"morvek/core/revise"
	"morvek/models/modeltest"
)

// BenchmarkRevision brings the map of the winch over to its revision B, on one tile and on two: how
// much keeps its coordinates, what is found that was not there, and the time as a share of the job.
func BenchmarkRevision(b *testing.B) {
	set := document.DefaultSettings()
	run := func(slug string, tiles int) (*document.Document, float64) {
		set.Sheet.Tiles = tiles
		start := time.Now()
		res, err := pipeline.Run(context.Background(), document.New(modeltest.Mesh(b, slug), set), nil)
		if err != nil {
			b.Fatal(err)
		}
		return res.Doc, time.Since(start).Seconds()
	}
	for _, tiles := range []int{1, 2} {
		b.Run(map[int]string{1: "one-tile", 2: "two-tiles"}[tiles], func(b *testing.B) {
			for range b.N {
				old, _ := run("line-winch", 1)
				now, job := run("line-winch-b", tiles)
				start := time.Now()
				m, err := revise.Compare(context.Background(), old.State.Map, now.Mesh)
				if err != nil {
					b.Fatal(err)
				}
				s, c, err := revise.Carry(context.Background(), old, now, m)
				if err != nil {
					b.Fatal(err)
				}
				share := time.Since(start).Seconds() / job
				n := float64(now.Mesh.NumFaces())
				before, after := proof.Measure(old.ProofInput()), proof.Measure(now.With(s).ProofInput())
				b.ReportMetric(float64(c.Kept+c.Moved+c.Remeshed)/n, "kept")
				b.ReportMetric(float64(len(after.Findings)-len(before.Findings)), "more-findings")
				b.ReportMetric(after.Totals.DensitySpread, "density-spread")
				b.ReportMetric(share, "time/job")
			}
		})
	}
}
