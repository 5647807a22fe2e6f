package parts_test

import (
	"context"
	"fmt"
	"testing"

	"morvek/core/parts"
	"morvek/models"
)

// BenchmarkRecognise reports how well the demo models are read, as made and with
// noise of 1e-4 of the diagonal.
func BenchmarkRecognise(b *testing.B) {
	for _, model := range models.Models() {
		m, truth, err := model.Known()
		if err != nil {
			b.Fatal(err)
		}
		for _, v := range variants {
			if v.name != "as made" && v.name != "noise" {
				continue
			}
			b.Run(model.Slug+"/"+v.name, func(b *testing.B) {
				m, truth := v.build(b, m, truth)
				var found []parts.Part
				for b.Loop() {
					found = recognise(b, m)
				}
				s := truth.Judge(m, found)
				b.ReportMetric(s.Rand, "rand")
				b.ReportMetric(s.Shape, "shape-share")
				b.ReportMetric(s.AxisDeg, "axis-deg")
				b.ReportMetric(100*s.Radius, "%radius")
				b.ReportMetric(float64(len(found)), "parts")
			})
		}
	}
}

// BenchmarkRecogniseGrowth reports the time per face on masts of growing size,
// relative to the smallest.
func BenchmarkRecogniseGrowth(b *testing.B) {
	var base float64
	for _, n := range []int{12_500, 50_000, 250_000} {
		b.Run(fmt.Sprintf("%dk", n/1000), func(b *testing.B) {
			m, err := models.Mast(n)
			if err != nil {
				b.Fatal(err)
			}
			m.FaceNormals()
			for b.Loop() {
				if _, err := parts.Recognise(context.Background(), m, parts.Default(), nil); err != nil {
					b.Fatal(err)
				}
			}
			each := b.Elapsed().Seconds() / float64(b.N) / float64(m.NumFaces())
			if base == 0 {
				base = each
			}
			b.ReportMetric(each/base, "time-per-face-ratio")
		})
	}
}
