package layout_test

import (
	"context"
	"errors"
	"math"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/layout"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/seam"
	"morvek/core/shape"
)

// openings are the cuts between two faces of one part.
func openings(d *layout.Document) (out []mesh.EdgeID) {
	for i, c := range d.State.Map.Cuts() {
		a, b := d.Mesh.EdgeFaces(mesh.EdgeID(i))
		if c && b != mesh.None && d.State.PartOf(a) == d.State.PartOf(b) {
			out = append(out, mesh.EdgeID(i))
		}
	}
	return out
}

func disks(t *testing.T, d *layout.Document) {
	t.Helper()
	for _, s := range measure(d).Shells {
		if p := mesh.NewPatch(d.Mesh, s.Faces, d.State.IsCut); !p.IsDisk() {
			t.Errorf("shell of %s: Euler %d, %d borders", d.State.Parts[s.Part].Name, p.Euler(), len(p.Borders()))
		}
	}
}

// wall is an open wall of revolution with a seam-free profile, as a document.
func wall(t *testing.T, n int, profile ...r2.Vec) *layout.Document {
	return layout.New(meshtest.Lathe(t, n, profile...), layout.DefaultSettings())
}

func TestAJarGetsOneOpeningAtTheBackWhereverItStands(t *testing.T) {
	turn := r3.NewRotation(1.1, r3.Vec{Y: 1})
	for name, f := range map[string]func(r3.Vec) r3.Vec{
		"as it is": func(p r3.Vec) r3.Vec { return p },
		"moved":    func(p r3.Vec) r3.Vec { return r3.Add(p, r3.Vec{X: 7, Y: -3, Z: 2}) },
		"large":    func(p r3.Vec) r3.Vec { return r3.Scale(1000, p) },
		"small":    func(p r3.Vec) r3.Vec { return r3.Scale(1e-3, p) },
		"turned":   turn.Rotate,
	} {
		d := layout.New(meshtest.Mapped(t, jar(t, 24).Mesh, f), layout.DefaultSettings())
		d = apply(t, d, &layout.Recognise{}, &layout.Open{}, &layout.Flatten{})
		cut := openings(d)
		chains := d.Mesh.Chains(cut)
		if len(chains) != 1 || len(cut) != 4 {
			t.Fatalf("%s: %d cuts in %d chains, want one ruling of 4", name, len(cut), len(chains))
		}
		if b := seam.Bearing(d.Mesh, cut, d.State.Parts[0].Fit); b.Z > -0.85 { // one facet and the grid of directions off at most
			t.Errorf("%s: the opening looks towards %v, not to the back", name, b)
		}
		disks(t, d)
	}
}

func TestOpeningsFollowTheViewingSides(t *testing.T) {
	set := layout.DefaultSettings()
	set.Sides = seam.Sides{Back: 1.6, Front: 0.1, Left: 1, Right: 1, Above: 1}
	d := apply(t, layout.New(jar(t, 24).Mesh, set), &layout.Recognise{}, &layout.Open{})
	if b := seam.Bearing(d.Mesh, openings(d), d.State.Parts[0].Fit); b.Z < 0.9 {
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
	d := apply(t, layout.New(b.Mesh(t), layout.DefaultSettings()), &layout.Recognise{}, &layout.Open{})
	cut := openings(d)
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
	d := apply(t, layout.New(m, layout.DefaultSettings()), &layout.Recognise{})
	if kind := d.State.Parts[0].Fit.Kind; len(d.State.Parts) != 1 || kind != shape.Torus {
		t.Fatalf("%d parts, the first a %s", len(d.State.Parts), kind)
	}
	s, err := (&layout.Open{}).Apply(context.Background(), d, nil)
	if err != nil {
		t.Fatal(err)
	}
	d = d.With(s)
	p := mesh.NewPatch(m, meshtest.All(m), d.State.IsCut)
	// One loop around the hole and one around the tube: any more and it falls apart,
	// any less and it is a tube.
	if cut := openings(d); len(cut) != n+k || !p.IsDisk() {
		t.Errorf("%d cuts, want %d round the hole and %d round the tube; Euler %d", len(cut), n, k, p.Euler())
	}
}

// bar is a bent bar of a section along a quarter arc, open at both ends.
func bar(t *testing.T, sides int) *layout.Document {
	return layout.New(meshtest.Tube(t, 0.2, sides, meshtest.Arc(r3.Vec{}, 2, 0, 12)...), layout.DefaultSettings())
}

func TestAHandleOnAnArcIsFourStripsOrOneTube(t *testing.T) {
	set := layout.DefaultSettings()
	set.Dial = 1
	for sides, want := range map[int]int{4: 4, 12: 1} {
		d := bar(t, sides).With(layout.New(bar(t, sides).Mesh, set).State)
		d = apply(t, d, &layout.Recognise{}, &layout.Open{}, &layout.Attach{}, &layout.Flatten{})
		if got := len(measure(d).Shells); got != want {
			t.Errorf("%d sides: %d shells of %d parts, want %d", sides, got, len(d.State.Parts), want)
		}
		disks(t, d)
	}
}

func TestWhatIsKeptWholeIsNotCut(t *testing.T) {
	d := apply(t, jar(t, 24), &layout.Recognise{})
	var back []mesh.FaceID // all that looks away
	for f := range d.Mesh.NumFaces() {
		if d.Mesh.FaceCentre(mesh.FaceID(f)).Z < 0 {
			back = append(back, mesh.FaceID(f))
		}
	}
	open := apply(t, d, &layout.Keep{Faces: back, Whole: true}, &layout.Open{})
	if b := seam.Bearing(d.Mesh, openings(open), d.State.Parts[0].Fit); b.Z < -1e-3 {
		t.Errorf("the opening looks towards %v, where the wall stays whole", b)
	}
	// All of it: nothing may be cut, and flattening all leaves it out and says so.
	all := apply(t, d, &layout.Keep{Faces: meshtest.All(d.Mesh), Whole: true}, &layout.Open{}, &layout.Flatten{})
	if n := len(openings(all)); n != 0 || all.State.Map.IsMapped(0) || all.State.Parts[0].Note == "" {
		t.Errorf("%d cuts, mapped %v, note %q", n, all.State.Map.IsMapped(0), all.State.Parts[0].Note)
	}
	free := apply(t, all, &layout.Keep{Faces: back, Whole: false}, &layout.Open{}, &layout.Flatten{})
	if len(openings(free)) != 4 || !free.State.Map.IsMapped(0) || free.State.Parts[0].Note != "" {
		t.Errorf("let go: %d cuts, mapped %v, note %q", len(openings(free)), free.State.Map.IsMapped(0), free.State.Parts[0].Note)
	}
}

func TestTheDialRespectsWishesAndLeavesTheRestInPlace(t *testing.T) {
	d := attached(t, cuboid(t, 3, 1, 2), 1)
	const held = mesh.EdgeID(0)
	d = apply(t, d, &layout.Hold{Edges: []mesh.EdgeID{held}, Held: true}, &layout.Dial{Dial: 1})
	if d.State.Map.IsCut(held) || len(measure(d).Shells) != 5 {
		t.Errorf("held: cut %v, %d shells, want 5", d.State.Map.IsCut(held), len(measure(d).Shells))
	}
	moved := 0
	before := attached(t, cuboid(t, 3, 1, 2), 1).State.Map.UV()
	for c, q := range d.State.Map.UV() {
		if q != before[c] {
			moved++
		}
	}
	if moved != 8 {
		t.Errorf("%d corners moved, want the 8 of the two faces that are one now", moved)
	}
	d = apply(t, d, &layout.Hold{Edges: []mesh.EdgeID{held}, Held: false}, &layout.Dial{Dial: 0})
	if n := len(measure(d).Shells); n != 1 {
		t.Fatalf("dial at 0: %d shells, want 1", n)
	}
	firm := mesh.EdgeID(slices.Index(d.State.Map.Cuts(), false))
	d = apply(t, d, &layout.Cut{Edges: []mesh.EdgeID{firm}}, &layout.Dial{Dial: 0, Pack: true})
	if !d.State.Map.IsCut(firm) {
		t.Error("the dial closed what was cut by hand")
	}
	disks(t, d)
	if r := measure(d); r.Totals.OverlapShare != 0 || r.Totals.MinGapPx < 7.9 {
		t.Errorf("packed with the dial: overlap %g, gap %g px", r.Totals.OverlapShare, r.Totals.MinGapPx)
	}
	again, err := (&layout.Dial{Dial: 0}).Apply(context.Background(), d, nil)
	if err != nil {
		t.Fatal(err)
	}
	if delta := layout.Diff(d.State, again); !delta.Empty() {
		t.Errorf("the same dial again changes %d cuts and %d coordinates", len(delta.Map.Cut), len(delta.Map.Corners))
	}
}

func TestTheDialIsOneStepBack(t *testing.T) {
	d := attached(t, cuboid(t, 3, 1, 2), 1)
	s, err := (&layout.Dial{Dial: 0.2, Pack: true}).Apply(context.Background(), d, nil)
	if err != nil {
		t.Fatal(err)
	}
	delta := layout.Diff(d.State, s)
	back, err := delta.Undo(s)
	if err != nil {
		t.Fatal(err)
	}
	if left := layout.Diff(d.State, back); !left.Empty() {
		t.Errorf("one undo leaves %+v", left)
	}
	if _, err := (&layout.Dial{Dial: 0.5}).Apply(context.Background(), jar(t, 8), nil); !errors.Is(err, layout.ErrRefused) {
		t.Errorf("a model nobody recognised: %v", err)
	}
}

// A cone that opens by 2° above a cylinder: towards fewer pieces they are one shell
// that stretches a little, towards less stretch two that do not.
func TestFewerPiecesMayStretchALittle(t *testing.T) {
	build := func(dial float64) *layout.Document {
		set := layout.DefaultSettings()
		set.Dial = dial
		d := layout.New(meshtest.Lathe(t, 24, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 1}, r2.Vec{X: 1.03, Y: 2}), set)
		upper := meshtest.All(d.Mesh)[24:]
		return apply(t, d, &layout.Recognise{}, &layout.PartOff{Faces: upper}, &layout.Open{}, &layout.Attach{}, &layout.Flatten{})
	}
	flat, few := build(0.5), build(0)
	a, b := measure(flat), measure(few)
	if len(a.Shells) != 2 || a.Totals.L2 > 1+1e-6 {
		t.Errorf("in the middle: %d shells, L2 %g", len(a.Shells), a.Totals.L2)
	}
	if len(b.Shells) != 1 || b.Totals.L2 < 1+1e-7 || b.Totals.L2 > 1.05 {
		t.Errorf("fewest pieces: %d shells, L2 %g", len(b.Shells), b.Totals.L2)
	}
	disks(t, few)
}

// A board with a strip so thin that nobody could paint it: it is never left alone.
func TestNoSliverIsLeftAlone(t *testing.T) {
	m := cuboid(t, 3, 0.0008, 2)
	d := attached(t, m, 1)
	if n := len(measure(d).Shells); n != 2 {
		t.Errorf("%d shells, want top and bottom with the rims on them", n)
	}
	disks(t, d)
}

func TestSuggestionsSayWhyAndAreEmptyOnceTaken(t *testing.T) {
	d := apply(t, jar(t, 24), &layout.Recognise{})
	list, err := d.Suggest(context.Background())
	if err != nil {
		t.Fatal(err)
	}
	if len(list) != 1 || list[0].Why != layout.ForOpening || len(list[0].Edges) != 4 || math.Abs(list[0].Length-2) > 1e-9 {
		t.Fatalf("suggestions: %+v", list)
	}
	if list[0].Exposure < 0 || list[0].Exposure > 0.6 || math.Abs(list[0].BendDeg-15) > 1e-6 {
		t.Errorf("exposure %g, bend %g°", list[0].Exposure, list[0].BendDeg)
	}
	d = apply(t, d, &layout.Cut{Edges: list[0].Edges})
	if list, err = d.Suggest(context.Background()); err != nil || len(list) != 0 {
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
	list, err := layout.New(m, layout.DefaultSettings()).Suggest(context.Background())
	if err != nil || len(list) != 1 || list[0].Why != layout.ForMaterial || len(list[0].Edges) != 2 {
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
	d := apply(t, layout.New(b.Mesh(t), layout.DefaultSettings()), &layout.Recognise{})
	if len(d.State.Parts) != 3 || d.State.Parts[2].RepeatOf == nil {
		t.Fatalf("parts: %+v", d.State.Parts)
	}
	list, err := d.Suggest(context.Background())
	if err != nil || len(list) != 3 {
		t.Fatalf("%+v, %v", list, err)
	}
	all := d.OnRepeats(list[0].Edges)
	if len(all) != 3 || !slices.IsSorted(all) {
		t.Fatalf("%d edges on three cans: %v", len(all), all)
	}
	d = apply(t, d, &layout.Cut{Edges: all}, &layout.Flatten{})
	disks(t, d)
}

func TestWishesSurviveTheStore(t *testing.T) {
	d := jar(t, 8)
	d = apply(t, d, &layout.SavePicks{Name: "back", Edges: []mesh.EdgeID{3, 1, 3}}, &layout.SavePicks{Name: "a rim", Edges: []mesh.EdgeID{0}},
		&layout.Hold{Edges: []mesh.EdgeID{5}, Held: true}, &layout.Keep{Faces: []mesh.FaceID{2, 0}, Whole: true})
	s := restored(t, d).State
	w := s.Wishes
	if len(w.Picks) != 2 || w.Picks[0].Name != "a rim" || !slices.Equal(w.Picks[1].Edges, []mesh.EdgeID{1, 3}) ||
		!slices.Equal(w.Held, []mesh.EdgeID{5}) || !slices.Equal(w.Whole, []mesh.FaceID{0, 2}) {
		t.Errorf("came back as %+v", w)
	}
	tx := d.Begin()
	tx.Wishes.Held = []mesh.EdgeID{9999}
	if err := tx.Done().Fits(); !errors.Is(err, layout.ErrCorrupt) {
		t.Errorf("an edge that is not there: %v", err)
	}
	for _, e := range []layout.Edit{&layout.SavePicks{Name: "", Edges: []mesh.EdgeID{1}}, &layout.SavePicks{Name: "nobody"}, &layout.Keep{}, &layout.Hold{Edges: []mesh.EdgeID{5}, Held: true}} {
		if _, err := e.Apply(context.Background(), d, nil); !errors.Is(err, layout.ErrRefused) {
			t.Errorf("%s %+v: %v", e.Kind(), e, err)
		}
	}
	if d = apply(t, d, &layout.SavePicks{Name: "back"}); len(d.State.Wishes.Picks) != 1 {
		t.Errorf("dropping a set leaves %+v", d.State.Wishes.Picks)
	}
}

func TestTheAuditEqualsTheCuts(t *testing.T) {
	jarCut, ring := halves(t)
	for name, c := range map[string]struct {
		d                       *layout.Document
		openings, crease, found float64
	}{
		"a jar cut around": {jarCut, 2, 0, jarCut.Mesh.Length(ring)},
		"a box":            {attached(t, cuboid(t, 3, 1, 2), 1), 0, 24, 0},
		"a box in one":     {attached(t, cuboid(t, 3, 1, 2), 0), -1, -1, 0},
	} {
		r, err := c.d.Report(context.Background(), "x.obj")
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
		"jar":  jar(t, 24).Mesh,
		"dome": meshtest.Lathe(t, 24, dome...),
		"bead": meshtest.Lathe(t, 24, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 1}, r2.Vec{X: 1.06, Y: 1.05}, r2.Vec{X: 1, Y: 1.1}, r2.Vec{X: 1, Y: 2}),
	} {
		once := apply(t, layout.New(m, layout.DefaultSettings()), &layout.Recognise{}, &layout.Open{})
		if len(openings(once)) == 0 {
			t.Errorf("%s: nothing opened", name)
		}
		if twice := apply(t, once, &layout.Open{}); !slices.Equal(once.State.Map.Cuts(), twice.State.Map.Cuts()) {
			t.Errorf("%s: %d cuts, then %d", name, len(openings(once)), len(openings(twice)))
		}
		if list, err := once.Suggest(context.Background()); err != nil || len(list) != 0 {
			t.Errorf("%s: still suggested: %+v, %v", name, list, err)
		}
	}
}
