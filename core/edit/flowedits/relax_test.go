package flowedits_test

import (
	"context"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/flatten"
	"morvek/core/lay"
	"morvek/core/mesh"
)

func TestMovedPointsStayAttachedAndRelaxBack(t *testing.T) {
	d := edittest.Hood(t)
	c := edittest.CornerAt(d, r3.Vec{X: 2, Z: -1.5, Y: 0.6})
	was := d.State.Map.At(c)
	moved := edittest.Apply(t, d, &flowedits.Nudge{Corners: []mesh.HalfedgeID{c}, Shift: r2.Vec{X: 0.05, Y: -0.02}, Reach: 1})
	if got := r2.Sub(moved.State.Map.At(c), was); r2.Norm(r2.Sub(got, r2.Vec{X: 0.05, Y: -0.02})) > 1e-9 {
		t.Errorf("moved by %v", got)
	}
	corner := edittest.CornerAt(d, r3.Vec{})
	if moved.State.Map.At(corner) != d.State.Map.At(corner) {
		t.Error("what is out of reach moved as well")
	}
	if edittest.Torn(moved) > 0 || edittest.Measure(moved).Totals.Mirrored > 0 || edittest.Worst(moved) <= edittest.Worst(d) {
		t.Errorf("%d edges torn, %d faces mirrored, stretch %g after %g", edittest.Torn(moved), edittest.Measure(moved).Totals.Mirrored, edittest.Worst(moved), edittest.Worst(d))
	}
	// A move that would turn faces over is shortened.
	far := edittest.Apply(t, d, &flowedits.Nudge{Corners: []mesh.HalfedgeID{c}, Shift: r2.Vec{X: 0.9}})
	if got := far.State.Map.At(c).X - was.X; got <= 0 || got > 0.5 || edittest.Measure(far).Totals.Mirrored > 0 {
		t.Errorf("moved by %g, %d mirrored", got, edittest.Measure(far).Totals.Mirrored)
	}
	border := map[mesh.HalfedgeID]bool{}
	for e := range mesh.EdgeID(d.Mesh.NumEdges()) {
		if h := d.Mesh.EdgeHalf(e); d.Mesh.Twin(h) == mesh.None {
			border[h], border[d.Mesh.Next(h)] = true, true
		}
	}
	for _, method := range []flatten.Method{flatten.ByLength, flatten.Even} {
		relaxed := edittest.Apply(t, far, &flowedits.Relax{Faces: []mesh.FaceID{0}, HoldBorder: true, Method: method})
		for h := range border {
			if relaxed.State.Map.At(h) != far.State.Map.At(h) {
				t.Fatalf("%s: the held border moved", method)
			}
		}
		if edittest.Torn(relaxed) > 0 || edittest.Worst(relaxed) > 1.1*edittest.Worst(d) {
			t.Errorf("%s: %d torn, stretch %g, before the slip %g, after it %g", method, edittest.Torn(relaxed), edittest.Worst(relaxed), edittest.Worst(d), edittest.Worst(far))
		}
		around := edittest.Apply(t, far, &flowedits.Relax{Corners: []mesh.HalfedgeID{c}, Reach: 1.5, Method: method})
		if around.State.Map.At(corner) != far.State.Map.At(corner) || edittest.Worst(around) >= edittest.Worst(far) {
			t.Errorf("%s: around the point: stretch %g after %g", method, edittest.Worst(around), edittest.Worst(far))
		}
		only := edittest.Apply(t, far, &flowedits.Relax{Faces: []mesh.FaceID{0}, Axis: "u", Method: method})
		for h := range only.State.Map.UV() {
			if only.State.Map.At(mesh.HalfedgeID(h)).Y != far.State.Map.At(mesh.HalfedgeID(h)).Y {
				t.Fatalf("%s: along U, V of a corner changed", method)
			}
		}
	}
	edittest.Refused(t, d, &flowedits.Relax{Faces: []mesh.FaceID{0}, Axis: "w"}, "no axis")
	edittest.Refused(t, d, &flowedits.Relax{Faces: []mesh.FaceID{0}, Method: flatten.Conformal}, "by lengths")
	edittest.Refused(t, d, &flowedits.Relax{}, "pick a shell")
}

func TestPinsHoldPointsThroughFlattening(t *testing.T) {
	d := edittest.Hood(t)
	corners := []mesh.HalfedgeID{edittest.CornerAt(d, r3.Vec{}), edittest.CornerAt(d, r3.Vec{X: 4, Z: -3}), edittest.CornerAt(d, r3.Vec{X: 4})}
	d = edittest.Apply(t, d, &flowedits.Nudge{Corners: corners[:1], Shift: r2.Vec{X: 0.03, Y: 0.02}, Reach: 2}, &flowedits.Pin{Corners: corners, Pinned: true})
	if len(d.State.Wishes.Pins) != 3 {
		t.Fatalf("%d pins", len(d.State.Wishes.Pins))
	}
	for _, method := range append([]flatten.Method{""}, flatten.Methods...) {
		now := edittest.Apply(t, d, &flowedits.Flatten{Faces: []mesh.FaceID{0}, Method: method})
		for _, c := range corners {
			if now.State.Map.At(c) != d.State.Map.At(c) {
				t.Errorf("%q: a pinned point moved from %v to %v", method, d.State.Map.At(c), now.State.Map.At(c))
			}
		}
		if edittest.Torn(now) > 0 || edittest.Measure(now).Totals.Mirrored > 0 {
			t.Errorf("%q: %d torn, %d mirrored", method, edittest.Torn(now), edittest.Measure(now).Totals.Mirrored)
		}
	}
	one := edittest.Apply(t, d, &flowedits.Pin{Corners: corners[1:], Pinned: false})
	if len(one.State.Wishes.Pins) != 1 {
		t.Fatalf("%d pins are left", len(one.State.Wishes.Pins))
	}
	now := edittest.Apply(t, one, &flowedits.Flatten{Faces: []mesh.FaceID{0}})
	if now.State.Map.At(corners[0]) != d.State.Map.At(corners[0]) || edittest.Worst(now) > 1.01*edittest.Worst(edittest.Hood(t)) {
		t.Errorf("one pin should only hold the place: stretch %g", edittest.Worst(now))
	}
}

// Stopped after some rounds is the same as it was seen then.
func TestStoppedWhereItWasSeen(t *testing.T) {
	d := edittest.Hood(t)
	type seen struct {
		at int
		uv map[mesh.HalfedgeID]r2.Vec
	}
	var all []seen
	e := &flowedits.Flatten{Faces: []mesh.FaceID{0}, Method: flatten.Even}
	e.Watch(func(f lay.Frame) {
		at := map[mesh.HalfedgeID]r2.Vec{}
		for i, h := range f.Corners {
			at[h] = f.UV[i]
		}
		all = append(all, seen{f.Iteration, at})
	})
	if _, err := e.Apply(context.Background(), d, nil); err != nil {
		t.Fatal(err)
	}
	if len(all) == 0 || all[0].at != 1 {
		t.Fatalf("%d frames", len(all))
	}
	stopped := edittest.Apply(t, d, &flowedits.Flatten{Faces: []mesh.FaceID{0}, Method: flatten.Even, MaxIterations: 1})
	for h, q := range all[0].uv {
		if got := stopped.State.Map.At(h); r2.Norm(r2.Sub(got, q)) > 1e-9 {
			t.Fatalf("a point lies at %v, was seen at %v", got, q)
		}
	}
}

// Faces that went wrong are cleared and flattened into their hole; all else stays to the
// last bit.
func TestFillKeepsWhatLiesAround(t *testing.T) {
	d := edittest.Hood(t)
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
	cleared := edittest.Apply(t, d, &sheetedits.Clear{Faces: hole})
	if n := edittest.Measure(cleared).Totals.Unmapped; n != len(hole) {
		t.Fatalf("%d unmapped of %d", n, len(hole))
	}
	filled := edittest.Apply(t, cleared, &flowedits.Fill{Faces: hole})
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
	r := edittest.Measure(filled)
	if r.Totals.Unmapped+r.Totals.Mirrored > 0 || edittest.Torn(filled) > 0 || len(r.Shells) != 1 || edittest.Worst(filled) > 1.05*edittest.Worst(d) {
		t.Errorf("unmapped %d, mirrored %d, torn %d, %d shells, stretch %g for %g", r.Totals.Unmapped, r.Totals.Mirrored, edittest.Torn(filled), len(r.Shells), edittest.Worst(filled), edittest.Worst(d))
	}
	// At the rim, where the hole is open on one side.
	rim := []mesh.FaceID{0, 1, 2}
	open := edittest.Apply(t, edittest.Apply(t, d, &sheetedits.Clear{Faces: rim}), &flowedits.Fill{Faces: rim})
	if r := edittest.Measure(open); r.Totals.Unmapped+r.Totals.Mirrored > 0 || edittest.Torn(open) > 0 {
		t.Errorf("at the rim: unmapped %d, mirrored %d, torn %d", r.Totals.Unmapped, r.Totals.Mirrored, edittest.Torn(open))
	}
	all := edittest.Apply(t, d, &sheetedits.Clear{})
	edittest.Refused(t, all, &flowedits.Fill{Faces: rim}, "no hole")
}

// Two shells with a pin each become one in which both pins are of one point: the first
// counts, and nothing turns over.
func TestPinsThatMeetInOnePoint(t *testing.T) {
	d := edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 0.5)
	d = edittest.Apply(t, d, &seamedits.Keep{Faces: []mesh.FaceID{0, 2, 3, 4}, Whole: true}, &flowedits.Pin{Corners: []mesh.HalfedgeID{11, 19}, Pinned: true})
	if a, b := d.State.Map.At(11), d.State.Map.At(19); a == b || d.Mesh.From(11) != d.Mesh.From(19) {
		t.Fatalf("the pins lie at %v and %v, of points %d and %d", a, b, d.Mesh.From(11), d.Mesh.From(19))
	}
	now := edittest.Apply(t, d, &seamedits.Dial{})
	if r := edittest.Measure(now); r.Totals.Mirrored > 0 || now.State.Map.At(11) != now.State.Map.At(19) {
		t.Errorf("%d faces are mirrored, the pins lie at %v and %v", r.Totals.Mirrored, now.State.Map.At(11), now.State.Map.At(19))
	}
}
