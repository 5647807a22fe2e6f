package flow_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// sBand is a band 2 wide that bends to one side and then to the other within its surface.
func sBand(t *testing.T) *mesh.Mesh {
	return meshtest.Grid(t, 40, 2, func(u, v float64) r3.Vec {
		if u <= 0.5 { // about the origin
			s, c := math.Sincos(math.Pi * u)
			return r3.Vec{X: (10 + 2*v) * s, Y: (10 + 2*v) * c}
		}
		s, c := math.Sincos(math.Pi * (u - 0.5))
		return r3.Vec{X: 22 - (12-2*v)*c, Y: -(12 - 2*v) * s}
	})
}

// The grain of a bent band bends with it; that of a straight one has one direction.
func TestGrainBendsWithABand(t *testing.T) {
	m := sBand(t)
	fit := shape.Fit{Kind: shape.Extruded, Axis: r3.Vec{X: 1}}
	g := flow.DefaultGrain(m, meshtest.All(m), fit)
	for f := range m.NumFaces() {
		id := mesh.FaceID(f)
		w, ok := g.At(m.FaceCentre(id), m.FaceNormals()[f])
		h, _ := m.Corners(id)
		run := m.EdgeVec(h) // along the band
		if !ok || math.Abs(r3.Dot(w, run))/r3.Norm(run) < math.Cos(6*math.Pi/180) {
			t.Fatalf("face %d: the grain is %v where the band runs along %v", f, w, run)
		}
	}
	flat := meshtest.Grid(t, 40, 2, func(u, v float64) r3.Vec { return r3.Vec{X: 60 * u, Y: 2 * v} })
	if g := flow.DefaultGrain(flat, meshtest.All(flat), fit); len(g.Path) > 0 {
		t.Error("a straight band needs no path")
	}
}

// Each wall of a hopper runs along its own rims, however tall it is, and whichever way the
// hopper is turned.
func TestGrainOfWalls(t *testing.T) {
	rot := r3.NewRotation(0.6, r3.Unit(r3.Vec{X: 1, Y: 2, Z: -0.5}))
	for name, turn := range map[string]func(r3.Vec) r3.Vec{"upright": func(p r3.Vec) r3.Vec { return p }, "turned": rot.Rotate} {
		w := meshtest.NewWelder()
		corner := func(k int, up float64) mesh.PointID {
			half := 2 - 1.4*up/5
			return w.Point(turn(r3.Vec{X: half * []float64{1, 1, -1, -1}[k%4], Y: up, Z: 0.8 * half * []float64{-1, 1, 1, -1}[k%4]}))
		}
		for k := range 4 {
			w.Face(corner(k, 0), corner(k, 5), corner(k+1, 5), corner(k+1, 0))
		}
		m := w.Mesh(t)
		g := flow.DefaultGrain(m, meshtest.All(m), shape.Fit{Kind: shape.Free})
		if g.Mode != flow.Walls || len(g.Walls) != 4 {
			t.Fatalf("%s: %d walls, grain %q", name, len(g.Walls), g.Mode)
		}
		axis := turn(r3.Vec{Y: 1})
		for f := range m.NumFaces() {
			if d, ok := g.At(m.FaceCentre(mesh.FaceID(f)), m.FaceNormals()[f]); !ok || math.Abs(r3.Dot(d, axis)) > 1e-9 {
				t.Errorf("%s: wall %d runs along %v, want level", name, f, d)
			}
		}
	}
	dome := meshtest.Lathe(t, 24, r2.Vec{X: 1}, r2.Vec{X: 0.8, Y: 0.5}, r2.Vec{X: 0.3, Y: 0.8})
	if g := flow.DefaultGrain(dome, meshtest.All(dome), shape.Fit{Kind: shape.Free}); g.Mode == flow.Walls {
		t.Errorf("a dome has %d walls", len(g.Walls))
	}
}
