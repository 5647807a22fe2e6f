package projectedits_test

import (
	"context"
	"math"
	"strings"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/projectedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/unroll"
)

// Looked at edge on, a plate has no room on the sheet: that is no projection.
func TestAProjectionWithoutRoomIsRefused(t *testing.T) {
	d := edittest.Apply(t, edittest.Wings(t), &partedits.Recognise{})
	e := edittest.Project(d, unroll.Flat, func(p *unroll.Projection) { p.Axis, p.Up = r3.Vec{X: 1}, r3.Vec{Y: 1} })
	edittest.Refused(t, d, e, "no room on the sheet")
}

// The opening goes where the turn says, the parameters stay with the part, and flattening
// everything keeps to them.
func TestProjectionIsKeptWithItsPart(t *testing.T) {
	d := edittest.Apply(t, edittest.Jar(t, 24), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{})
	was := edittest.Openings(d)
	fitted := lay.Fitted(d, meshtest.All(d.Mesh), unroll.Cylindrical)
	d = edittest.Apply(t, d, edittest.Project(d, unroll.Cylindrical, nil))
	if now := edittest.Openings(d); len(now) != len(was) || now[0] != was[0] {
		t.Errorf("fitted as it lies it opens at %v, not at %v", now, was)
	}
	d = edittest.Apply(t, d, edittest.Project(d, unroll.Cylindrical, func(p *unroll.Projection) { p.TurnDeg += 90 }))
	if now := edittest.Openings(d); len(now) != len(was) || now[0] == was[0] {
		t.Errorf("turned by a quarter it still opens at %v", now)
	}
	pr := d.State.Parts[0].Projection
	if pr == nil || pr.TurnDeg != fitted.TurnDeg+90 || d.State.Parts[0].Method != "cylindrical" {
		t.Fatalf("the part has %+v", d.State.Parts[0])
	}
	if again := lay.Fitted(d, meshtest.All(d.Mesh), unroll.Cylindrical); again != *pr {
		t.Errorf("what was set is not what is offered: %+v", again)
	}
	opening := edittest.Openings(d)
	d = edittest.Apply(t, d, &flowedits.Flatten{}, &sheetedits.Pack{})
	if now := edittest.Openings(d); d.State.Parts[0].Projection == nil || now[0] != opening[0] {
		t.Error("flattening everything forgot the projection")
	}
	r := edittest.Measure(d)
	if len(r.Shells) != 1 || r.Shells[0].L2 > 1.0001 || r.Shells[0].Mirrored > 0 || r.Totals.Unmapped > 0 {
		t.Errorf("%+v", r.Shells)
	}
	d = edittest.Apply(t, d, &flowedits.Flatten{Faces: []mesh.FaceID{0}})
	if d.State.Parts[0].Projection != nil {
		t.Error("flattening the shell itself keeps the projection")
	}
	edittest.Restored(t, d)
}

func TestWidthAndHeightAreRealLengths(t *testing.T) {
	d := edittest.Apply(t, edittest.Jar(t, 24), &partedits.Recognise{})
	d = edittest.Apply(t, d, edittest.Project(d, unroll.Cylindrical, func(p *unroll.Projection) { p.Width, p.Height = 8, 8 }))
	if got := edittest.SizeOf(d, meshtest.All(d.Mesh)); math.Abs(got.Y-2.0/8) > 1e-9 || math.Abs(got.X-48*math.Sin(math.Pi/24)/8) > 1e-6 {
		t.Errorf("%v on a sheet that covers 8 × 8", got)
	}
	d = edittest.Apply(t, d, edittest.Project(d, unroll.Cylindrical, func(p *unroll.Projection) { p.Width, p.Height, p.Free = 8, 4, true }))
	if got := edittest.SizeOf(d, meshtest.All(d.Mesh)); math.Abs(got.Y-2.0/4) > 1e-9 {
		t.Errorf("%v with half the height", got)
	}
	edittest.Refused(t, d, edittest.Project(d, unroll.Cylindrical, func(p *unroll.Projection) { p.Width = 0 }), "a width of 0 is not possible")
	edittest.Refused(t, d, edittest.Project(d, unroll.Cylindrical, func(p *unroll.Projection) { p.Height, p.Free = 3, false }), "locked")
}

// The walls of a room, laid with one size and up in place: the heights of all agree, so
// courses meet at the corners, and going around the pattern goes on.
func TestCoursesMeetAtTheCorners(t *testing.T) {
	d := document.New(meshtest.Prism(t, 3, r2.Vec{}, r2.Vec{X: 4}, r2.Vec{X: 4, Y: -5}, r2.Vec{Y: -5}), document.DefaultSettings())
	up := r3.Vec{Y: 1}
	var walls []mesh.FaceID
	for f := range mesh.FaceID(d.Mesh.NumFaces()) {
		if math.Abs(d.Mesh.FaceNormals()[f].Y) < 0.5 {
			walls = append(walls, f)
		}
	}
	jig := unroll.Projection{Kind: unroll.Flat, Axis: r3.Vec{X: 1}, Up: up, Width: 0.9, Height: 0.9}
	d = edittest.Apply(t, d, &projectedits.Project{Faces: walls, Projection: jig, InPlace: true, EachFacet: true})
	if r := edittest.Measure(d); len(r.Shells) != 4 || r.Totals.Mirrored > 0 || r.Shells[0].L2 > 1+1e-9 {
		t.Errorf("%d shells, %d mirrored", len(r.Shells), r.Totals.Mirrored)
	}
	for c := range mesh.HalfedgeID(d.Mesh.NumCorners()) {
		if !d.State.Map.IsMapped(d.Mesh.FaceOf(c)) {
			continue
		}
		y := d.Mesh.Points[d.Mesh.From(c)].Y
		if off := d.State.Map.At(c).Y - y/0.9; math.Abs(off-math.Round(off)) > 1e-9 {
			t.Fatalf("a point %g high lies %g tiles up", y, d.State.Map.At(c).Y)
		}
	}
	// As one wall around all corners, U goes on as well.
	pr := unroll.Projection{Kind: unroll.Prismatic, Axis: up, Up: up, Origin: r3.Vec{X: 2, Z: -2.5}, Width: 0.9, Height: 0.9}
	d = edittest.Apply(t, d, &projectedits.Project{Faces: walls, Projection: pr, InPlace: true})
	if got := edittest.SizeOf(d, walls); math.Abs(got.X-18/0.9) > 1e-6 || math.Abs(got.Y-3/0.9) > 1e-6 {
		t.Errorf("walls of 18 × 3 come to %v tiles of 0.9", got)
	}
}

func TestFrontAndBackAreNoticed(t *testing.T) {
	d := document.New(edittest.Cuboid(t, 2, 1, 3), document.DefaultSettings())
	flat := edittest.Project(d, unroll.Flat, func(p *unroll.Projection) { p.Axis = r3.Vec{Y: 1} })
	d = edittest.Apply(t, d, flat)
	if note := d.State.Parts[0].Note; !strings.Contains(note, "look away") {
		t.Errorf("the note says %q", note)
	}
	flat.Projection.Apart = true
	d = edittest.Apply(t, d, flat)
	if strings.Contains(d.State.Parts[0].Note, "look away") {
		t.Error("still said after they were laid apart")
	}
}

func TestCompareRanksByStretch(t *testing.T) {
	d := edittest.Apply(t, edittest.Jar(t, 24), &partedits.Recognise{})
	list, err := lay.Compare(context.Background(), d, meshtest.All(d.Mesh), unroll.ProjectionKinds)
	if err != nil {
		t.Fatal(err)
	}
	if best := list[0]; best.Angular > 1.0001 || best.Shells != 1 || best.Flips > 0 {
		t.Errorf("the best is %s: angular %g in %d shells", best.Projection.Kind, best.Angular, best.Shells)
	}
	place := map[unroll.Kind]int{}
	for i, o := range list {
		place[o.Projection.Kind] = i
	}
	if place[unroll.Cylindrical] > place[unroll.Spherical] || place[unroll.Spherical] > place[unroll.Flat] || place[unroll.Flat] < 4 {
		t.Errorf("in this order: %v", place)
	}
	if o := list[place[unroll.Unfolded]]; o.Why == "" {
		t.Error("a closed wall cannot be unfolded as it is, which should be said")
	}
}
