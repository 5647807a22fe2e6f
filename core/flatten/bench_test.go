package flatten_test

import (
	"context"
	"fmt"
	"math"
	"testing"
	"time"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flatten"
	"morvek/core/mesh/meshtest"
)

// BenchmarkFlatten measures a conformal map and the isometric one that starts from it
// on sheets of quads: milliseconds for each, the stretch of the second, its rounds.
func BenchmarkFlatten(b *testing.B) {
	shapes := []struct {
		name string
		at   func(u, v float64) r3.Vec
	}{
		{"bumpy-panel", func(u, v float64) r3.Vec {
			return r3.Vec{X: u, Z: v, Y: 0.03 * math.Sin(9*u) * math.Sin(7*v)}
		}},
		{"half-torus", func(u, v float64) r3.Vec {
			su, cu := math.Sincos(math.Pi * u)
			sv, cv := math.Sincos(-1.96 * math.Pi * v)
			return r3.Vec{X: (3 + cv) * su, Y: sv, Z: (3 + cv) * cu}
		}},
		{"dome", func(u, v float64) r3.Vec {
			x, z := 1.6*(u-0.5), 1.6*(v-0.5)
			return r3.Vec{X: x, Z: z, Y: 0.5 * math.Exp(-(x*x + z*z))}
		}},
	}
	for _, s := range shapes {
		for _, k := range []int{32, 100, 224} {
			b.Run(fmt.Sprintf("%s/%dk", s.name, 2*k*k/1000), func(b *testing.B) {
				p := meshtest.Whole(meshtest.Grid(b, k, k, s.at))
				var conformal, isometric float64
				var r flatten.Result
				for b.Loop() {
					start := time.Now()
					uv, err := flatten.LSCM(context.Background(), p)
					if err != nil {
						b.Fatal(err)
					}
					conformal += time.Since(start).Seconds() * 1000
					start = time.Now()
					if r, err = flatten.Isometric(context.Background(), p, uv, flatten.Settings{}); err != nil {
						b.Fatal(err)
					}
					isometric += time.Since(start).Seconds() * 1000
				}
				start := time.Now()
				d, err := flatten.SymmetricDirichlet(context.Background(), p, r.UV, flatten.Settings{})
				if err != nil {
					b.Fatal(err)
				}
				b.ReportMetric(time.Since(start).Seconds()*1000, "ms-dirichlet")
				b.ReportMetric(float64(d.Iterations), "rounds-dirichlet")
				flatten.TrueScale(p, r.UV)
				l2, _ := p.Stretch(r.UV)
				flatten.TrueScale(p, d.UV)
				even, _ := p.Stretch(d.UV)
				b.ReportMetric(even, "L2-dirichlet")
				b.ReportMetric(conformal/float64(b.N), "ms-conformal")
				b.ReportMetric(isometric/float64(b.N), "ms-isometric")
				b.ReportMetric(float64(r.Iterations), "rounds")
				b.ReportMetric(l2, "L2")
				b.ReportMetric(float64(r.Flips), "flips")
			})
		}
	}
}
