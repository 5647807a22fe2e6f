package edit_test

import (
	"context"
	"math"
	"slices"
	"strings"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/projectedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/unroll"
)

func byHalves(e edit.Edit) edit.Edit { return &edit.ByHalves{Edit: e} }

// isMirrored checks that faces lie as the mirror image, U as −U, of those whose image they are.
func isMirrored(t *testing.T, d *document.Document, faces []mesh.FaceID) {
	t.Helper()
	im, _ := d.Images()
	plane, _ := d.Mirror()
	var off r2.Vec
	for i, f := range faces {
		g := im.Face[f]
		if g == mesh.None || !d.State.Map.IsMapped(f) || !d.State.Map.IsMapped(g) {
			t.Fatalf("face %d and its image %d are not both mapped", f, g)
		}
		lo, hi := d.Mesh.Corners(f)
		to, end := d.Mesh.Corners(g)
		for h := lo; h < hi; h++ {
			at := plane.Of(d.Mesh.Points[d.Mesh.From(h)])
			for c := to; c < end; c++ {
				if r3.Norm(r3.Sub(d.Mesh.Points[d.Mesh.From(c)], at)) > 1e-9 {
					continue
				}
				a, b := d.State.Map.At(h), d.State.Map.At(c)
				by := r2.Vec{X: a.X + b.X, Y: b.Y - a.Y}
				if i == 0 && h == lo {
					off = by
				}
				if r2.Norm(r2.Sub(by, off)) > 1e-9 {
					t.Fatalf("corner %d lies at %v, its image at %v: not mirrored", h, a, b)
				}
			}
		}
	}
}

// onOneSide are the faces of a strip well on one side of the mirror plane.
func onOneSide(d *document.Document) (out []mesh.FaceID) {
	plane, _ := d.Mirror()
	for _, f := range edittest.Strip(d) {
		if r3.Dot(r3.Sub(d.Mesh.FaceCentre(f), plane.Origin), plane.Normal) > 0.3 {
			out = append(out, f)
		}
	}
	return out
}

// A jar is worked on by its half X > 0: what is cut, projected, flattened and trued up there is so on the
// other, mirrored; undoing takes both back.
func TestOneHalfFollowsAsTheOtherIsMade(t *testing.T) {
	d := edittest.Apply(t, edittest.Jar(t, 24), &partedits.Recognise{})
	plane, ok := d.Mirror()
	if !ok {
		t.Fatal("a jar has mirrored halves")
	}
	half := onOneSide(d)
	if len(half) < 4 {
		t.Fatalf("%d facets on one side", len(half))
	}
	pr := edittest.Project(d, unroll.Flat, func(p *unroll.Projection) { p.Axis, p.Up = plane.Normal, r3.Vec{Y: 1} })
	for name, both := range map[string]*document.Document{
		"projected": edittest.Apply(t, d, byHalves(&projectedits.Project{Faces: half, Projection: pr.Projection})),
		"flattened": edittest.Apply(t, edittest.Apply(t, d, &seamedits.Open{}, &flowedits.Flatten{}), byHalves(&seamedits.ShellOff{Faces: half})),
	} {
		t.Run(name, func(t *testing.T) {
			isMirrored(t, both, half)
			r := edittest.Measure(both)
			if r.Totals.Mirrored != 0 || r.Totals.OverlapShare != 0 {
				t.Errorf("%d mirrored, overlap %g", r.Totals.Mirrored, r.Totals.OverlapShare)
			}
			trued := edittest.Apply(t, both, byHalves(&flowedits.Flatten{Faces: half[:1], Method: "even"}), byHalves(&flowedits.TrueUp{Faces: half[:1]}))
			isMirrored(t, trued, half)
		})
	}
	var rung mesh.EdgeID = mesh.None // an upright edge on that side
	for e := range mesh.EdgeID(d.Mesh.NumEdges()) {
		h := d.Mesh.EdgeHalf(e)
		a, b := d.Mesh.Points[d.Mesh.From(h)], d.Mesh.Points[d.Mesh.To(h)]
		if math.Abs(a.X-b.X)+math.Abs(a.Z-b.Z) < 1e-9 && r3.Dot(r3.Sub(a, plane.Origin), plane.Normal) > 0.5 && d.Mesh.Twin(h) != mesh.None {
			rung = e
		}
	}
	im, _ := d.Images()
	cut := edittest.Apply(t, d, byHalves(&seamedits.Cut{Edges: []mesh.EdgeID{rung}}))
	if g := im.Edge[rung]; g == rung || !cut.State.Map.IsCut(rung) || !cut.State.Map.IsCut(g) || !slices.Contains(cut.State.Wishes.Firm, g) {
		t.Errorf("edge %d was cut and is wished, its image %d is not", rung, g)
	}
	closed := edittest.Apply(t, cut, byHalves(&seamedits.Close{Edges: []mesh.EdgeID{rung}}))
	if g := im.Edge[rung]; closed.State.Map.IsCut(g) || slices.Contains(closed.State.Wishes.Firm, g) {
		t.Error("closed on one half only")
	}
	if s, err := document.Diff(d.State, cut.State).Undo(cut.State); err != nil || !document.Diff(d.State, s).Empty() {
		t.Errorf("undone it is not what it was: %v", err)
	}
}

// Stacked, the other half lies on the one that is worked on, turned over, and is known as a stack.
func TestTheOtherHalfMayLieOnThisOne(t *testing.T) {
	d := edittest.Apply(t, edittest.Wings(t), &partedits.Recognise{})
	e := &edit.ByHalves{Edit: &flowedits.Flatten{Faces: []mesh.FaceID{0}}, Stacked: true}
	s, err := e.Apply(context.Background(), d, nil)
	if err != nil {
		t.Fatal(err)
	}
	d = d.With(s)
	if k := d.State.Stacks(); k.Len() != 1 || len(k.Shells(0)) != 2 {
		t.Fatalf("%d stacks", k.Len())
	}
	if _, ok := d.State.TilesApart(d.State.Map.Box([]mesh.FaceID{0}), d.State.Map.Box([]mesh.FaceID{1})); !ok {
		t.Error("they do not lie on each other")
	}
	if !strings.Contains(e.Describe(), "on the other half too: 1 shell") {
		t.Errorf("it says %q", e.Describe())
	}
	jar := edittest.Apply(t, edittest.Jar(t, 24), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{})
	half := onOneSide(jar)
	inner := jar.Mesh.EdgesWithin(half)[0]
	jar = edittest.Apply(t, jar, &seamedits.Cut{Edges: []mesh.EdgeID{inner}})
	jar = edittest.Apply(t, jar, &edit.ByHalves{Edit: &seamedits.ShellOff{Faces: half}, Stacked: true})
	im, _ := jar.Images()
	places := func(f mesh.FaceID) (out []r2.Vec) {
		lo, hi := jar.Mesh.Corners(f)
		for h := lo; h < hi; h++ {
			out = append(out, jar.State.Map.At(h))
		}
		return out
	}
	for _, f := range half {
		for _, q := range places(im.Face[f]) {
			if !slices.Contains(places(f), q) {
				t.Fatalf("the image of face %d has a corner at %v, which the face has not", f, q)
			}
		}
	}
	if s := jar.State; s.Stacks().Len() != 1 || len(s.Stacks().Shells(0)) != 2 {
		t.Errorf("%d stacks", s.Stacks().Len())
	}
	for _, e := range jar.Mesh.EdgesWithin(half) {
		if jar.State.Map.IsCut(e) != jar.State.Map.IsCut(im.Edge[e]) {
			t.Errorf("edge %d is cut: %v, its image is not so", e, jar.State.Map.IsCut(e))
		}
	}
}

// What moves on one side of a shell that is its own image moves on the other.
func TestAShellAcrossThePlaneStaysSymmetric(t *testing.T) {
	m := meshtest.Grid(t, 6, 3, func(u, v float64) r3.Vec { return r3.Vec{X: 4*u - 2, Y: v} })
	d := edittest.Apply(t, document.New(m, document.DefaultSettings()), &partedits.Recognise{}, &flowedits.Flatten{}, &sheetedits.Pack{})
	a, b := edittest.CornerAt(d, r3.Vec{X: 2}), edittest.CornerAt(d, r3.Vec{X: -2})
	other := d.State.Map.At(b)
	nudge := &flowedits.Nudge{Corners: []mesh.HalfedgeID{a}, Shift: r2.Vec{X: -0.02, Y: 0.01}}
	d = edittest.Apply(t, d, byHalves(nudge))
	if d.State.Map.At(b) == other {
		t.Fatal("only one side was moved")
	}
	length := func(h mesh.HalfedgeID) float64 {
		return r2.Norm(r2.Sub(d.State.Map.At(d.Mesh.Next(h)), d.State.Map.At(h)))
	}
	im, _ := d.Images()
	lengths := map[mesh.EdgeID]float64{}
	for h := range mesh.HalfedgeID(m.NumCorners()) {
		lengths[m.Edge(h)] = length(h)
	}
	for e, l := range lengths {
		if math.Abs(lengths[im.Edge[e]]-l) > 1e-9 {
			t.Errorf("edge %d is %g long, its image %g", e, l, lengths[im.Edge[e]])
		}
	}
}

// What has no image stays as it is, and that is said; a model without halves refuses.
func TestPlacesThatDifferAreSaidAndStay(t *testing.T) {
	w := meshtest.NewWelder()
	quad := func(x, y, z, wide float64) {
		w.Face(w.Point(r3.Vec{X: x, Y: y, Z: z}), w.Point(r3.Vec{X: x + wide, Y: y, Z: z}), w.Point(r3.Vec{X: x + wide, Y: y + 1, Z: z}), w.Point(r3.Vec{X: x, Y: y + 1, Z: z}))
	}
	quad(2, 0, 0, 5)
	quad(-7, 0, 0, 5)
	quad(3, 0.1, 1, 0.5) // a knob on one side only
	d := edittest.Apply(t, document.New(w.Mesh(t), document.DefaultSettings()), &partedits.Recognise{})
	e := &edit.ByHalves{Edit: &flowedits.Flatten{Faces: []mesh.FaceID{0, 2}}}
	s, err := e.Apply(context.Background(), d, nil)
	if err != nil {
		t.Fatal(err)
	}
	d = d.With(s)
	if !d.State.Map.IsMapped(1) || !strings.Contains(e.Describe(), "1 shell; left as they are: 1 shell without an image") {
		t.Errorf("the other half is mapped: %v; it says %q", d.State.Map.IsMapped(1), e.Describe())
	}
	odd := document.New(meshtest.Prism(t, 1, r2.Vec{}, r2.Vec{X: 3}, r2.Vec{X: 1, Y: -2}), document.DefaultSettings())
	odd = edittest.Apply(t, document.New(meshtest.Mapped(t, odd.Mesh, func(p r3.Vec) r3.Vec { return r3.Vec{X: p.X + 0.3*p.Y*p.Y + 0.1*p.Z, Y: p.Y + 0.2*p.X, Z: p.Z} }), document.DefaultSettings()), &partedits.Recognise{})
	edittest.Refused(t, odd, byHalves(&flowedits.Flatten{}), "no mirrored halves")
	if _, err := (&edit.ByHalves{}).Apply(context.Background(), d, nil); err == nil {
		t.Error("nothing was made by halves")
	}
	if _, err := edit.Decode([]byte(`{"kind":"by-halves","params":{"edit":{"kind":"by-halves"}}}`)); err == nil {
		t.Error("by halves of by halves was read")
	}
}
