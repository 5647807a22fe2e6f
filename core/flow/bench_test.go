package flow_test

import (
	"context"
	"fmt"
	"math"
	"testing"
	"time"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flatten"
	"morvek/core/flow"
)

// BenchmarkTrueUp measures straightening on shells of rows and columns and on one that is
// straight between bends: milliseconds beside those of flattening, and what it costs.
func BenchmarkTrueUp(b *testing.B) {
	bulging := func(u, v float64) r3.Vec { // a guard panel that also bulges
		q := curvedStrip(u, v)
		q.Y = 0.1 * math.Sin(math.Pi*u) * math.Sin(math.Pi*v)
		return q
	}
	for _, s := range []struct {
		name string
		wide float64 // columns for each row
		at   func(u, v float64) r3.Vec
	}{{"guard", 6, bulging}, {"s-bend", 15, sBend}} {
		for _, n := range []float64{1000, 10000, 100000} {
			rows := int(math.Sqrt(n / s.wide))
			cols := int(n / float64(rows))
			b.Run(fmt.Sprintf("%s/%.0fk", s.name, n/1000), func(b *testing.B) {
				p := patchOf(b, cols, rows, s.at)
				var flat, straight float64
				var r flow.Trued
				for b.Loop() {
					start := time.Now()
					uv := laid(b, p)
					flat += time.Since(start).Seconds() * 1000
					start = time.Now()
					var err error
					if r, err = flow.TrueUp(context.Background(), p, uv, flow.TrueSettings{}); err != nil {
						b.Fatal(err)
					}
					straight += time.Since(start).Seconds() * 1000
				}
				share, total := flow.StraightShare(p, r.UV)
				b.ReportMetric(flat/float64(b.N), "ms-flatten")
				b.ReportMetric(straight/float64(b.N), "ms-true-up")
				b.ReportMetric(100*share/total, "%straight")
				b.ReportMetric(r.After.L2/r.Before.L2, "L2-after/before")
				b.ReportMetric(r.After.Worst, "worst")
			})
		}
	}
}

// BenchmarkTrueUpQuality sets the stretch of trued shells beside the best of three ways to
// straighten them by hand.
func BenchmarkTrueUpQuality(b *testing.B) {
	for _, s := range []struct {
		name string
		at   func(u, v float64) r3.Vec
	}{{"drum-wall", drumWall}, {"bent-channel", bentChannel}, {"curved-strip", curvedStrip}, {"tapered-arm", taperedArm}, {"twisted", twisted}} {
		b.Run(s.name, func(b *testing.B) {
			p := patchOf(b, 21, 5, func(u, v float64) r3.Vec { return s.at(u*u*0.4+u*0.6, v) })
			l2 := func(uv []r2.Vec) float64 {
				own := append([]r2.Vec(nil), uv...)
				flatten.TrueScale(p, own)
				x, _ := p.Stretch(own)
				return x
			}
			uv := laid(b, p)
			var r flow.Trued
			for b.Loop() {
				r = trued(b, p, uv, flow.TrueSettings{})
			}
			best := math.Inf(1)
			for _, other := range naive(b, p, uv, r.Lines) {
				best = min(best, l2(other))
			}
			share, total := flow.StraightShare(p, r.UV)
			b.ReportMetric(l2(uv), "L2-free")
			b.ReportMetric(l2(r.UV), "L2-true")
			b.ReportMetric(best, "L2-by-hand")
			b.ReportMetric(100*share/total, "%straight")
		})
	}
}
