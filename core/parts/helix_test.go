package parts_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/parts"
	"morvek/core/shape"
)

// thread is a trapezoidal thread: root, flank, crest and flank.
func thread(t testing.TB, pitch float64) *mesh.Mesh {
	h := math.Abs(pitch) / 4
	if pitch < 0 {
		return meshtest.Screw(t, 32, 5, pitch, r2.Vec{X: 1, Y: 4 * h}, r2.Vec{X: 1.2, Y: 3 * h}, r2.Vec{X: 1.2, Y: 2 * h}, r2.Vec{X: 1, Y: h}, r2.Vec{X: 1})
	}
	return meshtest.Screw(t, 32, 5, pitch, r2.Vec{X: 1}, r2.Vec{X: 1, Y: h}, r2.Vec{X: 1.2, Y: 2 * h}, r2.Vec{X: 1.2, Y: 3 * h}, r2.Vec{X: 1, Y: 4 * h})
}

func checkThread(t *testing.T, name string, found []parts.Part, pitch, tol float64) {
	t.Helper()
	if len(found) != 4 {
		t.Errorf("%s: %d parts, want root, crest and two flanks", name, len(found))
	}
	for _, p := range found {
		if p.Fit.Kind != shape.Helix || math.Abs(p.Fit.Pitch/pitch-1) > tol {
			t.Errorf("%s: %s at a pitch of %g, want %g", name, p.Fit.Kind, p.Fit.Pitch, pitch)
		}
	}
}

// A thread is four strips that wind at one pitch, also where they lie on cylinders: wherever
// it stands, of whichever hand, of quads or triangles.
func TestAThreadIsItsStrips(t *testing.T) {
	for _, pitch := range []float64{0.4, -0.4} {
		m := thread(t, pitch)
		checkThread(t, "upright", recognise(t, m), pitch, 1e-3)
		turned := meshtest.Mapped(t, m, func(q r3.Vec) r3.Vec {
			return r3.Add(r3.Scale(40, r3.Rotate(q, 1.1, r3.Vec{X: 1, Y: -2, Z: 0.5})), r3.Vec{X: 300})
		})
		checkThread(t, "turned", recognise(t, turned), 40*pitch, 1e-3)
		b := meshtest.NewWelder()
		for f := range mesh.FaceID(m.NumFaces()) {
			q := m.FacePoints(f)
			at := func(i int) mesh.PointID { return b.Point(m.Points[q[i]]) }
			b.Face(at(0), at(1), at(2))
			b.Face(at(0), at(2), at(3))
		}
		checkThread(t, "triangles", recognise(t, b.Mesh(t)), pitch, 0.02)
	}
}

// The noise of a measured thread leaves it one.
func TestANoisyThreadStaysOne(t *testing.T) {
	m := thread(t, 0.4)
	r := rand.New(rand.NewPCG(3, 3))
	noisy := meshtest.Mapped(t, m, func(q r3.Vec) r3.Vec {
		return r3.Add(q, r3.Scale(1e-4, r3.Vec{X: r.NormFloat64(), Y: r.NormFloat64(), Z: r.NormFloat64()}))
	})
	checkThread(t, "noisy", recognise(t, noisy), 0.4, 0.01)
}

// Walls, cones, tori, bars and plates do not wind.
func TestRoundThingsAreNoThreads(t *testing.T) {
	for name, m := range map[string]*mesh.Mesh{
		"vase":  meshtest.Lathe(t, 24, r2.Vec{X: 1}, r2.Vec{X: 1.4, Y: 0.5}, r2.Vec{X: 1.5, Y: 1.5}, r2.Vec{X: 0.8, Y: 2}),
		"elbow": meshtest.Tube(t, 0.3, 12, meshtest.Arc(r3.Vec{}, 2, 0, 16)...),
		"prism": meshtest.Prism(t, 3, meshtest.Circle(1, 20)...),
	} {
		for _, p := range recognise(t, m) {
			if p.Fit.Kind == shape.Helix {
				t.Errorf("%s: a part of %d faces winds at a pitch of %g", name, len(p.Faces), p.Fit.Pitch)
			}
		}
	}
}
