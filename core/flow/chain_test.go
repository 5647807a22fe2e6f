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

// rim returns the edges of a wall at height y, in order of their number.
func rim(m *mesh.Mesh, y float64) (out []mesh.EdgeID) {
	for e := range mesh.EdgeID(m.NumEdges()) {
		h := m.EdgeHalf(e)
		if math.Abs(m.Points[m.From(h)].Y-y) < 1e-9 && math.Abs(m.Points[m.To(h)].Y-y) < 1e-9 {
			out = append(out, e)
		}
	}
	return out
}

// The grain along the rim of a wall goes around it at every height, without a jump where
// the chain closes.
func TestGrainBendsWithItsChain(t *testing.T) {
	const n = 24
	m := meshtest.Lathe(t, n, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 1}, r2.Vec{X: 1, Y: 2})
	ring := rim(m, 0)
	if len(ring) != n {
		t.Fatalf("%d edges in the rim", len(ring))
	}
	for name, chain := range map[string][]mesh.EdgeID{"closed": ring, "with a gap": ring[:n-3]} {
		g := flow.ChainGrain(m, chain)
		if len(g.Path) != len(chain)+1 {
			t.Fatalf("%s: a path of %d points", name, len(g.Path))
		}
		sign := 0.0
		for f := range mesh.FaceID(m.NumFaces()) {
			c, normal := m.FaceCentre(f), m.FaceNormals()[f]
			d, ok := g.At(c, normal)
			around := r3.Unit(r3.Cross(r3.Vec{Y: 1}, c))
			if len(chain) < n && math.Abs(r3.Dot(d, around)) < 0.99 {
				continue // nearest to an end, whose direction goes on
			}
			if !ok || math.Abs(r3.Norm(d)-1) > 1e-12 || math.Abs(r3.Dot(d, normal)) > 1e-9 {
				t.Fatalf("%s: %v at %v is no unit tangent", name, d, c)
			}
			if off := math.Acos(min(1, math.Abs(r3.Dot(d, around)))); off > 0.02 {
				t.Errorf("%s: %g rad off at %v", name, off, c)
			}
			if sign == 0 {
				sign = r3.Dot(d, around)
			}
			if r3.Dot(d, around)*sign < 0 {
				t.Errorf("%s: it turns back at %v", name, c)
			}
		}
	}
}

// A chain runs from the edge picked first to the one picked last; a straight one is a
// direction, and edges that are no chain have their mean.
func TestChainsHaveASense(t *testing.T) {
	m := board(t).Mesh
	var row []mesh.EdgeID
	for e := range mesh.EdgeID(m.NumEdges()) {
		h := m.EdgeHalf(e)
		if a, b := m.Points[m.From(h)], m.Points[m.To(h)]; math.Abs(a.Z) < 1e-9 && math.Abs(b.Z) < 1e-9 {
			row = append(row, e)
		}
	}
	first := func(e mesh.EdgeID) float64 { return m.Points[m.From(m.EdgeHalf(e))].X }
	for range 2 {
		g := flow.ChainGrain(m, row)
		want := 1.0
		if first(row[0]) > first(row[len(row)-1]) {
			want = -1
		}
		if g.Path != nil || math.Abs(g.Axis.X-want) > 1e-9 {
			t.Errorf("from %g to %g: %+v", first(row[0]), first(row[len(row)-1]), g)
		}
		for i, j := 0, len(row)-1; i < j; i, j = i+1, j-1 {
			row[i], row[j] = row[j], row[i]
		}
	}
	apart := []mesh.EdgeID{row[0], row[2]}
	if g := flow.ChainGrain(m, apart); g.Path != nil || math.Abs(math.Abs(g.Axis.X)-1) > 1e-9 {
		t.Errorf("two edges apart: %+v", g)
	}
}

// Turned and scaled with the model, the grain turns with it.
func TestGrainIsInvariant(t *testing.T) {
	m := meshtest.Lathe(t, 16, r2.Vec{X: 1}, r2.Vec{X: 0.8, Y: 1})
	move := func(p r3.Vec) r3.Vec {
		s, c := math.Sincos(0.7)
		return r3.Add(r3.Scale(40, r3.Vec{X: p.X, Y: c*p.Y - s*p.Z, Z: s*p.Y + c*p.Z}), r3.Vec{X: 3, Y: -200, Z: 7})
	}
	o := meshtest.Mapped(t, m, move)
	turn := func(d r3.Vec) r3.Vec { return r3.Scale(1./40, r3.Sub(move(d), move(r3.Vec{}))) }
	chain := rim(m, 0)[:9]
	fit := shape.Fit{Kind: shape.Torus, Axis: r3.Vec{Y: 1}, Origin: r3.Vec{Y: 0.5}}
	moved := shape.Fit{Kind: shape.Torus, Axis: turn(fit.Axis), Origin: move(fit.Origin)}
	along, _ := flow.AxisGrain(fit, flow.Along)
	alongMoved, _ := flow.AxisGrain(moved, flow.Along)
	for name, g := range map[string][2]flow.Grain{
		"chain": {flow.ChainGrain(m, chain), flow.ChainGrain(o, chain)}, "ring": {along, alongMoved},
	} {
		for f := range mesh.FaceID(m.NumFaces()) {
			a, ok := g[0].At(m.FaceCentre(f), m.FaceNormals()[f])
			b, also := g[1].At(o.FaceCentre(f), o.FaceNormals()[f])
			if ok != also || r3.Norm(r3.Sub(turn(a), b)) > 1e-9 {
				t.Errorf("%s, face %d: %v, moved %v", name, f, turn(a), b)
			}
		}
	}
}

// Along a bent bar is along its spine, along a ring is around it, on top of it too.
func TestGrainAlongBentShapes(t *testing.T) {
	path := meshtest.Arc(r3.Vec{}, 1, 0, 12)
	bar := meshtest.Tube(t, 0.2, 8, path...)
	g, ok := flow.AxisGrain(shape.Fit{Kind: shape.Swept, Spine: path}, flow.Along)
	if !ok {
		t.Fatal("a bar has an axis")
	}
	round, _ := flow.AxisGrain(shape.Fit{Kind: shape.Swept, Spine: path}, flow.Around)
	middle := r3.Scale(1./float64(len(path)), func() (s r3.Vec) {
		for _, p := range path {
			s = r3.Add(s, p)
		}
		return s
	}())
	normal := r3.Unit(r3.Cross(r3.Sub(path[0], middle), r3.Sub(path[1], middle))) // of the plane of the arc
	for f := range mesh.FaceID(bar.NumFaces()) {
		n, c := bar.FaceNormals()[f], bar.FaceCentre(f)
		d, _ := g.At(c, n)
		along := r3.Unit(r3.Cross(normal, c))
		if a := math.Acos(min(1, math.Abs(r3.Dot(d, along)))); a > 0.03 {
			t.Errorf("%g rad off the arc at %v", a, c)
		}
		if e, _ := round.At(c, n); math.Abs(r3.Dot(e, d)) > 0.03 {
			t.Errorf("around is not across along at %v: %g", c, r3.Dot(e, d))
		}
	}
	ring := shape.Fit{Kind: shape.Torus, Axis: r3.Vec{Y: 1}, Major: 1, Radius: 0.2}
	tube, _ := flow.AxisGrain(ring, flow.Along)
	if d, ok := tube.At(r3.Vec{X: 1, Y: 0.2}, r3.Vec{Y: 1}); !ok || math.Abs(math.Abs(d.Z)-1) > 1e-9 {
		t.Errorf("on top of a ring: %v", d)
	}
	if _, ok := flow.AxisGrain(shape.Fit{Kind: shape.Sphere}, flow.Along); ok {
		t.Error("a ball has no axis")
	}
	for _, spine := range [][]r3.Vec{path, {{}, {Z: 1}, {Z: 2}}} {
		if g := flow.DefaultGrain(bar, meshtest.All(bar), shape.Fit{Kind: shape.Swept, Spine: spine}); g.Mode != flow.Along {
			t.Errorf("a bar along %v has the grain %q", spine, g.Mode)
		}
	}
	if g := flow.DefaultGrain(bar, meshtest.All(bar), ring); g.Mode != flow.Around { // its axis is across its tube
		t.Errorf("a ring has the grain %q", g.Mode)
	}
}
