package sheetedits_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/edit/edittest"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/core/planar"
)

// boxes are those of all shells, in order of their first face.
func boxes(d *document.Document) (out []planar.Box) {
	shells, _ := d.State.Map.Shells()
	for _, sh := range shells {
		out = append(out, d.State.Map.Box(sh.Faces))
	}
	return out
}

// firsts is a face of each shell.
func firsts(d *document.Document) (out []mesh.FaceID) {
	shells, _ := d.State.Map.Shells()
	for _, sh := range shells {
		out = append(out, sh.Faces[0])
	}
	return out
}

// scattered is a block of six shells, in places that have nothing to do with each other.
func scattered(t *testing.T) *document.Document {
	d := edittest.Apply(t, edittest.Box(t, "180"), &sheetedits.Set{Settings: document.DefaultSettings()})
	for i, f := range firsts(d) {
		x := float64(i)
		d = edittest.Apply(t, d, &sheetedits.Move{Faces: []mesh.FaceID{f}, Scale: 0.3 + 0.02*x, Shift: r2.Vec{X: 0.07 * math.Sin(5*x), Y: 0.09 * math.Cos(3*x)}})
	}
	if n := len(boxes(d)); n != 6 {
		t.Fatalf("%d shells", n)
	}
	return d
}

func TestAlignedShellsShareASide(t *testing.T) {
	d := scattered(t)
	was := boxes(d)
	side := map[sheetedits.Side]func(planar.Box) float64{
		sheetedits.Left: func(b planar.Box) float64 { return b.Min.X }, sheetedits.Right: func(b planar.Box) float64 { return b.Max.X },
		sheetedits.Bottom: func(b planar.Box) float64 { return b.Min.Y }, sheetedits.Top: func(b planar.Box) float64 { return b.Max.Y },
		sheetedits.MiddleU: func(b planar.Box) float64 { return b.Middle().X }, sheetedits.MiddleV: func(b planar.Box) float64 { return b.Middle().Y },
	}
	for by, at := range side {
		got := boxes(edittest.Apply(t, d, &sheetedits.Align{Faces: firsts(d), By: by}))
		level := by == sheetedits.Bottom || by == sheetedits.Top || by == sheetedits.MiddleV
		for i, b := range got {
			if math.Abs(at(b)-at(got[0])) > 1e-12 {
				t.Errorf("%s: shell %d at %g, the first at %g", by, i, at(b), at(got[0]))
			}
			moved := r2.Sub(b.Min, was[i].Min)
			if across := moved.X; level && across != 0 || !level && moved.Y != 0 {
				t.Errorf("%s: shell %d went %v", by, i, moved)
			}
		}
	}
	// One alone goes to the border, less the margin.
	one := edittest.Apply(t, d, &sheetedits.Align{Faces: firsts(d)[:1], By: sheetedits.Right})
	if x, want := boxes(one)[0].Max.X, 1-8./2048; math.Abs(x-want) > 1e-12 {
		t.Errorf("alone it ends at %g, want %g", x, want)
	}
	edittest.Refused(t, d, &sheetedits.Align{Faces: firsts(d), By: "askew"}, "askew")
	edittest.Refused(t, d, &sheetedits.Align{By: sheetedits.Left}, "no shell is picked")
}

func TestDistributedShellsHaveEqualGaps(t *testing.T) {
	d := scattered(t)
	gaps := func(d *document.Document, from, to func(planar.Box) float64) (least, most float64) {
		b := boxes(d)
		least, most = math.Inf(1), math.Inf(-1)
		for i := range b { // the next in the row has the nearest middle
			next, near := -1, math.Inf(1)
			for k := range b {
				if away := from(b[k]) + to(b[k]) - from(b[i]) - to(b[i]); k != i && away > 0 && away < near {
					next, near = k, away
				}
			}
			if next >= 0 {
				least, most = min(least, from(b[next])-to(b[i])), max(most, from(b[next])-to(b[i]))
			}
		}
		return least, most
	}
	left, right := func(b planar.Box) float64 { return b.Min.X }, func(b planar.Box) float64 { return b.Max.X }
	low, high := func(b planar.Box) float64 { return b.Min.Y }, func(b planar.Box) float64 { return b.Max.Y }
	even := edittest.Apply(t, d, &sheetedits.Distribute{Faces: firsts(d), Along: "u"})
	if least, most := gaps(even, left, right); most-least > 1e-9 {
		t.Errorf("gaps from %g to %g", least, most)
	}
	gap := 24.
	row := edittest.Apply(t, d, &sheetedits.Distribute{Faces: firsts(d), Along: "v", GapPx: &gap})
	if least, most := gaps(row, low, high); math.Abs(least-gap/2048) > 1e-9 || math.Abs(most-gap/2048) > 1e-9 {
		t.Errorf("gaps from %g to %g px, want %g", 2048*least, 2048*most, gap)
	}
	for i, b := range boxes(row) {
		if b.Min.X != boxes(d)[i].Min.X {
			t.Errorf("shell %d went aside", i)
		}
	}
	edittest.Refused(t, d, &sheetedits.Distribute{Faces: firsts(d)[:2], Along: "u"}, "pick 3 shells")
	edittest.Refused(t, d, &sheetedits.Distribute{Faces: firsts(d)[:1], Along: "u", GapPx: &gap}, "pick 2 shells")
	edittest.Refused(t, d, &sheetedits.Distribute{Faces: firsts(d)}, "u or v")
}

func TestShellsFitIntoARectangleWithTheirProportions(t *testing.T) {
	d := scattered(t)
	into := planar.Box{Min: r2.Vec{X: 0.1, Y: 0.6}, Max: r2.Vec{X: 0.5, Y: 0.9}}
	fitted := edittest.Apply(t, d, &sheetedits.FitInto{Faces: firsts(d), Box: &into})
	around := func(list []planar.Box) planar.Box {
		b := list[0]
		for _, c := range list {
			b = planar.Bounds(b.Min, b.Max, c.Min, c.Max)
		}
		return b
	}
	was, is := around(boxes(d)), around(boxes(fitted))
	if math.Abs(is.Size().X/is.Size().Y-was.Size().X/was.Size().Y) > 1e-9 || r2.Norm(r2.Sub(is.Middle(), into.Middle())) > 1e-9 {
		t.Errorf("%v became %v", was, is)
	}
	if x, y := into.Size().X-is.Size().X, into.Size().Y-is.Size().Y; math.Min(x, y) > 1e-9 || math.Min(x, y) < -1e-9 {
		t.Errorf("%v does not touch the rectangle %v", is, into)
	}
	whole := around(boxes(edittest.Apply(t, d, &sheetedits.FitInto{Faces: firsts(d)})))
	if m := 8. / 2048; math.Abs(max(whole.Size().X, whole.Size().Y)-(1-2*m)) > 1e-9 {
		t.Errorf("on the whole sheet it is %v", whole)
	}
	into.Max = into.Min
	edittest.Refused(t, d, &sheetedits.FitInto{Faces: firsts(d), Box: &into}, "draw a larger one")
}

func TestShellsComeToLieOnWholePixels(t *testing.T) {
	d := scattered(t)
	for _, step := range []float64{0, 64} {
		on := edittest.Apply(t, d, &sheetedits.ToRaster{Faces: firsts(d), StepPx: step})
		step = max(step, 1)
		for i, b := range boxes(on) {
			for _, x := range []float64{b.Min.X, b.Min.Y} {
				if n := x * 2048 / step; math.Abs(n-math.Round(n)) > 1e-6 {
					t.Errorf("shell %d lies at %g steps of %g px", i, n, step)
				}
			}
			if far := r2.Norm(r2.Sub(b.Min, boxes(d)[i].Min)); far*2048 > 0.71*step {
				t.Errorf("shell %d went %g px for steps of %g", i, far*2048, step)
			}
		}
	}
	edittest.Refused(t, d, &sheetedits.ToRaster{Faces: firsts(d), StepPx: -3}, "-3 px")
}

// Shells come to the end of the rack, apart from each other and from those that wait.
func TestShellsGoToTheRackInOrder(t *testing.T) {
	d := scattered(t)
	all := firsts(d)
	d = edittest.Apply(t, d, &sheetedits.ToRack{Faces: all[2:3]})
	waits := boxes(d)[2]
	d = edittest.Apply(t, d, &sheetedits.ToRack{Faces: []mesh.FaceID{all[4], all[0]}})
	b := boxes(d)
	if b[2] != waits {
		t.Errorf("what waits went from %v to %v", waits, b[2])
	}
	for i, q := range b {
		if racked := q.Max.Y < 0; racked != (i == 0 || i == 2 || i == 4) {
			t.Errorf("shell %d lies at %v", i, q)
		}
	}
	if !(b[4].Max.X < b[0].Min.X || b[4].Min.Y > b[0].Max.Y) || b[4].Max.Y > waits.Min.Y {
		t.Errorf("%v, then %v and %v: out of order", waits, b[4], b[0])
	}
	if r := edittest.Measure(d); r.Totals.OverlapShare != 0 {
		t.Errorf("overlap %g", r.Totals.OverlapShare)
	}
}

// Each turns about its own middle or all about one; stretched shells say so.
func TestSeveralShellsMoveTogetherOrEachAlone(t *testing.T) {
	d := scattered(t)
	all := firsts(d)
	was := boxes(d)
	each := boxes(edittest.Apply(t, d, &sheetedits.Move{Faces: all, TurnDeg: 90, Each: true}))
	for i, b := range each {
		if r2.Norm(r2.Sub(b.Middle(), was[i].Middle())) > 1e-12 || math.Abs(b.Size().X-was[i].Size().Y) > 1e-12 {
			t.Errorf("shell %d went from %v to %v", i, was[i], b)
		}
	}
	together := boxes(edittest.Apply(t, d, &sheetedits.Move{Faces: all, TurnDeg: 180}))
	for i := range all {
		for k := range all {
			a, b := r2.Sub(was[i].Middle(), was[k].Middle()), r2.Sub(together[k].Middle(), together[i].Middle())
			if r2.Norm(r2.Sub(a, b)) > 1e-12 {
				t.Errorf("shells %d and %d were %v apart, turned %v", i, k, a, b)
			}
		}
	}
	wide := edittest.Apply(t, d, &sheetedits.Move{Faces: all[:1], Scale: 1.5, ScaleV: 1, Each: true})
	if size := boxes(wide)[0].Size(); math.Abs(size.X-1.5*was[0].Size().X) > 1e-12 || math.Abs(size.Y-was[0].Size().Y) > 1e-12 {
		t.Errorf("stretched from %v to %v", was[0].Size(), size)
	}
	if a := edittest.Measure(wide).Shells[0].AngularP95; math.Abs(a-1.5) > 1e-6 {
		t.Errorf("the stretch is said to be %g", a)
	}
	edittest.Refused(t, d, &sheetedits.Move{Faces: all, Scale: 1, ScaleV: -2}, "nowhere")
}
