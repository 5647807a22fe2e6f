package seam

import (
	"context"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// cube is a closed box of six quads, one a side.
func cube(t *testing.T) *mesh.Mesh {
	outline := meshtest.Circle(1, 4)
	for i, p := range outline { // sides across the axes
		outline[i] = r2.Vec{X: p.X + p.Y, Y: p.Y - p.X}
	}
	return meshtest.Prism(t, 1, outline...)
}

func TestFacesAreSeenFromTheSidesThatCount(t *testing.T) {
	m := cube(t)
	side := func(n r3.Vec) mesh.FaceID {
		for f, v := range m.FaceNormals() {
			if r3.Dot(v, n) > 0.9 {
				return mesh.FaceID(f)
			}
		}
		t.Fatalf("no face looks towards %v", n)
		return 0
	}
	front, back, left, right := side(r3.Vec{Z: 1}), side(r3.Vec{Z: -1}), side(r3.Vec{X: -1}), side(r3.Vec{X: 1})
	top, below := side(r3.Vec{Y: 1}), side(r3.Vec{Y: -1})

	x := NewExposure(m, UpY, DefaultSides())
	if !(x.Face(front) > x.Face(left) && x.Face(left) > x.Face(back) && x.Face(back) > x.Face(below)) {
		t.Errorf("default: front %.2f, left %.2f, back %.2f, below %.2f", x.Face(front), x.Face(left), x.Face(back), x.Face(below))
	}
	if d := math.Abs(x.Face(left) - x.Face(right)); d > 0.06 {
		t.Errorf("left and right differ by %.3f", d)
	}
	only := NewExposure(m, UpY, Sides{Left: 1})
	if !(only.Face(left) > 0.9 && only.Face(right) < 0.05) {
		t.Errorf("from the left alone: left %.2f, right %.2f", only.Face(left), only.Face(right))
	}
	under := NewExposure(m, UpY, Sides{Below: 1})
	if !(under.Face(below) > 0.9 && under.Face(top) < 0.05) {
		t.Errorf("from below alone: below %.2f, top %.2f", under.Face(below), under.Face(top))
	}
	// With Z up, the side at +Z is the top and that at -Y the front.
	z := NewExposure(m, UpZ, DefaultSides())
	if !(z.Face(below) > z.Face(top) && z.Face(back) < z.Face(front)) {
		t.Errorf("Z up: -Y %.2f, +Y %.2f, -Z %.2f, +Z %.2f", z.Face(below), z.Face(top), z.Face(back), z.Face(front))
	}
}

func TestSidesThatCannotBe(t *testing.T) {
	for _, s := range []Sides{{}, {Front: -1, Back: 2}, {Front: math.NaN()}, {Above: 11}, {Below: math.Inf(1)}} {
		if s.Valid() {
			t.Errorf("%+v is taken", s)
		}
	}
	if !DefaultSides().Valid() {
		t.Error("the default is refused")
	}
}

// On a mesh large enough for samples to stand for their neighbours, a value does not
// depend on what was asked before, and taking stored values over gives the same.
func TestExposureDoesNotDependOnTheOrderOfAsking(t *testing.T) {
	const n = 180 // 32 400 faces
	m := meshtest.Grid(t, n, n, func(u, v float64) r3.Vec {
		return r3.Vec{X: u, Z: v, Y: 0.05 * math.Sin(20*u) * math.Sin(20*v)}
	})
	some := []mesh.FaceID{7, 31000, 123, 4567, 20000}
	one := NewExposure(m, UpY, DefaultSides())
	var alone []float64
	for _, f := range some {
		alone = append(alone, one.Face(f))
	}
	all := NewExposure(m, UpY, DefaultSides())
	last := 0.0
	if err := all.PrepareAll(context.Background(), func(p float64) { last = max(last, p) }); err != nil {
		t.Fatal(err)
	}
	if last < 0.999 {
		t.Errorf("progress ended at %g", last)
	}
	for i, f := range some {
		if all.Face(f) != alone[i] {
			t.Errorf("face %d: %g alone, %g among all", f, alone[i], all.Face(f))
		}
	}
	values, ok := all.Values()
	if !ok || len(values) != m.NumFaces() {
		t.Fatalf("%d values, %v", len(values), ok)
	}
	if _, ok := one.Values(); ok {
		t.Error("five faces looked at count as all")
	}
	kept := NewExposure(m, UpY, DefaultSides())
	kept.Take(values)
	for f := range m.NumFaces() {
		if kept.Face(mesh.FaceID(f)) != all.Face(mesh.FaceID(f)) {
			t.Fatalf("face %d: kept %g, looked at %g", f, kept.Face(mesh.FaceID(f)), all.Face(mesh.FaceID(f)))
		}
	}
	stopped, cancel := context.WithCancel(context.Background())
	cancel()
	if err := NewExposure(m, UpY, DefaultSides()).PrepareAll(stopped, nil); err == nil {
		t.Error("looking went on after it was cancelled")
	}
}

func TestLoopsThroughATorusAreTheCheapest(t *testing.T) {
	const n, k = 20, 10
	m := torus(t, n, k)
	open := func(cost Cost) []mesh.EdgeID {
		out, err := Openings(context.Background(), m, faces(m), func(mesh.EdgeID) bool { return false }, shape.Fit{Kind: shape.Free}, cost, func(*mesh.Patch) bool { return false })
		if err != nil {
			t.Fatal(err)
		}
		return out
	}
	plain := open(func(mesh.EdgeID) float64 { return 1 })
	if len(plain) != n+k {
		t.Errorf("%d edges, want one ring of %d and one of %d", len(plain), n, k)
	}
	// The ring around the hole runs where the torus is narrowest.
	for _, e := range plain {
		h := m.EdgeHalf(e)
		a, b := m.Points[m.From(h)], m.Points[m.To(h)]
		along := math.Abs(math.Hypot(a.X, a.Z)-math.Hypot(b.X, b.Z)) < 1e-9 && math.Abs(a.Y-b.Y) < 1e-9
		if along && math.Hypot(a.X, a.Z) > 2.01 {
			t.Errorf("edge %d of the ring lies at radius %g, not inside at 2", e, math.Hypot(a.X, a.Z))
		}
	}
	// Hidden ways that step from one ring of the tube to the next are not worth its turns.
	hidden := open(func(e mesh.EdgeID) float64 {
		h := m.EdgeHalf(e)
		at := r3.Scale(0.5, r3.Add(m.Points[m.From(h)], m.Points[m.To(h)]))
		turn := math.Atan2(at.Z, at.X) * n / (2 * math.Pi)
		column := math.Round(turn)
		odd := math.Mod(math.Abs(column), 2) == 1
		if math.Abs(turn-column) > 0.3 || odd == (math.Hypot(at.X, at.Z) > 3) {
			return 0.05 // the outside of odd columns, the inside of others, and what leads across
		}
		return 1
	})
	steps := 0
	for _, e := range hidden {
		h := m.EdgeHalf(e)
		if a, b := m.Points[m.From(h)], m.Points[m.To(h)]; math.Hypot(a.X, a.Z) > 2.01 && math.Abs(math.Hypot(a.X, a.Z)-math.Hypot(b.X, b.Z)) < 1e-9 && math.Abs(a.Y-b.Y) < 1e-9 {
			steps++
		}
	}
	if steps > 0 || len(hidden) != n+k {
		t.Errorf("%d edges with %d steps aside to where it is hidden", len(hidden), steps)
	}
	// Nothing may be cut: it gives up rather than cut what is forbidden.
	if out := open(func(mesh.EdgeID) float64 { return math.Inf(1) }); len(out) != 0 {
		t.Errorf("%d forbidden edges cut", len(out))
	}
}

func TestBearingAndLine(t *testing.T) {
	m := meshtest.Tube(t, 1, 8, r3.Vec{}, r3.Vec{X: 1}, r3.Vec{X: 2})
	fit := shape.Fit{Kind: shape.Cylinder, Axis: r3.Vec{X: 1}, Radius: 1}
	var rulings, ring []mesh.EdgeID
	for e := range m.NumEdges() {
		id := mesh.EdgeID(e)
		v := m.EdgeVec(m.EdgeHalf(id))
		h := m.EdgeHalf(id)
		if math.Abs(v.X) > 0.5 && m.Points[m.From(h)].Z > 0.99 && m.Points[m.To(h)].Z > 0.99 {
			rulings = append(rulings, id)
		} else if math.Abs(v.X) < 1e-9 && math.Abs(m.Points[m.From(h)].X-1) < 1e-9 {
			ring = append(ring, id)
		}
	}
	b := Bearing(m, rulings, fit)
	if len(rulings) != 2 || math.Abs(b.Z-1) > 1e-9 {
		t.Fatalf("bearing %v of %d rulings", b, len(rulings))
	}
	if r := Bearing(m, ring, fit); len(ring) != 8 || r != (r3.Vec{}) {
		t.Errorf("a ring has the bearing %v", r)
	}
	cost := InLine(m, fit, func(mesh.EdgeID) float64 { return 2 }, b)
	for e := range m.NumEdges() {
		if c := cost(mesh.EdgeID(e)); c < 2-1e-12 || c > 2*(1+math.Pi)+1e-9 {
			t.Fatalf("edge %d costs %g", e, c)
		}
	}
	if c := cost(rulings[0]); math.Abs(c-2) > 1e-6 {
		t.Errorf("in line it costs %g, want the plain 2", c)
	}
	other := shape.Fit{Kind: shape.Turned, Axis: r3.Vec{X: -1}, Origin: r3.Vec{X: 40}}
	if !Coaxial(m, fit, other) || Coaxial(m, fit, shape.Fit{Kind: shape.Plane, Axis: fit.Axis}) ||
		Coaxial(m, fit, shape.Fit{Kind: shape.Cylinder, Axis: fit.Axis, Origin: r3.Vec{Y: 0.5}}) {
		t.Error("coaxial is what shares an axis, whichever way it points")
	}
}
