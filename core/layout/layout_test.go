package layout_test

import (
	"context"
	"errors"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/layout"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/proof"
)

// jar is an open wall of n sides, radius 1, height 2 in four rows: what a label goes round.
func jar(t testing.TB, n int) *layout.Document {
	t.Helper()
	const rows = 4
	b := mesh.NewBuilder()
	for r := range rows + 1 {
		for i := range n {
			s, c := math.Sincos(2 * math.Pi * float64(i) / float64(n))
			b.Point(r3.Vec{X: s, Y: 2 * float64(r) / rows, Z: c})
		}
	}
	at := func(r, i int) mesh.PointID { return mesh.PointID(r*n + i%n) }
	for r := range rows {
		for i := range n {
			b.Face(at(r, i), at(r, i+1), at(r+1, i+1), at(r+1, i))
		}
	}
	m, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	return layout.New(m, layout.DefaultSettings())
}

func apply(t testing.TB, d *layout.Document, edits ...layout.Edit) *layout.Document {
	t.Helper()
	for _, e := range edits {
		b, err := layout.Encode(e) // every edit goes through its JSON form
		if err != nil {
			t.Fatal(err)
		}
		if e, err = layout.Decode(b); err != nil {
			t.Fatal(err)
		}
		s, err := e.Apply(context.Background(), d, nil)
		if err != nil {
			t.Fatalf("%s: %v", e.Kind(), err)
		}
		d = d.With(s)
	}
	return d
}

func measure(d *layout.Document) proof.Report { return proof.Measure(d.ProofInput()) }

func TestJarGetsOneOpeningAtTheBack(t *testing.T) {
	d := apply(t, jar(t, 24), &layout.Recognise{}, &layout.Open{})
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
	d := apply(t, jar(t, n), &layout.Recognise{}, &layout.Open{}, &layout.Flatten{}, &layout.Pack{})
	r := measure(d)
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
	d := jar(t, 12)
	_, err := (&layout.Flatten{Faces: []mesh.FaceID{0}}).Apply(context.Background(), d, nil)
	if !errors.Is(err, layout.ErrRefused) {
		t.Errorf("a closed wall gave %v", err)
	}
}

func TestProofFindsWhatIsWrong(t *testing.T) {
	good := apply(t, jar(t, 16), &layout.Recognise{}, &layout.Open{}, &layout.Flatten{}, &layout.Pack{})
	kinds := func(d *layout.Document) map[string]bool {
		out := map[string]bool{}
		for _, f := range measure(d).Findings {
			out[f.Kind] = true
		}
		return out
	}
	if k := kinds(good); len(k) != 0 {
		t.Errorf("a good map has findings %v", k)
	}
	cases := map[string]layout.Edit{
		proof.Mirrored: &layout.Move{Faces: []mesh.FaceID{0}, Flip: true},
		proof.Outside:  &layout.Move{Faces: []mesh.FaceID{0}, Shift: r2.Vec{X: 0.5}},
		proof.Unmapped: &layout.Clear{Faces: []mesh.FaceID{3}},
		proof.OffGrain: &layout.Move{Faces: []mesh.FaceID{0}, TurnDeg: 30, Scale: 0.5},
	}
	for want, e := range cases {
		if k := kinds(apply(t, good, e)); !k[want] {
			t.Errorf("%s is not found, only %v", want, k)
		}
	}
	folded := moved(good, func(q r2.Vec) r2.Vec { return r2.Vec{X: math.Abs(q.X - 0.5), Y: q.Y} })
	if k := kinds(folded); !k[proof.Overlap] || !k[proof.Mirrored] {
		t.Errorf("a folded map has only %v", k)
	}
}

// A map pressed to a line or a point has no area: that is found, as one thing, and its
// stretch has no end.
func TestAMapWithoutAreaIsFound(t *testing.T) {
	good := apply(t, jar(t, 16), &layout.Recognise{}, &layout.Open{}, &layout.Flatten{}, &layout.Pack{})
	for name, press := range map[string]func(r2.Vec) r2.Vec{
		"a line":  func(q r2.Vec) r2.Vec { return r2.Vec{X: 0.5, Y: q.Y} },
		"a point": func(r2.Vec) r2.Vec { return r2.Vec{X: 0.5, Y: 0.5} },
	} {
		flat := moved(good, press)
		r := measure(flat)
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
	d := apply(t, jar(t, 12), &layout.Recognise{}, &layout.Open{}, &layout.Flatten{}, &layout.Pack{})
	var ring []mesh.EdgeID
	for e := range d.Mesh.NumEdges() {
		h := d.Mesh.EdgeHalf(mesh.EdgeID(e))
		if d.Mesh.Points[d.Mesh.From(h)].Y == 1 && d.Mesh.Points[d.Mesh.To(h)].Y == 1 {
			ring = append(ring, mesh.EdgeID(e))
		}
	}
	two := apply(t, d, &layout.Cut{Edges: ring})
	if n := len(measure(two).Shells); n != 2 {
		t.Fatalf("a cut wall is %d shells", n)
	}
	if n := len(measure(apply(t, two, &layout.Close{Edges: ring})).Shells); n != 1 {
		t.Errorf("a closed cut leaves %d shells", n)
	}
	if _, err := (&layout.Cut{Edges: ring}).Apply(context.Background(), two, nil); !errors.Is(err, layout.ErrRefused) {
		t.Errorf("cutting twice gave %v", err)
	}
}

func TestFourQuarterTurnsLeadBack(t *testing.T) {
	d := apply(t, jar(t, 12), &layout.Recognise{}, &layout.Open{}, &layout.Flatten{}, &layout.Pack{})
	turned := d
	for range 4 {
		turned = apply(t, turned, &layout.Move{Faces: []mesh.FaceID{0}, TurnDeg: 90})
	}
	for c, q := range turned.State.Map.UV() {
		if r2.Norm(r2.Sub(q, d.State.Map.At(mesh.HalfedgeID(c)))) > 1e-12 {
			t.Fatalf("corner %d is off by %g", c, r2.Norm(r2.Sub(q, d.State.Map.At(mesh.HalfedgeID(c)))))
		}
	}
}

func TestDecodeRefusesUnknownEdits(t *testing.T) {
	for _, s := range []string{"", "{}", `{"kind":"fly"}`, `{"kind":"cut","params":{"edges":"x"}}`, `{"kind":"cut","params":{"edge":[1]}}`, `{"kind":"settings","params":7}`} {
		if _, err := layout.Decode([]byte(s)); !errors.Is(err, layout.ErrRefused) {
			t.Errorf("%q gave %v", s, err)
		}
	}
}

func FuzzState(f *testing.F) {
	can := jar(f, 4)
	b, err := can.State.MarshalBinary()
	if err != nil {
		f.Fatal(err)
	}
	f.Add(b)
	f.Fuzz(func(t *testing.T, b []byte) {
		if d, err := layout.Restore(can.Mesh, b); err == nil {
			if _, err := d.State.MarshalBinary(); err != nil {
				t.Fatal(err)
			}
		}
		var d layout.Delta
		if d.UnmarshalBinary(b) == nil {
			if s, err := d.Redo(can.State); err == nil {
				_ = s.Fits()
			}
		}
	})
}

// restored is a document as it comes back from the store.
func restored(t *testing.T, d *layout.Document) *layout.Document {
	t.Helper()
	b, err := d.State.MarshalBinary()
	if err != nil {
		t.Fatal(err)
	}
	back, err := layout.Restore(d.Source, b)
	if err != nil {
		t.Fatal(err)
	}
	if left := layout.Diff(d.State, back.State); !left.Empty() {
		t.Errorf("comes back from the store changed: %+v", left)
	}
	return back
}

// moved is a document with all corners of its map somewhere else.
func moved(d *layout.Document, to func(r2.Vec) r2.Vec) *layout.Document {
	tx := d.Begin()
	tx.Map.Transform(meshtest.All(d.Mesh), to)
	return d.With(tx.Done())
}
