package sheetedits_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// boards are flat pieces of the same crooked form: one as it is, one turned, one mirrored, one a
// little longer, one of another form.
func boards(t *testing.T) *document.Document {
	w := meshtest.NewWelder()
	form := []r2.Vec{{}, {X: 3}, {X: 3, Y: 1}, {X: 1, Y: 1}, {X: 1, Y: 2}, {Y: 2}}
	add := func(at float64, to func(r2.Vec) r2.Vec, over bool) {
		var p []mesh.PointID
		for _, q := range form {
			q = to(q)
			p = append(p, w.Point(r3.Vec{X: at + q.X, Z: -q.Y}))
		}
		quads := [][4]int{{0, 1, 2, 3}, {0, 3, 4, 5}}
		for _, q := range quads {
			if over {
				w.Face(p[q[3]], p[q[2]], p[q[1]], p[q[0]])
			} else {
				w.Face(p[q[0]], p[q[1]], p[q[2]], p[q[3]])
			}
		}
	}
	sin, cos := math.Sincos(0.7)
	add(0, func(q r2.Vec) r2.Vec { return q }, false)
	add(10, func(q r2.Vec) r2.Vec { return r2.Vec{X: cos*q.X - sin*q.Y, Y: sin*q.X + cos*q.Y} }, false)
	add(20, func(q r2.Vec) r2.Vec { return r2.Vec{X: -q.X, Y: q.Y} }, true)
	add(30, func(q r2.Vec) r2.Vec { return r2.Vec{X: 1.06 * q.X, Y: q.Y} }, false)
	form = []r2.Vec{{}, {X: 3}, {X: 3, Y: 2}, {X: 1.5, Y: 2}, {X: 1, Y: 2}, {Y: 2}}
	add(40, func(q r2.Vec) r2.Vec { return q }, false)
	d := edittest.Apply(t, document.New(w.Mesh(t), document.DefaultSettings()), &flowedits.Flatten{}, &sheetedits.Pack{})
	if n := len(boxes(d)); n != 5 {
		t.Fatalf("%d shells", n)
	}
	return d
}

func TestShellsAreStackedTurnedAndTurnedOver(t *testing.T) {
	d := boards(t)
	all := firsts(d)
	e := &sheetedits.Stack{Faces: all[:4]}
	p, err := edit.Preview(t.Context(), d, e)
	if err != nil || p.Said != "3 shells on one, 1 turned over, stretched up to ×1.060" {
		t.Fatalf("it says %q, %v", p.Said, err)
	}
	s := edittest.Apply(t, d, e)
	if !same(d, s, all[0], all[4]) {
		t.Error("the lowest one moved")
	}
	r := edittest.Measure(s)
	if r.Totals.OverlapShare != 0 || r.Totals.Mirrored != 0 {
		t.Errorf("a stack counts as overlap %g, %d mirrored", r.Totals.OverlapShare, r.Totals.Mirrored)
	}
	for i := range all[:4] {
		if on := r.Shells[i].StackedOn; (on == nil) != (i == 0) || on != nil && *on != 0 {
			t.Errorf("shell %d lies on %v", i, on)
		}
		if b, low := boxes(s)[i], boxes(s)[0]; r2.Norm(r2.Sub(b.Min, low.Min))+r2.Norm(r2.Sub(b.Max, low.Max)) > 1e-9 {
			t.Errorf("shell %d lies at %v, the lowest at %v", i, b, low)
		}
	}
	// Packing keeps it, moving takes all along, and it needs the place of one.
	packed := edittest.Apply(t, s, &sheetedits.Pack{})
	if got := edittest.Measure(packed); got.Totals.OverlapShare != 0 || got.Totals.MeanDensity < 1.2*edittest.Measure(d).Totals.MeanDensity || got.Shells[3].StackedOn == nil {
		t.Errorf("packed: %+v", got.Totals)
	}
	edittest.Refused(t, d, &sheetedits.Stack{Faces: []mesh.FaceID{all[0], all[4]}}, "is not like")
	edittest.Refused(t, d, &sheetedits.Stack{Faces: all[:1]}, "pick two")
}

func TestStacksAreOffsetByWholeTilesAndTakenApart(t *testing.T) {
	d := boards(t)
	all := firsts(d)
	s := edittest.Apply(t, d, &sheetedits.Stack{Faces: all[:4]})
	off := edittest.Apply(t, s, &sheetedits.OffsetStack{Faces: all[1:2], Tiles: 1})
	for i := range all {
		want := 0.
		if i >= 1 && i < 4 {
			want = 1
		}
		if x := boxes(off)[i].Min.X - boxes(s)[i].Min.X; math.Abs(x-want) > 1e-12 {
			t.Errorf("shell %d went %g tiles", i, x)
		}
	}
	if r := edittest.Measure(off); r.Totals.Outside != 0 || r.Shells[2].StackedOn == nil {
		t.Errorf("offset it is outside with %d faces, a stack: %v", r.Totals.Outside, r.Shells[2].StackedOn)
	}
	moved := edittest.Apply(t, off, &sheetedits.Move{Faces: all[2:3], Shift: r2.Vec{X: 0.01, Y: 0.02}, TurnDeg: 90})
	if b, low := boxes(moved)[1], boxes(moved)[0]; math.Abs(b.Min.X-low.Min.X-1) > 1e-9 || math.Abs(b.Min.Y-low.Min.Y) > 1e-9 {
		t.Errorf("moved, the stack came apart: %v and %v", low, b)
	}
	back := edittest.Apply(t, off, &sheetedits.OffsetStack{Faces: all[1:2]})
	if x := boxes(back)[1].Min.X - boxes(s)[1].Min.X; math.Abs(x) > 1e-12 {
		t.Errorf("back it is %g tiles away", x)
	}
	// One is taken out, facing up again; then all are spread where there is room.
	one := edittest.Apply(t, s, &sheetedits.Unstack{Faces: all[2:3]})
	if b := boxes(one)[2]; b.Max.Y > 0 {
		t.Errorf("taken out it lies at %v", b)
	}
	if r := edittest.Measure(one); r.Totals.Mirrored != 0 || r.Shells[1].StackedOn == nil || r.Shells[2].StackedOn != nil {
		t.Errorf("%d mirrored; stacked on %v and %v", r.Totals.Mirrored, r.Shells[1].StackedOn, r.Shells[2].StackedOn)
	}
	small := edittest.Apply(t, s, &sheetedits.Move{Faces: all, Scale: 0.4, Each: true}, &sheetedits.Unstack{Faces: all[:1], Spread: true})
	r := edittest.Measure(small)
	for i, sh := range r.Shells {
		if sh.StackedOn != nil || boxes(small)[i].Max.Y <= 0 {
			t.Errorf("shell %d: stacked on %v, at %v", i, sh.StackedOn, boxes(small)[i])
		}
	}
	if r.Totals.OverlapShare != 0 || r.Totals.NearestPx() < 8-1e-6 {
		t.Errorf("spread: %+v", r.Totals)
	}
	edittest.Refused(t, d, &sheetedits.Unstack{Faces: all}, "lie in no stack")
	edittest.Refused(t, d, &sheetedits.OffsetStack{Faces: all, Tiles: 1}, "lie in no stack")
	edittest.Refused(t, s, &sheetedits.OffsetStack{Faces: all, Tiles: 99}, "out of reach")
}

// Where repeats are stacked with the mirrored ones, a pair of wings takes the place of one, and comes
// apart again facing up.
func TestMirroredRepeatsAreStackedTurnedOver(t *testing.T) {
	d := edittest.Apply(t, edittest.Wings(t), &partedits.Recognise{}, &flowedits.Flatten{})
	set := d.State.Settings.OnSheet
	set.Repeats = document.StackOver
	s := edittest.Apply(t, d, &sheetedits.SetSheet{OnSheet: set, Pack: true})
	r := edittest.Measure(s)
	above := 0
	for _, sh := range r.Shells {
		if sh.StackedOn != nil {
			above++
		}
	}
	if above != 1 || r.Totals.Mirrored != 0 || r.Totals.OverlapShare != 0 || r.Totals.Unmapped != 0 {
		t.Errorf("%d lie on another; %+v", above, r.Totals)
	}
	set.Repeats = document.Stack
	apart := edittest.Measure(edittest.Apply(t, s, &sheetedits.SetSheet{OnSheet: set, Pack: true}))
	for i, sh := range apart.Shells {
		if sh.StackedOn != nil {
			t.Errorf("shell %d still lies on %d", i, *sh.StackedOn)
		}
	}
	if apart.Totals.Mirrored != 0 || apart.Totals.OverlapShare != 0 {
		t.Errorf("apart: %+v", apart.Totals)
	}
}
