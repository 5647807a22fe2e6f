package sheetedits_test

import (
	"context"
	"math"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/atlas"
	"morvek/core/document"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/planar"
	"morvek/core/segment"
)

// board adds a rectangle of quads, from a corner along two sides.
func board(w *meshtest.Welder, from, along, across r3.Vec, nx, ny int) {
	at := func(i, j int) mesh.PointID {
		return w.Point(r3.Add(from, r3.Add(r3.Scale(float64(i)/float64(nx), along), r3.Scale(float64(j)/float64(ny), across))))
	}
	for i := range nx {
		for j := range ny {
			w.Face(at(i, j), at(i+1, j), at(i+1, j+1), at(i, j+1))
		}
	}
}

// beltAndBoards is a strip 60 long and 1 wide with boards of 4 by 3 beside it.
func beltAndBoards(t *testing.T, boards int) *document.Document {
	w := meshtest.NewWelder()
	board(w, r3.Vec{}, r3.Vec{X: 60}, r3.Vec{Z: -1}, 60, 1)
	for k := range boards {
		board(w, r3.Vec{X: 6 * float64(k), Z: -3}, r3.Vec{X: 4}, r3.Vec{Z: -3}, 4, 3)
	}
	return document.New(w.Mesh(t), document.DefaultSettings())
}

// One strip rules the sheet; divided, everything is sharper, and nothing is stretched,
// turned over or moved off its grain.
func TestLanesFreeTheSheet(t *testing.T) {
	d := edittest.Apply(t, beltAndBoards(t, 9), &partedits.Recognise{}, &flowedits.Flatten{})
	whole := edittest.Apply(t, d, &sheetedits.Pack{})
	lanes := edittest.Apply(t, d, &sheetedits.Lanes{}, &sheetedits.Pack{})
	if a, b := edittest.Coverage(whole), edittest.Coverage(lanes); b < 3*a {
		t.Errorf("coverage %.3f before and %.3f after", a, b)
	}
	if n := edittest.ShellCount(lanes) - edittest.ShellCount(whole); n < 2 || n > 8 {
		t.Errorf("%d more pieces", n)
	}
	q := edittest.Measure(lanes)
	if q.Totals.L2 > 1+1e-9 || q.Totals.Mirrored+q.Totals.Outside+q.Totals.Unmapped > 0 || q.Totals.OverlapShare > 0 || q.Totals.GrainOverDeg > 0.1 {
		t.Errorf("%+v", q.Totals)
	}
	for e, cut := range lanes.State.Map.Cuts() { // cuts go straight across
		if v := d.Mesh.EdgeVec(d.Mesh.EdgeHalf(mesh.EdgeID(e))); cut && !d.State.Map.IsCut(mesh.EdgeID(e)) && math.Abs(v.X) > 1e-9 {
			t.Errorf("edge %d, which runs along, is cut", e)
		}
	}
	// What is whole stays whole, and where nothing rules there is nothing to do.
	held := edittest.Apply(t, d, &seamedits.Keep{Faces: edittest.Strip(d), Whole: true})
	edittest.Refused(t, held, &sheetedits.Lanes{}, "no shell rules")
	edittest.Refused(t, lanes, &sheetedits.Lanes{}, "no shell rules")
	tx := d.Begin()
	tx.Settings.Undivided = true
	edittest.Refused(t, d.With(tx.Done()), &sheetedits.Lanes{}, "keep shells undivided")
}

// A plate with long arms folded down on two sides lies as one shell, with nothing between the
// arms: they come off before the plate is cut.
func TestArmsComeOffAPlate(t *testing.T) {
	w := meshtest.NewWelder()
	board(w, r3.Vec{}, r3.Vec{X: 4}, r3.Vec{Z: -3}, 4, 3)
	board(w, r3.Vec{X: -3, Y: -0.5}, r3.Vec{X: 10}, r3.Vec{Y: 0.5}, 10, 1)
	board(w, r3.Vec{X: -3, Z: -3}, r3.Vec{X: 10}, r3.Vec{Y: -0.5}, 10, 1)
	for k := range 24 {
		board(w, r3.Vec{X: 10 + 6*float64(k)}, r3.Vec{X: 2}, r3.Vec{Z: -1.5}, 2, 2)
	}
	set := document.DefaultSettings()
	set.Dial = 0.3
	d := edittest.Apply(t, document.New(w.Mesh(t), set), &partedits.Recognise{}, &seamedits.Attach{}, &flowedits.Flatten{})
	if n := edittest.ShellCount(d); n != 25 {
		t.Fatalf("%d shells before, want the plate with its arms and the boards", n)
	}
	whole := edittest.Apply(t, d, &sheetedits.Pack{})
	off := edittest.Apply(t, d, &sheetedits.Lanes{}, &sheetedits.Pack{})
	if a, b := edittest.Coverage(whole), edittest.Coverage(off); b < 1.1*a {
		t.Errorf("coverage %.3f before and %.3f after", a, b)
	}
	tx := d.Begin()
	tx.Settings.Dial = 0.9 // more pieces from here on
	d = d.With(tx.Done())
	plate, _ := d.State.Map.Shells()
	slices.SortFunc(plate, func(a, b atlas.Shell) int { return len(b.Faces) - len(a.Faces) })
	held := edittest.Apply(t, d, &seamedits.Keep{Faces: plate[0].Faces, Whole: true})
	if _, next, err := segment.Divide(context.Background(), held, nil, 0, nil); err == nil {
		_, of := next.Map.Shells()
		if slices.ContainsFunc(plate[0].Faces, func(f mesh.FaceID) bool { return of[f] != of[plate[0].Faces[0]] }) {
			t.Error("what is kept whole came apart")
		}
	}
	for e, cut := range off.State.Map.Cuts() {
		f, g := off.Mesh.EdgeFaces(mesh.EdgeID(e))
		if n := off.Mesh.FaceNormals(); g != mesh.None && cut && math.Abs(n[f].Y) > 0.9 && math.Abs(n[g].Y) > 0.9 {
			t.Errorf("edge %d of the plate is cut", e)
		}
	}
}

// stadium adds a flat strip round a field with two straights and two half rounds.
func stadium(w *meshtest.Welder, y, straight, radius, wide float64) {
	var mid, out []r2.Vec
	for side := range 2 {
		sign := 1 - 2*float64(side)
		for k := range 11 { // a straight, then a half round
			mid, out = append(mid, r2.Vec{X: sign * (straight*float64(k)/10 - straight/2), Y: -sign * radius}), append(out, r2.Vec{Y: -sign * wide})
		}
		for k := range 11 {
			a := (float64(k+1)/12 - 0.5) * math.Pi
			n := r2.Vec{X: sign * math.Cos(a), Y: sign * math.Sin(a)}
			mid, out = append(mid, r2.Add(r2.Vec{X: sign * straight / 2}, r2.Scale(radius, n))), append(out, r2.Scale(wide, n))
		}
	}
	at := func(p r2.Vec) mesh.PointID { return w.Point(r3.Vec{X: p.X, Y: y, Z: p.Y}) }
	for k := range mid {
		n := (k + 1) % len(mid)
		w.Face(at(r2.Add(mid[k], out[k])), at(mid[k]), at(mid[n]), at(r2.Add(mid[n], out[n])))
	}
}

// A ring in halves wastes as much as a whole one: it is divided until it does not, together with the
// straps beside it.
func TestRingsAreDividedUntilTheyWasteLittle(t *testing.T) {
	w := meshtest.NewWelder()
	stadium(w, 0, 12, 4.65, 0.4)
	stadium(w, 1, 12, 4.65, 0.4)
	board(w, r3.Vec{Z: -20}, r3.Vec{X: 51}, r3.Vec{Z: -3}, 100, 3)
	board(w, r3.Vec{Z: -30}, r3.Vec{X: 53}, r3.Vec{Z: -3}, 100, 3)
	d := edittest.Apply(t, document.New(w.Mesh(t), document.DefaultSettings()), &partedits.Recognise{}, &flowedits.Flatten{}, &sheetedits.Lanes{}, &sheetedits.Pack{})
	if c := edittest.Coverage(d); c < 0.74 {
		t.Errorf("coverage %.3f in %d shells", c, edittest.ShellCount(d))
	}
}

// Equal rings that are opened at other places are divided as evenly each.
func TestRingsOpenedElsewhereAreDividedAlike(t *testing.T) {
	ring := meshtest.Lathe(t, 48, r2.Vec{X: 10}, r2.Vec{X: 10, Y: 1})
	m := meshtest.Together(t, ring, meshtest.Mapped(t, ring, func(p r3.Vec) r3.Vec { return r3.Add(p, r3.Vec{X: 30}) }))
	d := edittest.Apply(t, document.New(m, document.DefaultSettings()), &partedits.Recognise{})
	rulings := func(p document.PartID) (out []mesh.EdgeID) {
		for e := range mesh.EdgeID(m.NumEdges()) {
			if f, g := m.EdgeFaces(e); g != mesh.None && d.State.PartOf(f) == p {
				out = append(out, e)
			}
		}
		return out
	}
	first := rulings(0)[:1]
	image := d.OnRepeats(first)
	if len(image) != 2 {
		t.Fatalf("a ruling has %d places on both rings", len(image))
	}
	for _, e := range rulings(1) {
		open := edittest.Apply(t, d, &seamedits.Cut{Edges: []mesh.EdgeID{first[0], e}}, &flowedits.Flatten{})
		_, s, err := segment.Divide(context.Background(), open, meshtest.All(m), 4, nil)
		if err != nil {
			t.Fatal(err)
		}
		shells, _ := s.Map.Shells()
		for _, sh := range shells {
			if n := len(sh.Faces); n < 10 || n > 14 {
				t.Fatalf("opened at %d, where the image of the other opening is %v: a piece has %d of 48 faces", e, image, n)
			}
		}
	}
}

// The dial says how much a piece must bring.
func TestLanesFollowTheDial(t *testing.T) {
	last := 0
	for _, dial := range []float64{0, 0.5, 1} {
		d := beltAndBoards(t, 5)
		tx := d.Begin()
		tx.Settings.Dial = dial
		d = edittest.Apply(t, d.With(tx.Done()), &partedits.Recognise{}, &flowedits.Flatten{}, &sheetedits.Lanes{})
		n := edittest.ShellCount(d)
		if n < last {
			t.Errorf("dial %g: %d shells, fewer than %d", dial, n, last)
		}
		last = n
	}
}

func TestLanesDivideAShellThatIsPicked(t *testing.T) {
	d := edittest.Apply(t, beltAndBoards(t, 2), &partedits.Recognise{}, &flowedits.Flatten{}, &sheetedits.Pack{})
	belt := edittest.Strip(d)
	three := edittest.Apply(t, d, &sheetedits.Lanes{Faces: belt[:1], Pieces: 3})
	if n := edittest.ShellCount(three) - edittest.ShellCount(d); n != 2 {
		t.Errorf("divided in 3 it has %d more shells", n)
	}
	shells, of := three.State.Map.Shells()
	seen := map[int32]bool{}
	for _, f := range belt {
		if seen[of[f]] {
			continue
		}
		seen[of[f]] = true
		var q []r2.Vec
		for _, tr := range three.State.Map.Triangles(shells[of[f]].Faces) {
			q = append(q, tr[:]...)
		}
		if size := planar.Bounds(q...).Size(); math.Abs(size.X/size.Y-20) > 4 {
			t.Errorf("a third is %g by %g", size.X, size.Y)
		}
	}
	edittest.Refused(t, d, &sheetedits.Lanes{Faces: belt[:1], Pieces: 1}, "cannot be divided")
	edittest.Refused(t, d, &sheetedits.Lanes{Faces: belt[:1], Pieces: 99}, "cannot be divided")
	edittest.Refused(t, edittest.Apply(t, d, &sheetedits.Clear{}), &sheetedits.Lanes{}, "nothing lies on the sheet")
	single := document.New(meshtest.Grid(t, 1, 1, func(u, v float64) r3.Vec { return r3.Vec{X: u, Z: -v} }), document.DefaultSettings())
	single = edittest.Apply(t, single, &partedits.Recognise{}, &flowedits.Flatten{})
	edittest.Refused(t, single, &sheetedits.Lanes{Faces: []mesh.FaceID{0}}, "no edges lead")
}
