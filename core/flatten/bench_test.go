package flatten_test

import (
	"context"
	"fmt"
	"math"
	"runtime"
	"testing"
	"time"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flatten"
	"morvek/core/mesh/meshtest"
)

// benchShapes are sheets of quads that bend as parts do.
var benchShapes = []struct {
	name string
	at   func(u, v float64) r3.Vec
}{
	{"cylinder-wall", func(u, v float64) r3.Vec { // slit along its back
		s, c := math.Sincos(2 * math.Pi * 0.999 * u)
		return r3.Vec{X: s, Y: 4 * v, Z: c}
	}},
	{"half-torus", func(u, v float64) r3.Vec { // the upper half of half a ring
		su, cu := math.Sincos(math.Pi * u)
		sv, cv := math.Sincos(math.Pi * v)
		return r3.Vec{X: (3 + cv) * cu, Y: sv, Z: -(3 + cv) * su}
	}},
	{"bumpy-panel", func(u, v float64) r3.Vec {
		return r3.Vec{X: u, Z: -v, Y: 0.035 * math.Sin(9*u) * math.Sin(7*v)}
	}},
	{"dome", func(u, v float64) r3.Vec {
		x, z := 1.6*(u-0.5), 1.6*(0.5-v)
		return r3.Vec{X: x, Z: z, Y: 1.1 * math.Exp(-(x*x + z*z))}
	}},
}

// BenchmarkFlatten measures a conformal map, the isometric one that starts from it and
// the even one that starts from that: milliseconds of each and its stretch.
func BenchmarkFlatten(b *testing.B) {
	for _, s := range benchShapes {
		for _, k := range []int{32, 100, 224, 448} {
			b.Run(fmt.Sprintf("%s/%dk", s.name, 2*k*k/1000), func(b *testing.B) {
				p := meshtest.Whole(meshtest.Grid(b, k, k, s.at))
				ctx := context.Background()
				took := map[string]float64{}
				l2 := map[string]float64{}
				var angular, rounds, peak float64
				run := func(name string, do func() (flatten.Result, error)) flatten.Result {
					stop := watchHeap(&peak)
					start := time.Now()
					r, err := do()
					took[name] += time.Since(start).Seconds() * 1000
					stop()
					if err != nil || r.Flips > 0 {
						b.Fatalf("%s: %d flips, %v", name, r.Flips, err)
					}
					uv := append(r.UV[:0:0], r.UV...)
					flatten.TrueScale(p, uv)
					var a float64
					if l2[name], a = p.Stretch(uv); name == "conformal" {
						angular = a
					}
					return r
				}
				for b.Loop() {
					start := run("conformal", func() (flatten.Result, error) {
						uv, err := flatten.LSCM(ctx, p)
						return flatten.Result{UV: uv}, err
					})
					r := run("isometric", func() (flatten.Result, error) { return flatten.Isometric(ctx, p, start.UV, flatten.Settings{}) })
					rounds = float64(r.Iterations)
					run("even", func() (flatten.Result, error) { return flatten.SymmetricDirichlet(ctx, p, r.UV, flatten.Settings{}) })
				}
				for name, ms := range took {
					b.ReportMetric(ms/float64(b.N), "ms-"+name)
					b.ReportMetric(l2[name], "L2-"+name)
				}
				b.ReportMetric(angular, "angular-conformal")
				b.ReportMetric(rounds, "rounds-isometric")
				b.ReportMetric(peak, "MB-peak")
			})
		}
	}
}

// watchHeap notes the largest heap in use, in megabytes, until it is stopped.
func watchHeap(peak *float64) (stop func()) {
	runtime.GC()
	done, over := make(chan bool), make(chan bool)
	go func() {
		defer close(over)
		var m runtime.MemStats
		for {
			runtime.ReadMemStats(&m)
			*peak = max(*peak, float64(m.HeapInuse)/1e6)
			select {
			case <-done:
				return
			case <-time.After(10 * time.Millisecond):
			}
		}
	}()
	return func() { close(done); <-over }
}
