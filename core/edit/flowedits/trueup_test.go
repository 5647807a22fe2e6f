package flowedits_test

import (
	"context"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

func TestTrueUpMakesAGridOfTheShell(t *testing.T) {
	d := edittest.Guard(t)
	was := edittest.Measure(d).Shells[0]
	s, shells, err := (&flowedits.TrueUp{Faces: []mesh.FaceID{0}}).Plan(context.Background(), d, nil)
	if err != nil {
		t.Fatal(err)
	}
	d = edittest.Apply(t, d, &flowedits.TrueUp{Faces: []mesh.FaceID{0}})
	if left := document.Diff(s, d.State); !left.Empty() {
		t.Error("what was planned is not what was done")
	}
	now := edittest.Measure(d).Shells[0]
	if !shells[0].Grid || was.Straight > 0.9 || now.Straight < 1-1e-9 || now.Linf > 1.15 || now.Mirrored > 0 || edittest.Torn(d) > 0 {
		t.Errorf("grid %v, straight %.3f after %.3f, worst ×%.3f", shells[0].Grid, now.Straight, was.Straight, now.Linf)
	}
	edittest.Refused(t, d, &flowedits.TrueUp{}, "as straight as it gets")
}

// A shell that is trued as a grid turns to its grain with it, by quarters.
func TestTrueUpFollowsTheGrain(t *testing.T) {
	d := edittest.Guard(t)
	path := []r3.Vec{{X: -1, Z: -4}, {X: 0, Z: -4.2}, {X: 1, Z: -4}}
	for _, mode := range []flow.Mode{flow.Along, flow.Around} {
		s := d.Begin()
		s.Part(0).Grain = flow.Grain{Mode: mode, Path: path, Axis: r3.Vec{X: 1}}
		now := edittest.Apply(t, d.With(s.Done()), &flowedits.TrueUp{Faces: []mesh.FaceID{0}, Mode: flow.AsGrid})
		r := edittest.Measure(now).Shells[0]
		size := edittest.SizeOf(now, meshtest.All(d.Mesh))
		if (mode == flow.Along) != (size.X > size.Y) || r.Straight < 1-1e-9 || r.Mirrored > 0 || r.GrainErrDeg > 15 {
			t.Errorf("%s: %v on the sheet, %.3f straight, %.1f° off", mode, size, r.Straight, r.GrainErrDeg)
		}
	}
}

// Of several shells those are trued that can be; the others stay and do not stand in the way.
func TestTrueUpOfSeveralShells(t *testing.T) {
	b := meshtest.NewWelder()
	for _, part := range []*mesh.Mesh{edittest.Guard(t).Mesh, meshtest.Lathe(t, 24, r2.Vec{X: 1}, r2.Vec{X: 0.8}, r2.Vec{X: 0.6}, r2.Vec{X: 0.4})} {
		for f := range mesh.FaceID(part.NumFaces()) {
			var at []mesh.PointID
			for _, p := range part.FacePoints(f) {
				at = append(at, b.Point(part.Points[p]))
			}
			b.Face(at...)
		}
	}
	d := edittest.Apply(t, document.New(b.Mesh(t), document.DefaultSettings()), &flowedits.Flatten{}, &sheetedits.Pack{})
	both := &flowedits.TrueUp{Faces: []mesh.FaceID{0, 80}}
	_, shells, err := both.Plan(context.Background(), d, nil)
	if err != nil || len(shells) != 2 {
		t.Fatalf("%d shells, %v", len(shells), err)
	}
	if shells[0].LeftAsIs || shells[0].Straight < 1-1e-9 || !shells[1].LeftAsIs || shells[1].Why == "" {
		t.Errorf("%+v\n%+v", shells[0].Why, shells[1].Why)
	}
	if w := flowedits.TruedWords(shells); w != "1 of 2 shells straightened, 1 left bent: they would stretch too much or gain little" {
		t.Errorf("it says %q", w)
	}
	edittest.Refused(t, d, &flowedits.TrueUp{Faces: []mesh.FaceID{80}}, "stays as it is")
	edittest.Refused(t, edittest.Apply(t, d, both), both, "stays as it is")
}

func TestTrueUpKeepsPinsAndPicks(t *testing.T) {
	d := edittest.Guard(t)
	pins := []mesh.HalfedgeID{0, edittest.CornerAt(d, r3.Vec{X: 1.33, Z: -4.3})}
	pinned := edittest.Apply(t, d, &flowedits.Pin{Corners: pins, Pinned: true})
	now := edittest.Apply(t, pinned, &flowedits.TrueUp{Faces: []mesh.FaceID{0}, Mode: flow.ByBorder, WithinDeg: 45, Tolerance: 3})
	for _, c := range pins {
		if now.State.Map.At(c) != d.State.Map.At(c) {
			t.Error("a pinned point moved")
		}
	}
	// One picked loop along: its points share a V, the others are free.
	var long mesh.EdgeID = -1
	for e := range mesh.EdgeID(d.Mesh.NumEdges()) {
		if _, b := d.Mesh.EdgeFaces(e); b != mesh.None && len(d.Mesh.Loop(e).Edges) == 20 {
			long = e
		}
	}
	one := edittest.Apply(t, d, &flowedits.TrueUp{Faces: []mesh.FaceID{0}, Mode: flow.ByPicked, Edges: []mesh.EdgeID{long}})
	m := d.Mesh
	at := one.State.Map.UV()
	h := m.EdgeHalf(long)
	along := math.Abs(at[h].X-at[m.Next(h)].X) > math.Abs(at[h].Y-at[m.Next(h)].Y)
	for _, e := range m.Loop(long).Edges {
		k := m.EdgeHalf(e)
		a, b := at[k], at[m.Next(k)]
		if along && (math.Abs(a.Y-at[h].Y) > 1e-12 || math.Abs(b.Y-at[h].Y) > 1e-12) || !along && (math.Abs(a.X-at[h].X) > 1e-12 || math.Abs(b.X-at[h].X) > 1e-12) {
			t.Fatalf("the picked loop is not straight: %v, %v", a, b)
		}
	}
	edittest.Refused(t, d, &flowedits.TrueUp{Faces: []mesh.FaceID{0}, Mode: flow.ByPicked}, "pick edges")
	edittest.Refused(t, d, &flowedits.TrueUp{Faces: []mesh.FaceID{0}, Mode: "wished"}, "no way of truing up")
	edittest.Refused(t, d, &flowedits.TrueUp{Faces: []mesh.FaceID{0}, Tolerance: 0.5}, "cannot be allowed")
	edittest.Refused(t, d, &flowedits.TrueUp{Faces: []mesh.FaceID{0}, WithinDeg: 60}, "is not possible")
}

// A disc has nothing to straighten and says so.
func TestDiscsAreLeftAlone(t *testing.T) {
	d := document.New(meshtest.Lathe(t, 24, r2.Vec{X: 1}, r2.Vec{X: 0.8}, r2.Vec{X: 0.6}, r2.Vec{X: 0.4}), document.DefaultSettings())
	d = edittest.Apply(t, d, &flowedits.Flatten{}, &sheetedits.Pack{})
	edittest.Refused(t, d, &flowedits.TrueUp{Faces: []mesh.FaceID{0}}, "curve or fan out")
}

// Loops that would cost too much are let go and named by their edges.
func TestReleasedLoopsAreNamed(t *testing.T) {
	d := edittest.Hood(t)
	_, shells, err := (&flowedits.TrueUp{Faces: []mesh.FaceID{0}, Tolerance: 1.02}).Plan(context.Background(), d, nil)
	if err != nil {
		t.Fatal(err)
	}
	r := shells[0]
	released := 0
	for _, l := range r.Lines {
		if l.Released {
			released += len(l.Verts) - 1
		}
	}
	if r.Gave() == 0 || r.Kept() == 0 || len(r.LetGo()) != released {
		t.Errorf("%d kept, %d gave way, %d edges named of %d", r.Kept(), r.Gave(), len(r.LetGo()), released)
	}
	for i, l := range r.Loops {
		if len(l.Edges) == 0 || l.Before < 1-1e-9 || i > 0 && l.After > r.Loops[i-1].After*(1+1e-6) {
			t.Errorf("loop %d: %+v", i, l)
		}
		if !l.Released && l.After > 1.02*max(1, l.Before)*(1+1e-9) && l.After > r.Before.Worst*1.02 {
			t.Errorf("loop %d is kept at ×%.3f", i, l.After)
		}
		for _, e := range l.Edges {
			if e < 0 || int(e) >= d.Mesh.NumEdges() {
				t.Fatalf("there is no edge %d", e)
			}
		}
	}
}
