package planar

import (
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
)

func TestOverlapOfKnownTriangles(t *testing.T) {
	a := Triangle{{}, {X: 2}, {Y: 2}}
	cases := []struct {
		name string
		b    Triangle
		area float64
	}{
		{"the same", a, 2},
		{"mirrored", Triangle{a[0], a[2], a[1]}, 2},
		{"half across", Triangle{{X: 1}, {X: 3}, {X: 1, Y: 2}}, 0.5},
		{"side by side", Triangle{{X: 2}, {X: 2, Y: 2}, {Y: 2}}, 0},
		{"apart", Triangle{{X: 5}, {X: 6}, {X: 5, Y: 1}}, 0},
		{"inside", Triangle{{X: 0.2, Y: 0.2}, {X: 0.6, Y: 0.2}, {X: 0.2, Y: 0.6}}, 0.08},
	}
	for _, c := range cases {
		var got float64
		for _, o := range Overlaps([]Triangle{a, c.b}, 1e-9) {
			got += o.Area
		}
		if math.Abs(got-c.area) > 1e-12 {
			t.Errorf("%s: common area %g, want %g", c.name, got, c.area)
		}
	}
}

func TestOverlapsFindsEveryPairOnce(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 4))
	var tris []Triangle
	for range 150 {
		o := r2.Vec{X: rng.Float64(), Y: rng.Float64()}
		s := 0.02 + 0.3*rng.Float64()*rng.Float64()
		tris = append(tris, Triangle{o, r2.Add(o, r2.Vec{X: s}), r2.Add(o, r2.Vec{X: s * rng.Float64(), Y: s})})
	}
	want := map[[2]int32]bool{}
	for i := range tris {
		for j := i + 1; j < len(tris); j++ {
			if commonArea(tris[i], tris[j]) > 1e-6*min(tris[i].Area(), tris[j].Area()) {
				want[[2]int32{int32(i), int32(j)}] = true
			}
		}
	}
	for _, o := range Overlaps(tris, 1e-6) {
		k := [2]int32{min(o.A, o.B), max(o.A, o.B)}
		if !want[k] {
			t.Fatalf("pair %v twice or wrongly", k)
		}
		delete(want, k)
	}
	if len(want) > 0 {
		t.Errorf("missed %d pairs", len(want))
	}
}

func TestMinGapAgainstAllPairs(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 6))
	for range 20 {
		var segs []Segment
		for g := range int32(12) {
			o := r2.Vec{X: rng.Float64(), Y: rng.Float64()}
			for range 4 {
				a := r2.Add(o, r2.Vec{X: 0.03 * rng.Float64(), Y: 0.03 * rng.Float64()})
				b := r2.Add(o, r2.Vec{X: 0.03 * rng.Float64(), Y: 0.03 * rng.Float64()})
				segs = append(segs, Segment{a, b, g})
			}
		}
		want := math.Inf(1)
		for i, s := range segs {
			for _, o := range segs[i+1:] {
				if s.Group != o.Group {
					want = min(want, SegmentDistance(s.A, s.B, o.A, o.B))
				}
			}
		}
		got, _ := MinGap(segs, 1e-4)
		if math.Abs(got.Distance-want) > 1e-12 {
			t.Fatalf("least gap %g, want %g", got.Distance, want)
		}
	}
}
