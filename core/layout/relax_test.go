package layout_test

import (
	"context"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flatten"
	"morvek/core/layout"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// hood is a bulging panel, flattened and packed.
func hood(t testing.TB) *layout.Document {
	m := meshtest.Grid(t, 12, 9, func(u, v float64) r3.Vec {
		return r3.Vec{X: 4 * u, Z: -3 * v, Y: 0.6 * math.Sin(math.Pi*u) * math.Sin(math.Pi*v)}
	})
	return apply(t, layout.New(m, layout.DefaultSettings()), &layout.Flatten{}, &layout.Pack{})
}

// cornerAt returns a corner of the point nearest to a place in space.
func cornerAt(d *layout.Document, p r3.Vec) mesh.HalfedgeID {
	best := mesh.HalfedgeID(0)
	for c := range mesh.HalfedgeID(d.Mesh.NumCorners()) {
		if r3.Norm(r3.Sub(d.Mesh.Points[d.Mesh.From(c)], p)) < r3.Norm(r3.Sub(d.Mesh.Points[d.Mesh.From(best)], p)) {
			best = c
		}
	}
	return best
}

// torn counts edges that are apart on the sheet without a cut.
func torn(d *layout.Document) (n int) {
	for e := range mesh.EdgeID(d.Mesh.NumEdges()) {
		if _, b := d.Mesh.EdgeFaces(e); b != mesh.None && !d.State.Map.IsCut(e) && d.State.Map.Torn(e) {
			n++
		}
	}
	return n
}

func worst(d *layout.Document) float64 { return measure(d).Shells[0].Linf }

func TestMovedPointsStayAttachedAndRelaxBack(t *testing.T) {
	d := hood(t)
	c := cornerAt(d, r3.Vec{X: 2, Z: -1.5, Y: 0.6})
	was := d.State.Map.At(c)
	moved := apply(t, d, &layout.Nudge{Corners: []mesh.HalfedgeID{c}, Shift: r2.Vec{X: 0.05, Y: -0.02}, Reach: 1})
	if got := r2.Sub(moved.State.Map.At(c), was); r2.Norm(r2.Sub(got, r2.Vec{X: 0.05, Y: -0.02})) > 1e-9 {
		t.Errorf("moved by %v", got)
	}
	corner := cornerAt(d, r3.Vec{})
	if moved.State.Map.At(corner) != d.State.Map.At(corner) {
		t.Error("what is out of reach moved as well")
	}
	if torn(moved) > 0 || measure(moved).Totals.Mirrored > 0 || worst(moved) <= worst(d) {
		t.Errorf("%d edges torn, %d faces mirrored, stretch %g after %g", torn(moved), measure(moved).Totals.Mirrored, worst(moved), worst(d))
	}
	// A move that would turn faces over is shortened.
	far := apply(t, d, &layout.Nudge{Corners: []mesh.HalfedgeID{c}, Shift: r2.Vec{X: 0.9}})
	if got := far.State.Map.At(c).X - was.X; got <= 0 || got > 0.5 || measure(far).Totals.Mirrored > 0 {
		t.Errorf("moved by %g, %d mirrored", got, measure(far).Totals.Mirrored)
	}
	border := map[mesh.HalfedgeID]bool{}
	for e := range mesh.EdgeID(d.Mesh.NumEdges()) {
		if h := d.Mesh.EdgeHalf(e); d.Mesh.Twin(h) == mesh.None {
			border[h], border[d.Mesh.Next(h)] = true, true
		}
	}
	for _, method := range []flatten.Method{flatten.ByLength, flatten.Even} {
		relaxed := apply(t, far, &layout.Relax{Faces: []mesh.FaceID{0}, HoldBorder: true, Method: method})
		for h := range border {
			if relaxed.State.Map.At(h) != far.State.Map.At(h) {
				t.Fatalf("%s: the held border moved", method)
			}
		}
		if torn(relaxed) > 0 || worst(relaxed) > 1.1*worst(d) {
			t.Errorf("%s: %d torn, stretch %g, before the slip %g, after it %g", method, torn(relaxed), worst(relaxed), worst(d), worst(far))
		}
		around := apply(t, far, &layout.Relax{Corners: []mesh.HalfedgeID{c}, Reach: 1.5, Method: method})
		if around.State.Map.At(corner) != far.State.Map.At(corner) || worst(around) >= worst(far) {
			t.Errorf("%s: around the point: stretch %g after %g", method, worst(around), worst(far))
		}
		only := apply(t, far, &layout.Relax{Faces: []mesh.FaceID{0}, Axis: "u", Method: method})
		for h := range only.State.Map.UV() {
			if only.State.Map.At(mesh.HalfedgeID(h)).Y != far.State.Map.At(mesh.HalfedgeID(h)).Y {
				t.Fatalf("%s: along U, V of a corner changed", method)
			}
		}
	}
	refused(t, d, &layout.Relax{Faces: []mesh.FaceID{0}, Axis: "w"}, "no axis")
	refused(t, d, &layout.Relax{Faces: []mesh.FaceID{0}, Method: flatten.Conformal}, "by lengths")
	refused(t, d, &layout.Relax{}, "pick a shell")
}

func TestPinsHoldPointsThroughFlattening(t *testing.T) {
	d := hood(t)
	corners := []mesh.HalfedgeID{cornerAt(d, r3.Vec{}), cornerAt(d, r3.Vec{X: 4, Z: -3}), cornerAt(d, r3.Vec{X: 4})}
	d = apply(t, d, &layout.Nudge{Corners: corners[:1], Shift: r2.Vec{X: 0.03, Y: 0.02}, Reach: 2}, &layout.Pin{Corners: corners, Pinned: true})
	if len(d.State.Wishes.Pins) != 3 {
		t.Fatalf("%d pins", len(d.State.Wishes.Pins))
	}
	for _, method := range append([]flatten.Method{""}, flatten.Methods...) {
		now := apply(t, d, &layout.Flatten{Faces: []mesh.FaceID{0}, Method: method})
		for _, c := range corners {
			if now.State.Map.At(c) != d.State.Map.At(c) {
				t.Errorf("%q: a pinned point moved from %v to %v", method, d.State.Map.At(c), now.State.Map.At(c))
			}
		}
		if torn(now) > 0 || measure(now).Totals.Mirrored > 0 {
			t.Errorf("%q: %d torn, %d mirrored", method, torn(now), measure(now).Totals.Mirrored)
		}
	}
	one := apply(t, d, &layout.Pin{Corners: corners[1:], Pinned: false})
	if len(one.State.Wishes.Pins) != 1 {
		t.Fatalf("%d pins are left", len(one.State.Wishes.Pins))
	}
	now := apply(t, one, &layout.Flatten{Faces: []mesh.FaceID{0}})
	if now.State.Map.At(corners[0]) != d.State.Map.At(corners[0]) || worst(now) > 1.01*worst(hood(t)) {
		t.Errorf("one pin should only hold the place: stretch %g", worst(now))
	}
}

// Stopped after some rounds is the same as it was seen then.
func TestStoppedWhereItWasSeen(t *testing.T) {
	d := hood(t)
	type seen struct {
		at int
		uv []r2.Vec
	}
	var all []seen
	e := &layout.Flatten{Faces: []mesh.FaceID{0}, Method: flatten.Even}
	e.Watch(func(f layout.Frame) {
		all = append(all, seen{f.Iteration, append([]r2.Vec(nil), f.UV...)})
	})
	if _, err := e.Apply(context.Background(), d, nil); err != nil {
		t.Fatal(err)
	}
	if len(all) == 0 || all[0].at != 1 {
		t.Fatalf("%d frames", len(all))
	}
	stopped := apply(t, d, &layout.Flatten{Faces: []mesh.FaceID{0}, Method: flatten.Even, MaxIterations: 1})
	p := meshtest.Whole(d.Mesh)
	got := stopped.State.Map.Get(p)
	for v := range got {
		if r2.Norm(r2.Sub(got[v], all[0].uv[v])) > 1e-9 {
			t.Fatalf("a point lies at %v, was seen at %v", got[v], all[0].uv[v])
		}
	}
}

// Faces that went wrong are cleared and flattened into their hole; all else stays to the
// last bit.
func TestFillKeepsWhatLiesAround(t *testing.T) {
	d := hood(t)
	var hole []mesh.FaceID
	for f := range mesh.FaceID(d.Mesh.NumFaces()) {
		if c := d.Mesh.FaceCentre(f); math.Abs(c.X-2) < 0.6 && math.Abs(c.Z+1.5) < 0.6 {
			hole = append(hole, f)
		}
	}
	in := map[mesh.FaceID]bool{}
	for _, f := range hole {
		in[f] = true
	}
	cleared := apply(t, d, &layout.Clear{Faces: hole})
	if n := measure(cleared).Totals.Unmapped; n != len(hole) {
		t.Fatalf("%d unmapped of %d", n, len(hole))
	}
	filled := apply(t, cleared, &layout.Fill{Faces: hole})
	moved := 0
	for c := range d.State.Map.UV() {
		if in[d.Mesh.FaceOf(mesh.HalfedgeID(c))] {
			if filled.State.Map.At(mesh.HalfedgeID(c)) != d.State.Map.At(mesh.HalfedgeID(c)) {
				moved++
			}
		} else if filled.State.Map.At(mesh.HalfedgeID(c)) != d.State.Map.At(mesh.HalfedgeID(c)) {
			t.Fatal("a neighbour moved")
		}
	}
	r := measure(filled)
	if r.Totals.Unmapped+r.Totals.Mirrored > 0 || torn(filled) > 0 || len(r.Shells) != 1 || worst(filled) > 1.05*worst(d) {
		t.Errorf("unmapped %d, mirrored %d, torn %d, %d shells, stretch %g for %g", r.Totals.Unmapped, r.Totals.Mirrored, torn(filled), len(r.Shells), worst(filled), worst(d))
	}
	// At the rim, where the hole is open on one side.
	rim := []mesh.FaceID{0, 1, 2}
	open := apply(t, apply(t, d, &layout.Clear{Faces: rim}), &layout.Fill{Faces: rim})
	if r := measure(open); r.Totals.Unmapped+r.Totals.Mirrored > 0 || torn(open) > 0 {
		t.Errorf("at the rim: unmapped %d, mirrored %d, torn %d", r.Totals.Unmapped, r.Totals.Mirrored, torn(open))
	}
	all := apply(t, d, &layout.Clear{})
	refused(t, all, &layout.Fill{Faces: rim}, "no hole")
}

// Two shells with a pin each become one in which both pins are of one point: the first
// counts, and nothing turns over.
func TestPinsThatMeetInOnePoint(t *testing.T) {
	d := attached(t, cuboid(t, 3, 1, 2), 0.5)
	d = apply(t, d, &layout.Keep{Faces: []mesh.FaceID{0, 2, 3, 4}, Whole: true}, &layout.Pin{Corners: []mesh.HalfedgeID{11, 19}, Pinned: true})
	if a, b := d.State.Map.At(11), d.State.Map.At(19); a == b || d.Mesh.From(11) != d.Mesh.From(19) {
		t.Fatalf("the pins lie at %v and %v, of points %d and %d", a, b, d.Mesh.From(11), d.Mesh.From(19))
	}
	now := apply(t, d, &layout.Dial{})
	if r := measure(now); r.Totals.Mirrored > 0 || now.State.Map.At(11) != now.State.Map.At(19) {
		t.Errorf("%d faces are mirrored, the pins lie at %v and %v", r.Totals.Mirrored, now.State.Map.At(11), now.State.Map.At(19))
	}
}
