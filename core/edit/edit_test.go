package edit_test

import (
	"context"
	"errors"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/mapedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/core/proof"
)

func TestJarGetsOneOpeningAtTheBack(t *testing.T) {
	d := edittest.Apply(t, edittest.Jar(t, 24), &partedits.Recognise{}, &seamedits.Open{})
	if len(d.State.Parts) != 1 {
		t.Fatalf("%d parts", len(d.State.Parts))
	}
	opening := 0
	for e, cut := range d.State.Map.Cuts() {
		h := d.Mesh.EdgeHalf(mesh.EdgeID(e))
		if !cut || d.Mesh.Twin(h) == mesh.None {
			continue
		}
		opening++
		a, b := d.Mesh.Points[d.Mesh.From(h)], d.Mesh.Points[d.Mesh.To(h)]
		if math.Abs(a.X-b.X) > 1e-9 || math.Abs(a.Z-b.Z) > 1e-9 {
			t.Errorf("the opening leaves its ruling: %v to %v", a, b)
		}
		if a.Z > -0.7 {
			t.Errorf("the opening is not at the back: %v", a)
		}
	}
	if opening != 4 {
		t.Errorf("the opening has %d edges, want 4", opening)
	}
}

func TestJarBecomesARectangle(t *testing.T) {
	const n = 24
	d := edittest.Apply(t, edittest.Jar(t, n), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{}, &sheetedits.Pack{})
	r := edittest.Measure(d)
	if len(r.Shells) != 1 || !r.Acceptable() {
		t.Fatalf("%d shells, %+v", len(r.Shells), r.Totals)
	}
	s := r.Shells[0]
	if math.Abs(s.L2-1) > 1e-9 || math.Abs(s.AngularP95-1) > 1e-6 || s.Straight < 1-1e-9 || s.GrainErrDeg > 1e-6 {
		t.Errorf("L2 %g, angular %g, straight %g, grain %g°", s.L2, s.AngularP95, s.Straight, s.GrainErrDeg)
	}
	lo, hi := r2.Vec{X: 9, Y: 9}, r2.Vec{X: -9, Y: -9}
	for _, q := range d.State.Map.UV() {
		lo = r2.Vec{X: min(lo.X, q.X), Y: min(lo.Y, q.Y)}
		hi = r2.Vec{X: max(hi.X, q.X), Y: max(hi.Y, q.Y)}
	}
	want := n * 2 * math.Sin(math.Pi/n) / 2 // chords round by height
	if got := (hi.X - lo.X) / (hi.Y - lo.Y); math.Abs(got-want) > 1e-6 {
		t.Errorf("width by height %g, want %g", got, want)
	}
	// Up is up: V grows with Y.
	var up float64
	for c, p := range d.Mesh.CornerPoint {
		up += (d.State.Map.At(mesh.HalfedgeID(c)).Y - lo.Y) * (d.Mesh.Points[p].Y - 1)
	}
	if up <= 0 {
		t.Error("the jar stands on its head on the sheet")
	}
}

func TestClosedWallIsNotFlattened(t *testing.T) {
	d := edittest.Jar(t, 12)
	_, err := (&flowedits.Flatten{Faces: []mesh.FaceID{0}}).Apply(context.Background(), d, nil)
	if !errors.Is(err, document.ErrRefused) {
		t.Errorf("a closed wall gave %v", err)
	}
}

func TestProofFindsWhatIsWrong(t *testing.T) {
	good := edittest.Apply(t, edittest.Jar(t, 16), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{}, &sheetedits.Pack{})
	kinds := func(d *document.Document) map[string]bool {
		out := map[string]bool{}
		for _, f := range edittest.Measure(d).Findings {
			out[f.Kind] = true
		}
		return out
	}
	if k := kinds(good); len(k) != 0 {
		t.Errorf("a good map has findings %v", k)
	}
	cases := map[string]edit.Edit{
		proof.Mirrored: &sheetedits.Move{Faces: []mesh.FaceID{0}, Flip: true},
		proof.Outside:  &sheetedits.Move{Faces: []mesh.FaceID{0}, Shift: r2.Vec{X: 0.5}},
		proof.Unmapped: &sheetedits.Clear{Faces: []mesh.FaceID{3}},
		proof.OffGrain: &sheetedits.Move{Faces: []mesh.FaceID{0}, TurnDeg: 30, Scale: 0.5},
	}
	for want, e := range cases {
		if k := kinds(edittest.Apply(t, good, e)); !k[want] {
			t.Errorf("%s is not found, only %v", want, k)
		}
	}
	folded := edittest.Moved(good, func(q r2.Vec) r2.Vec { return r2.Vec{X: math.Abs(q.X - 0.5), Y: q.Y} })
	if k := kinds(folded); !k[proof.Overlap] || !k[proof.Mirrored] {
		t.Errorf("a folded map has only %v", k)
	}
}

// A map pressed to a line or a point has no area: that is found, as one thing, and its
// stretch has no end.
func TestAMapWithoutAreaIsFound(t *testing.T) {
	good := edittest.Apply(t, edittest.Jar(t, 16), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{}, &sheetedits.Pack{})
	for name, press := range map[string]func(r2.Vec) r2.Vec{
		"a line":  func(q r2.Vec) r2.Vec { return r2.Vec{X: 0.5, Y: q.Y} },
		"a point": func(r2.Vec) r2.Vec { return r2.Vec{X: 0.5, Y: 0.5} },
	} {
		flat := edittest.Moved(good, press)
		r := edittest.Measure(flat)
		if r.Totals.NoArea != flat.Mesh.NumFaces() || r.Acceptable() || r.Totals.AngularP95 != proof.Endless || r.Totals.L2 != proof.Endless {
			t.Errorf("%s: without area %d of %d, angular %g, L2 %g", name, r.Totals.NoArea, flat.Mesh.NumFaces(), r.Totals.AngularP95, r.Totals.L2)
		}
		for _, f := range r.Findings {
			if f.Kind == proof.Density || f.Kind == proof.Mirrored {
				t.Errorf("%s: also found %s", name, f.Kind)
			}
		}
	}
}

func TestCutAndCloseGoBothWays(t *testing.T) {
	d := edittest.Apply(t, edittest.Jar(t, 12), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{}, &sheetedits.Pack{})
	var ring []mesh.EdgeID
	for e := range d.Mesh.NumEdges() {
		h := d.Mesh.EdgeHalf(mesh.EdgeID(e))
		if d.Mesh.Points[d.Mesh.From(h)].Y == 1 && d.Mesh.Points[d.Mesh.To(h)].Y == 1 {
			ring = append(ring, mesh.EdgeID(e))
		}
	}
	two := edittest.Apply(t, d, &seamedits.Cut{Edges: ring})
	if n := len(edittest.Measure(two).Shells); n != 2 {
		t.Fatalf("a cut wall is %d shells", n)
	}
	if n := len(edittest.Measure(edittest.Apply(t, two, &seamedits.Close{Edges: ring})).Shells); n != 1 {
		t.Errorf("a closed cut leaves %d shells", n)
	}
	if _, err := (&seamedits.Cut{Edges: ring}).Apply(context.Background(), two, nil); !errors.Is(err, document.ErrRefused) {
		t.Errorf("cutting twice gave %v", err)
	}
}

func TestFourQuarterTurnsLeadBack(t *testing.T) {
	d := edittest.Apply(t, edittest.Jar(t, 12), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{}, &sheetedits.Pack{})
	turned := d
	for range 4 {
		turned = edittest.Apply(t, turned, &sheetedits.Move{Faces: []mesh.FaceID{0}, TurnDeg: 90})
	}
	for c, q := range turned.State.Map.UV() {
		if r2.Norm(r2.Sub(q, d.State.Map.At(mesh.HalfedgeID(c)))) > 1e-12 {
			t.Fatalf("corner %d is off by %g", c, r2.Norm(r2.Sub(q, d.State.Map.At(mesh.HalfedgeID(c)))))
		}
	}
}

func TestDecodeRefusesUnknownEdits(t *testing.T) {
	for _, s := range []string{"", "{}", `{"kind":"fly"}`, `{"kind":"cut","params":{"edges":"x"}}`, `{"kind":"cut","params":{"edge":[1]}}`, `{"kind":"settings","params":7}`} {
		if _, err := edit.Decode([]byte(s)); !errors.Is(err, document.ErrRefused) {
			t.Errorf("%q gave %v", s, err)
		}
	}
}

func FuzzState(f *testing.F) {
	can := edittest.Jar(f, 4)
	b, err := can.State.MarshalBinary()
	if err != nil {
		f.Fatal(err)
	}
	f.Add(b)
	two := edittest.Apply(f, can, &mapedits.Make{Name: "Boards", Purpose: document.Tiling, All: true})
	for _, d := range []*document.Document{two, edittest.Apply(f, two, &mapedits.Set{Name: "Paint", Purpose: document.Unique})} {
		whole, err := d.State.MarshalBinary()
		if err != nil {
			f.Fatal(err)
		}
		delta, err := document.Diff(can.State, d.State).MarshalBinary()
		if err != nil {
			f.Fatal(err)
		}
		f.Add(whole)
		f.Add(delta)
	}
	f.Fuzz(func(t *testing.T, b []byte) {
		if d, err := document.Restore(can.Mesh, b); err == nil {
			if _, err := d.State.MarshalBinary(); err != nil {
				t.Fatal(err)
			}
		}
		var d document.Delta
		if d.UnmarshalBinary(b) == nil {
			if s, err := d.Redo(can.State); err == nil {
				_ = s.Fits()
			}
		}
	})
}
