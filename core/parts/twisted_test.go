package parts_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// blade is a tapering, swept and twisted wing: its upper and its lower side meet at two sharp edges. Its quads may be
// cut into triangles, one way or the other.
func blade(t *testing.T, triangles bool) *mesh.Mesh {
	r := rand.New(rand.NewPCG(3, 7))
	w := meshtest.NewWelder()
	const rows, n = 8, 28
	at := func(i, k int, side float64) mesh.PointID {
		s := float64(i) / rows
		x := (1 - math.Cos(math.Pi*float64(k)/n)) / 2
		y := 0.6*(0.2969*math.Sqrt(x)-0.126*x-0.3516*x*x+0.2843*x*x*x-0.1036*x*x*x*x)*side + 0.08*x*(1-x)
		sin, cos := math.Sincos(-0.15 * s)
		c := 40 - 18*s
		return w.Point(r3.Vec{X: c*(x*cos-y*sin) + 14*s, Y: 150 * s, Z: c*(x*sin+y*cos) + 6*s})
	}
	quad := func(a, b, c, d mesh.PointID) {
		switch {
		case !triangles:
			w.Face(a, b, c, d)
		case r.IntN(2) == 0:
			w.Face(a, b, c)
			w.Face(a, c, d)
		default:
			w.Face(b, c, d)
			w.Face(b, d, a)
		}
	}
	for i := range rows {
		for k := range n {
			quad(at(i, k, 1), at(i, k+1, 1), at(i+1, k+1, 1), at(i+1, k, 1))
			quad(at(i, k+1, -1), at(i, k, -1), at(i+1, k, -1), at(i+1, k+1, -1))
		}
	}
	var tank []r2.Vec // exact, as most of a model is
	for k := range 19 {
		s, c := math.Sincos(math.Pi * float64(k) / 18)
		tank = append(tank, r2.Vec{X: 3 * s * (1 + 0.2*c), Y: -200 - 12*c})
	}
	return meshtest.Together(t, w.Mesh(t), meshtest.Lathe(t, 24, tank...))
}

// However the twisted quads of a surface were cut into triangles, it reads as it did.
func TestTrianglesOfTwistedQuadsReadAsThese(t *testing.T) {
	quads, cut := blade(t, false), blade(t, true)
	want := recognise(t, quads)
	turn := r3.NewRotation(1.1, r3.Unit(r3.Vec{X: 1, Y: -3, Z: 2}))
	for name, m := range map[string]*mesh.Mesh{
		"triangles": cut,
		"turned":    meshtest.Mapped(t, cut, turn.Rotate),
		"small":     meshtest.Mapped(t, cut, func(p r3.Vec) r3.Vec { return r3.Scale(1e-3, p) }),
	} {
		got := recognise(t, m)
		if len(got) != len(want) {
			t.Errorf("%s: %d parts, %d of quads", name, len(got), len(want))
			continue
		}
		for k := range got {
			if got[k].Fit.Kind != want[k].Fit.Kind || got[k].Fit.Kind == shape.Free && len(got[k].Faces) != 2*len(want[k].Faces) {
				t.Errorf("%s: part %d is a %s of %d faces, a %s of %d quads was asked for", name, k, got[k].Fit.Kind, len(got[k].Faces), want[k].Fit.Kind, len(want[k].Faces))
			}
		}
	}
}
