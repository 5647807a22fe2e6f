package delivery_test

import (
	"context"
	"io"
	"strings"
	"testing"
	"time"

	"morvek/core/delivery"
	"morvek/core/document"
	"morvek/core/pipeline"
	"morvek/models/modeltest"
)

// BenchmarkDelivery delivers each item of the Storm lamp by itself at 2048 px, in shares of the time of
// the whole job in the same run.
func BenchmarkDelivery(b *testing.B) {
	m := modeltest.Mesh(b, "storm-lamp")
	for range b.N {
		start := time.Now()
		res, err := pipeline.Run(context.Background(), document.New(m, document.DefaultSettings()), nil)
		if err != nil {
			b.Fatal(err)
		}
		job := time.Since(start).Seconds()
		for _, i := range delivery.Items() {
			start := time.Now()
			if _, err := delivery.Write(context.Background(), io.Discard, res.Doc, delivery.Source{Name: "lamp.obj"}, delivery.Order{Items: []string{i.Name}}, nil); err != nil {
				b.Fatal(err)
			}
			b.ReportMetric(time.Since(start).Seconds()/job, strings.ReplaceAll(i.Name, ".", "-")+"/job")
		}
	}
}
