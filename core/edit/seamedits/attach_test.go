package seamedits_test

import (
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/report"
)

func TestBoxOfSixFacesAtBothEndsOfTheDial(t *testing.T) {
	m := edittest.Cuboid(t, 3, 1, 2)
	edittest.CheckAttached(t, edittest.Attached(t, m, 1), 6)
	edittest.CheckAttached(t, edittest.Attached(t, m, 0), 1)
}

func TestFlatsOfANutStayInOneStrip(t *testing.T) {
	b := meshtest.NewWelder()
	at := func(x, y, z float64) mesh.PointID { return b.Point(r3.Vec{X: x, Y: y, Z: z}) }
	b.Face(at(-5, -3, 5), at(5, -3, 5), at(5, -3, -5), at(-5, -3, -5)) // what it stands on
	flats := meshtest.Circle(1, 6)
	for i, p := range flats {
		q := flats[(i+1)%6]
		b.Face(at(p.X, 0, p.Y), at(p.X, 0.8, p.Y), at(q.X, 0.8, q.Y), at(q.X, 0, q.Y))
	}
	edittest.CheckAttached(t, edittest.Attached(t, b.Mesh(t), 0.5), 2)
}

func TestTurnedAndScaledTheSameStaysAttached(t *testing.T) {
	m := edittest.Cuboid(t, 3, 1, 2)
	want := len(edittest.Measure(edittest.Attached(t, m, 0.5)).Shells)
	turn := r3.NewRotation(0.7, r3.Unit(r3.Vec{X: 1, Y: 2, Z: -1}))
	for _, size := range []float64{1e-3, 1e3} {
		q := meshtest.Mapped(t, m, func(p r3.Vec) r3.Vec { return r3.Scale(size, turn.Rotate(p)) })
		if got := len(edittest.Measure(edittest.Attached(t, q, 0.5)).Shells); got != want {
			t.Errorf("size %g: %d shells, want %d", size, got, want)
		}
	}
}

// What is attached comes off when a part gets another density or a place it shares.
func TestPartsComeOffToGoTheirOwnWay(t *testing.T) {
	d := edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 0)
	d = edittest.Apply(t, d, &partedits.Weigh{Parts: []document.PartID{2}, Weight: 2}, &sheetedits.Pack{})
	r := edittest.Measure(d)
	if r.Totals.DensitySpread > 1+1e-9 || r.Totals.OverlapShare != 0 || r.Totals.NearestPx() < 7.9 {
		t.Errorf("weighed: spread %g, overlap %g, gap %g px", r.Totals.DensitySpread, r.Totals.OverlapShare, r.Totals.NearestPx())
	}
	for _, s := range r.Shells {
		for _, f := range s.Faces {
			if heavy := d.State.PartOf(f) == 2; heavy && len(s.Faces) != 1 {
				t.Error("the weighed part is attached still")
			}
		}
	}

	set := d.State.Settings
	set.Repeats = document.Stack
	d = edittest.Apply(t, edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 0), &sheetedits.Set{Settings: set}, &sheetedits.Pack{})
	r = edittest.Measure(d)
	stacked := 0
	for _, s := range r.Shells {
		if s.StackedOn != nil {
			stacked++
		}
	}
	if stacked != 3 || r.Totals.OverlapShare != 0 || r.Totals.NearestPx() < 7.9 {
		t.Errorf("%d shells stacked, want one of each pair of sides; overlap %g, gap %g px", stacked, r.Totals.OverlapShare, r.Totals.NearestPx())
	}
}

// A part whose shell is mostly another's is on the rack when that shell is.
func TestCardCountsASharedShellForEachPart(t *testing.T) {
	set := document.DefaultSettings()
	set.Dial = 0
	d := edittest.Apply(t, document.New(edittest.Cuboid(t, 3, 1, 2), set), &partedits.Recognise{}, &seamedits.Open{}, &seamedits.Attach{}, &flowedits.Flatten{})
	check := func(want report.Mark) {
		t.Helper()
		for _, r := range report.CardOf(d, edittest.Measure(d)).Rows {
			if got := r.Cells[4].Mark; got != want {
				t.Errorf("%s: the sheet cell says %v, want %v", r.Name, got, want)
			}
		}
	}
	check(report.Undone)
	d = edittest.Apply(t, d, &sheetedits.Pack{})
	check(report.Suggested)
}
