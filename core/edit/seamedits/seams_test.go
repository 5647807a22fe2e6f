package seamedits_test

import (
	"context"
	"errors"
	"math"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/report"
	"morvek/core/seam"
	"morvek/core/segment"
	"morvek/core/shape"
)

func TestAJarGetsOneOpeningAtTheBackWhereverItStands(t *testing.T) {
	turn := r3.NewRotation(1.1, r3.Vec{Y: 1})
	for name, f := range map[string]func(r3.Vec) r3.Vec{
		"as it is": func(p r3.Vec) r3.Vec { return p },
		"moved":    func(p r3.Vec) r3.Vec { return r3.Add(p, r3.Vec{X: 7, Y: -3, Z: 2}) },
		"large":    func(p r3.Vec) r3.Vec { return r3.Scale(1000, p) },
		"small":    func(p r3.Vec) r3.Vec { return r3.Scale(1e-3, p) },
		"turned":   turn.Rotate,
	} {
		d := document.New(meshtest.Mapped(t, edittest.Jar(t, 24).Mesh, f), document.DefaultSettings())
		d = edittest.Apply(t, d, &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{})
		cut := edittest.Openings(d)
		chains := d.Mesh.Chains(cut)
		if len(chains) != 1 || len(cut) != 4 {
			t.Fatalf("%s: %d cuts in %d chains, want one ruling of 4", name, len(cut), len(chains))
		}
		if b := seam.Bearing(d.Mesh, cut, d.State.Parts[0].Fit); b.Z > -0.85 { // one facet and the grid of directions off at most
			t.Errorf("%s: the opening looks towards %v, not to the back", name, b)
		}
		edittest.Disks(t, d)
	}
}

func TestOpeningsFollowTheViewingSides(t *testing.T) {
	set := document.DefaultSettings()
	set.Sides = seam.Sides{Back: 1.6, Front: 0.1, Left: 1, Right: 1, Above: 1}
	d := edittest.Apply(t, document.New(edittest.Jar(t, 24).Mesh, set), &partedits.Recognise{}, &seamedits.Open{})
	if b := seam.Bearing(d.Mesh, edittest.Openings(d), d.State.Parts[0].Fit); b.Z < 0.9 {
		t.Errorf("seen from behind, the opening looks towards %v, not to the front", b)
	}
}

// Two walls on one axis with other facets and radii open at one bearing; what stands
// beside the larger one hides its left and draws both there.
func TestOpeningsOfCoaxialWallsLineUp(t *testing.T) {
	b := meshtest.NewWelder()
	ring := func(radius, y0, y1 float64, n int) {
		at := func(i int, y float64) mesh.PointID {
			s, c := math.Sincos(2 * math.Pi * float64(i%n) / float64(n))
			return b.Point(r3.Vec{X: radius * s, Y: y, Z: radius * c})
		}
		for i := range n {
			b.Face(at(i, y0), at(i+1, y0), at(i+1, y1), at(i, y1))
		}
	}
	ring(1, 0, 2, 24)
	ring(0.6, 2.5, 3.5, 36)
	ring(0.8, 4, 4.5, 20)
	p := func(z, y float64) mesh.PointID { return b.Point(r3.Vec{X: -1.05, Y: y, Z: z}) }
	b.Face(p(-2, -1), p(2, -1), p(2, 2.2), p(-2, 2.2)) // a screen close to the left of the large one
	d := edittest.Apply(t, document.New(b.Mesh(t), document.DefaultSettings()), &partedits.Recognise{}, &seamedits.Open{})
	cut := edittest.Openings(d)
	chains := d.Mesh.Chains(cut)
	if len(chains) != 3 {
		t.Fatalf("%d openings, want 3", len(chains))
	}
	fit := d.State.Parts[d.State.PartOf(0)].Fit
	lead := seam.Bearing(d.Mesh, chains[0], fit)
	if lead.X > -0.7 {
		t.Errorf("the opening of the large wall looks towards %v, not behind the screen", lead)
	}
	for _, c := range chains[1:] {
		if off := mesh.Angle(lead, seam.Bearing(d.Mesh, c, fit)) * 180 / math.Pi; off > 9.01 { // half a facet
			t.Errorf("an opening is %.1f° out of line", off)
		}
	}
}

func TestATorusIsOpenedByTwoCuts(t *testing.T) {
	const n, k = 24, 12
	m := meshtest.Grid(t, n, k, func(u, v float64) r3.Vec {
		su, cu := math.Sincos(2 * math.Pi * u)
		sv, cv := math.Sincos(-2 * math.Pi * v)
		r := 3 + cv
		return r3.Vec{X: r * su, Y: sv, Z: r * cu}
	})
	d := edittest.Apply(t, document.New(m, document.DefaultSettings()), &partedits.Recognise{})
	if kind := d.State.Parts[0].Fit.Kind; len(d.State.Parts) != 1 || kind != shape.Torus {
		t.Fatalf("%d parts, the first a %s", len(d.State.Parts), kind)
	}
	s, err := (&seamedits.Open{}).Apply(context.Background(), d, nil)
	if err != nil {
		t.Fatal(err)
	}
	d = d.With(s)
	p := mesh.NewPatch(m, meshtest.All(m), d.State.Map.IsCut)
	// One loop around the hole and one around the tube: any more and it falls apart,
	// any less and it is a tube.
	if cut := edittest.Openings(d); len(cut) != n+k || !p.IsDisk() {
		t.Errorf("%d cuts, want %d round the hole and %d round the tube; Euler %d", len(cut), n, k, p.Euler())
	}
}

func TestAHandleOnAnArcIsFourStripsOrOneTube(t *testing.T) {
	set := document.DefaultSettings()
	set.Dial = 1
	for sides, want := range map[int]int{4: 4, 5: 1, 6: 1, 12: 1} { // of five sides it is a wire
		d := edittest.Bar(t, sides).With(document.New(edittest.Bar(t, sides).Mesh, set).State)
		d = edittest.Apply(t, d, &partedits.Recognise{}, &seamedits.Open{}, &seamedits.Attach{}, &flowedits.Flatten{})
		if got := len(edittest.Measure(d).Shells); got != want {
			t.Errorf("%d sides: %d shells of %d parts, want %d", sides, got, len(d.State.Parts), want)
		}
		edittest.Disks(t, d)
	}
}

// A case with rounded rims is opened along one of its rulings and lies as a rectangle: no cuts at its corners.
func TestARimRoundACaseIsNotCutAtItsCorners(t *testing.T) {
	var profile []r2.Vec
	for k := range 4 {
		s, c := math.Sincos(math.Pi / 6 * float64(3-k))
		profile = append(profile, r2.Vec{X: 0.5 * (c - 1), Y: 0.5 * (1 - s)})
	}
	m := meshtest.Hoop(t, 5, 2, 1.2, 5, append(profile, r2.Vec{Y: 6})...)
	d := edittest.Apply(t, document.New(m, document.DefaultSettings()), &partedits.Recognise{}, &seamedits.Open{}, &seamedits.Attach{}, &flowedits.Flatten{})
	if cut := edittest.Openings(d); len(d.State.Parts) == 1 && len(cut) != len(profile) {
		t.Errorf("%d cuts, want one for each of %d rows", len(cut), len(profile))
	}
	if n := edittest.ShellCount(d); n != len(d.State.Parts) {
		t.Errorf("%d shells of %d parts", n, len(d.State.Parts))
	}
	edittest.Disks(t, d)
}

func TestWhatIsKeptWholeIsNotCut(t *testing.T) {
	d := edittest.Apply(t, edittest.Jar(t, 24), &partedits.Recognise{})
	var back []mesh.FaceID // all that looks away
	for f := range d.Mesh.NumFaces() {
		if d.Mesh.FaceCentre(mesh.FaceID(f)).Z < 0 {
			back = append(back, mesh.FaceID(f))
		}
	}
	open := edittest.Apply(t, d, &seamedits.Keep{Faces: back, Whole: true}, &seamedits.Open{})
	if b := seam.Bearing(d.Mesh, edittest.Openings(open), d.State.Parts[0].Fit); b.Z < -1e-3 {
		t.Errorf("the opening looks towards %v, where the wall stays whole", b)
	}
	// All of it: nothing may be cut, and flattening all leaves it out and says so.
	all := edittest.Apply(t, d, &seamedits.Keep{Faces: meshtest.All(d.Mesh), Whole: true}, &seamedits.Open{}, &flowedits.Flatten{})
	if n := len(edittest.Openings(all)); n != 0 || all.State.Map.IsMapped(0) || all.State.Parts[0].Note == "" {
		t.Errorf("%d cuts, mapped %v, note %q", n, all.State.Map.IsMapped(0), all.State.Parts[0].Note)
	}
	free := edittest.Apply(t, all, &seamedits.Keep{Faces: back, Whole: false}, &seamedits.Open{}, &flowedits.Flatten{})
	if len(edittest.Openings(free)) != 4 || !free.State.Map.IsMapped(0) || free.State.Parts[0].Note != "" {
		t.Errorf("let go: %d cuts, mapped %v, note %q", len(edittest.Openings(free)), free.State.Map.IsMapped(0), free.State.Parts[0].Note)
	}
}

func TestTheDialRespectsWishesAndLeavesTheRestInPlace(t *testing.T) {
	d := edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 1)
	const held = mesh.EdgeID(0)
	d = edittest.Apply(t, d, &seamedits.Hold{Edges: []mesh.EdgeID{held}, Held: true}, &seamedits.Dial{Dial: 1})
	if d.State.Map.IsCut(held) || len(edittest.Measure(d).Shells) != 5 {
		t.Errorf("held: cut %v, %d shells, want 5", d.State.Map.IsCut(held), len(edittest.Measure(d).Shells))
	}
	moved := 0
	before := edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 1).State.Map.UV()
	for c, q := range d.State.Map.UV() {
		if q != before[c] {
			moved++
		}
	}
	if moved != 8 {
		t.Errorf("%d corners moved, want the 8 of the two faces that are one now", moved)
	}
	d = edittest.Apply(t, d, &seamedits.Hold{Edges: []mesh.EdgeID{held}, Held: false}, &seamedits.Dial{Dial: 0})
	if n := len(edittest.Measure(d).Shells); n != 1 {
		t.Fatalf("dial at 0: %d shells, want 1", n)
	}
	firm := mesh.EdgeID(slices.Index(d.State.Map.Cuts(), false))
	d = edittest.Apply(t, d, &seamedits.Cut{Edges: []mesh.EdgeID{firm}}, &seamedits.Dial{Dial: 0, Pack: true})
	if !d.State.Map.IsCut(firm) {
		t.Error("the dial closed what was cut by hand")
	}
	edittest.Disks(t, d)
	if r := edittest.Measure(d); r.Totals.OverlapShare != 0 || r.Totals.NearestPx() < 7.9 {
		t.Errorf("packed with the dial: overlap %g, gap %g px", r.Totals.OverlapShare, r.Totals.NearestPx())
	}
	again, err := (&seamedits.Dial{Dial: 0}).Apply(context.Background(), d, nil)
	if err != nil {
		t.Fatal(err)
	}
	if delta := document.Diff(d.State, again); !delta.Empty() {
		t.Errorf("the same dial again changes %d cuts and %d coordinates", len(delta.Map.Cut), len(delta.Map.Corners))
	}
}

func TestTheDialIsOneStepBack(t *testing.T) {
	d := edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 1)
	s, err := (&seamedits.Dial{Dial: 0.2, Pack: true}).Apply(context.Background(), d, nil)
	if err != nil {
		t.Fatal(err)
	}
	delta := document.Diff(d.State, s)
	back, err := delta.Undo(s)
	if err != nil {
		t.Fatal(err)
	}
	if left := document.Diff(d.State, back); !left.Empty() {
		t.Errorf("one undo leaves %+v", left)
	}
	if _, err := (&seamedits.Dial{Dial: 0.5}).Apply(context.Background(), edittest.Jar(t, 8), nil); !errors.Is(err, document.ErrRefused) {
		t.Errorf("a model nobody recognised: %v", err)
	}
}

// A cone that opens by 2° above a cylinder: towards fewer pieces they are one shell
// that stretches a little, towards less stretch two that do not.
func TestFewerPiecesMayStretchALittle(t *testing.T) {
	build := func(dial float64) *document.Document {
		set := document.DefaultSettings()
		set.Dial = dial
		d := document.New(meshtest.Lathe(t, 24, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 1}, r2.Vec{X: 1.03, Y: 2}), set)
		upper := meshtest.All(d.Mesh)[24:]
		return edittest.Apply(t, d, &partedits.Recognise{}, &partedits.PartOff{Faces: upper}, &seamedits.Open{}, &seamedits.Attach{}, &flowedits.Flatten{})
	}
	flat, few := build(0.5), build(0)
	a, b := edittest.Measure(flat), edittest.Measure(few)
	if len(a.Shells) != 2 || a.Totals.L2 > 1+1e-6 {
		t.Errorf("in the middle: %d shells, L2 %g", len(a.Shells), a.Totals.L2)
	}
	if len(b.Shells) != 1 || b.Totals.L2 < 1+1e-7 || b.Totals.L2 > 1.05 {
		t.Errorf("fewest pieces: %d shells, L2 %g", len(b.Shells), b.Totals.L2)
	}
	edittest.Disks(t, few)
}

// A board with a strip so thin that nobody could paint it: it is never left alone.
func TestNoSliverIsLeftAlone(t *testing.T) {
	m := edittest.Cuboid(t, 3, 0.0008, 2)
	d := edittest.Attached(t, m, 1)
	if n := len(edittest.Measure(d).Shells); n != 2 {
		t.Errorf("%d shells, want top and bottom with the rims on them", n)
	}
	edittest.Disks(t, d)
}

// A hair-thin ring under a wall is too small to paint, but hung on the wall by one edge it would
// draw a circle as large as the model around nothing.
func TestAThinRingIsNotHungOnAWall(t *testing.T) {
	v := func(x, y float64) r2.Vec { return r2.Vec{X: x, Y: y} }
	m := meshtest.Lathe(t, 60, v(3, 0), v(23.97, 20), v(24, 20), v(24, 24))
	d := edittest.Attached(t, m, 0.5)
	for _, s := range edittest.Measure(d).Shells {
		ring, wall := 0, 0
		for _, f := range s.Faces {
			if math.Abs(m.FaceNormals()[f].Y) > 0.9 {
				ring++
			} else {
				wall++
			}
		}
		if box := s.Box.Size(); ring > 0 && wall > 0 && min(box.X, box.Y) > 0.1*max(box.X, box.Y) {
			t.Errorf("a shell of wall and ring takes a box of %.2f by %.2f", box.X, box.Y)
		}
	}
}

func TestSuggestionsSayWhyAndAreEmptyOnceTaken(t *testing.T) {
	d := edittest.Apply(t, edittest.Jar(t, 24), &partedits.Recognise{})
	list, err := segment.Suggest(context.Background(), d)
	if err != nil {
		t.Fatal(err)
	}
	if len(list) != 1 || list[0].Why != segment.ForOpening || len(list[0].Edges) != 4 || math.Abs(list[0].Length-2) > 1e-9 {
		t.Fatalf("suggestions: %+v", list)
	}
	if list[0].Exposure < 0 || list[0].Exposure > 0.6 || math.Abs(list[0].BendDeg-15) > 1e-6 {
		t.Errorf("exposure %g, bend %g°", list[0].Exposure, list[0].BendDeg)
	}
	d = edittest.Apply(t, d, &seamedits.Cut{Edges: list[0].Edges})
	if list, err = segment.Suggest(context.Background(), d); err != nil || len(list) != 0 {
		t.Errorf("after it was taken: %+v, %v", list, err)
	}
}

func TestAMaterialBorderIsSuggested(t *testing.T) {
	b := mesh.NewBuilder()
	for y := range 3 {
		for x := range 3 {
			b.Point(r3.Vec{X: float64(x), Y: float64(y)})
		}
	}
	for i, p := range []mesh.PointID{0, 1, 3, 4} {
		b.Material([]string{"wood", "brass"}[i/2])
		b.Face(p, p+1, p+4, p+3)
	}
	m, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	list, err := segment.Suggest(context.Background(), document.New(m, document.DefaultSettings()))
	if err != nil || len(list) != 1 || list[0].Why != segment.ForMaterial || len(list[0].Edges) != 2 {
		t.Errorf("%+v, %v", list, err)
	}
}

func TestWhatIsDoneToOneCanBeDoneToItsRepeats(t *testing.T) {
	b := meshtest.NewWelder()
	for k := range 3 { // three cans apart, the last mirrored by its winding order of points
		for i := range 12 {
			at := func(i int, y float64) mesh.PointID {
				s, c := math.Sincos(2 * math.Pi * float64(i%12) / 12)
				return b.Point(r3.Vec{X: s + 4*float64(k), Y: y, Z: c})
			}
			b.Face(at(i, 0), at(i+1, 0), at(i+1, 1), at(i, 1))
		}
	}
	d := edittest.Apply(t, document.New(b.Mesh(t), document.DefaultSettings()), &partedits.Recognise{})
	if len(d.State.Parts) != 3 || d.State.Parts[2].RepeatOf == nil {
		t.Fatalf("parts: %+v", d.State.Parts)
	}
	list, err := segment.Suggest(context.Background(), d)
	if err != nil || len(list) != 3 {
		t.Fatalf("%+v, %v", list, err)
	}
	all := d.OnRepeats(list[0].Edges)
	if len(all) != 3 || !slices.IsSorted(all) {
		t.Fatalf("%d edges on three cans: %v", len(all), all)
	}
	d = edittest.Apply(t, d, &seamedits.Cut{Edges: all}, &flowedits.Flatten{})
	edittest.Disks(t, d)
}

func TestWishesSurviveTheStore(t *testing.T) {
	d := edittest.Jar(t, 8)
	d = edittest.Apply(t, d, &seamedits.SavePicks{Name: "back", Edges: []mesh.EdgeID{3, 1, 3}}, &seamedits.SavePicks{Name: "a rim", Edges: []mesh.EdgeID{0}},
		&seamedits.Hold{Edges: []mesh.EdgeID{5}, Held: true}, &seamedits.Keep{Faces: []mesh.FaceID{2, 0}, Whole: true})
	s := edittest.Restored(t, d).State
	w := s.Wishes
	if len(w.Picks) != 2 || w.Picks[0].Name != "a rim" || !slices.Equal(w.Picks[1].Edges, []mesh.EdgeID{1, 3}) ||
		!slices.Equal(w.Held, []mesh.EdgeID{5}) || !slices.Equal(w.Whole, []mesh.FaceID{0, 2}) {
		t.Errorf("came back as %+v", w)
	}
	tx := d.Begin()
	tx.Wishes.Held = []mesh.EdgeID{9999}
	if err := tx.Done().Fits(); !errors.Is(err, document.ErrCorrupt) {
		t.Errorf("an edge that is not there: %v", err)
	}
	for _, e := range []edit.Edit{&seamedits.SavePicks{Name: "", Edges: []mesh.EdgeID{1}}, &seamedits.SavePicks{Name: "nobody"}, &seamedits.Keep{}, &seamedits.Hold{Edges: []mesh.EdgeID{5}, Held: true}} {
		if _, err := e.Apply(context.Background(), d, nil); !errors.Is(err, document.ErrRefused) {
			t.Errorf("%s %+v: %v", e.Kind(), e, err)
		}
	}
	if d = edittest.Apply(t, d, &seamedits.SavePicks{Name: "back"}); len(d.State.Wishes.Picks) != 1 {
		t.Errorf("dropping a set leaves %+v", d.State.Wishes.Picks)
	}
}

func TestPickSetsOfFacesAreKeptAndRenamed(t *testing.T) {
	d := edittest.Jar(t, 8)
	d = edittest.Apply(t, d, &seamedits.SavePicks{Name: "rim", Edges: []mesh.EdgeID{2}}, &seamedits.SavePicks{Name: "wall", Faces: []mesh.FaceID{4, 2, 4}, Edges: []mesh.EdgeID{1}},
		&seamedits.SavePicks{Name: "wall", As: "a wall"})
	picks := edittest.Restored(t, d).State.Wishes.Picks
	if len(picks) != 2 || picks[0].Name != "a wall" || !slices.Equal(picks[0].Faces, []mesh.FaceID{2, 4}) || !slices.Equal(picks[0].Edges, []mesh.EdgeID{1}) {
		t.Errorf("came back as %+v", picks)
	}
	for _, e := range []*seamedits.SavePicks{{Name: "wall", As: "b"}, {Name: "a wall", As: "rim"}, {Name: "x", Faces: []mesh.FaceID{9999}}} {
		if _, err := e.Apply(context.Background(), d, nil); !errors.Is(err, document.ErrRefused) {
			t.Errorf("%+v: %v", e, err)
		}
	}
}

func TestTheAuditEqualsTheCuts(t *testing.T) {
	jarCut, ring := edittest.Halves(t)
	for name, c := range map[string]struct {
		d                       *document.Document
		openings, crease, found float64
	}{
		"a jar cut around": {jarCut, 2, 0, jarCut.Mesh.Length(ring)},
		"a box":            {edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 1), 0, 24, 0},
		"a box in one":     {edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 0), -1, -1, 0},
	} {
		r, err := report.Of(context.Background(), c.d, "x.obj")
		if err != nil {
			t.Fatal(err)
		}
		var cut []mesh.EdgeID
		for i, is := range c.d.State.Map.Cuts() {
			if _, b := c.d.Mesh.EdgeFaces(mesh.EdgeID(i)); is && b != mesh.None {
				cut = append(cut, mesh.EdgeID(i))
			}
		}
		q := r.Totals
		if math.Abs(q.SeamLength-c.d.Mesh.Length(cut)) > 1e-9 || q.SeamExposed <= 0 || q.SeamExposed > q.SeamLength {
			t.Errorf("%s: seams of %g, exposed %g, the cuts are %g long", name, q.SeamLength, q.SeamExposed, c.d.Mesh.Length(cut))
		}
		if c.openings >= 0 && (math.Abs(q.SeamOpenings-c.openings) > 1e-9 || math.Abs(q.SeamOnCrease-c.crease) > 1e-9) {
			t.Errorf("%s: openings %g, on creases %g; want %g and %g", name, q.SeamOpenings, q.SeamOnCrease, c.openings, c.crease)
		}
		var found float64
		for _, f := range r.Findings {
			if f.Kind == "seam-in-view" {
				found += f.Value
			}
		}
		if math.Abs(found-c.found) > 1e-9 {
			t.Errorf("%s: %g of seam found across smooth areas in view, want %g", name, found, c.found)
		}
	}
}

// What was opened is not opened again, whatever its shape.
func TestOpeningTwiceIsOpeningOnce(t *testing.T) {
	dome := []r2.Vec{{X: 1}}
	for i := 1; i <= 8; i++ {
		s, c := math.Sincos(math.Pi / 2 * float64(i) / 8)
		dome = append(dome, r2.Vec{X: c, Y: s})
	}
	for name, m := range map[string]*mesh.Mesh{
		"jar":  edittest.Jar(t, 24).Mesh,
		"dome": meshtest.Lathe(t, 24, dome...),
		"bead": meshtest.Lathe(t, 24, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 1}, r2.Vec{X: 1.06, Y: 1.05}, r2.Vec{X: 1, Y: 1.1}, r2.Vec{X: 1, Y: 2}),
	} {
		once := edittest.Apply(t, document.New(m, document.DefaultSettings()), &partedits.Recognise{}, &seamedits.Open{})
		if len(edittest.Openings(once)) == 0 {
			t.Errorf("%s: nothing opened", name)
		}
		if twice := edittest.Apply(t, once, &seamedits.Open{}); !slices.Equal(once.State.Map.Cuts(), twice.State.Map.Cuts()) {
			t.Errorf("%s: %d cuts, then %d", name, len(edittest.Openings(once)), len(edittest.Openings(twice)))
		}
		if list, err := segment.Suggest(context.Background(), once); err != nil || len(list) != 0 {
			t.Errorf("%s: still suggested: %+v, %v", name, list, err)
		}
	}
}

// A wall that stretches and lands on itself stays one shell if people keep it whole.
func TestWhatIsKeptWholeStaysOneThoughItLandsOnItself(t *testing.T) {
	w := meshtest.NewWelder()
	at := func(i, j int) mesh.PointID { // a dome that goes round four times, each above the one before
		a, b := float64(i)*math.Pi/24, (15+14*float64(j))*math.Pi/180
		return w.Point(r3.Vec{X: 5.5 * math.Sin(b) * math.Cos(a), Y: 2 * math.Sin(b) * math.Sin(a), Z: 2*math.Cos(b) + 0.8*a})
	}
	for i := range 192 {
		for j := range 9 {
			w.Face(at(i, j), at(i, j+1), at(i+1, j+1), at(i+1, j))
		}
	}
	m := w.Mesh(t)
	settings := document.DefaultSettings()
	settings.Dial = 1
	d := document.New(m, settings)
	d = edittest.Apply(t, d, &partedits.Recognise{}, &seamedits.Keep{Faces: meshtest.All(m), Whole: true}, &seamedits.Open{}, &flowedits.Flatten{})
	if shells, _ := d.State.Map.Shells(); len(shells) != 1 || len(shells[0].Faces) != m.NumFaces() {
		t.Errorf("%d shells", len(shells))
	}
	for _, e := range m.EdgesWithin(meshtest.All(m)) {
		if d.State.Map.IsCut(e) {
			t.Fatal("it was cut within")
		}
	}
}
