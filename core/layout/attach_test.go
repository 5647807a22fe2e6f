package layout_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/layout"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// attached recognises, opens, attaches and flattens m with the dial as given.
func attached(t testing.TB, m *mesh.Mesh, dial float64) *layout.Document {
	t.Helper()
	set := layout.DefaultSettings()
	set.Dial = dial
	return apply(t, layout.New(m, set), &layout.Recognise{}, &layout.Open{}, &layout.Attach{}, &layout.Flatten{}, &layout.Pack{})
}

func checkAttached(t *testing.T, d *layout.Document, shells int) {
	t.Helper()
	r := measure(d)
	if len(r.Shells) != shells {
		t.Errorf("%d shells, want %d", len(r.Shells), shells)
	}
	if o := r.Totals.OverlapShare; o != 0 {
		t.Errorf("overlap of %g", o)
	}
	for i, s := range r.Shells {
		p := mesh.NewPatch(d.Mesh, s.Faces, d.State.IsCut)
		if !p.IsDisk() || math.Abs(s.L2-1) > 1e-9 || s.Mirrored > 0 || s.GrainErrDeg > 0.5 {
			t.Errorf("shell %d: disk %v, L2 %.12g, %d mirrored, %.2f° off the grain", i, p.IsDisk(), s.L2, s.Mirrored, s.GrainErrDeg)
		}
	}
}

// cuboid is a box of a × b × c with its corner in the origin.
func cuboid(t testing.TB, a, b, c float64) *mesh.Mesh {
	return meshtest.Prism(t, b, r2.Vec{}, r2.Vec{X: a}, r2.Vec{X: a, Y: c}, r2.Vec{Y: c})
}

func TestBoxOfSixFacesAtBothEndsOfTheDial(t *testing.T) {
	m := cuboid(t, 3, 1, 2)
	checkAttached(t, attached(t, m, 1), 6)
	checkAttached(t, attached(t, m, 0), 1)
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
	checkAttached(t, attached(t, b.Mesh(t), 0.5), 2)
}

func TestTurnedAndScaledTheSameStaysAttached(t *testing.T) {
	m := cuboid(t, 3, 1, 2)
	want := len(measure(attached(t, m, 0.5)).Shells)
	turn := r3.NewRotation(0.7, r3.Unit(r3.Vec{X: 1, Y: 2, Z: -1}))
	for _, size := range []float64{1e-3, 1e3} {
		q := meshtest.Mapped(t, m, func(p r3.Vec) r3.Vec { return r3.Scale(size, turn.Rotate(p)) })
		if got := len(measure(attached(t, q, 0.5)).Shells); got != want {
			t.Errorf("size %g: %d shells, want %d", size, got, want)
		}
	}
}

// What is attached comes off when a part gets another density or a place it shares.
func TestPartsComeOffToGoTheirOwnWay(t *testing.T) {
	d := attached(t, cuboid(t, 3, 1, 2), 0)
	d = apply(t, d, &layout.Weigh{Parts: []layout.PartID{2}, Weight: 2}, &layout.Pack{})
	r := measure(d)
	if r.Totals.DensitySpread > 1+1e-9 || r.Totals.OverlapShare != 0 || r.Totals.MinGapPx < 7.9 {
		t.Errorf("weighed: spread %g, overlap %g, gap %g px", r.Totals.DensitySpread, r.Totals.OverlapShare, r.Totals.MinGapPx)
	}
	for _, s := range r.Shells {
		for _, f := range s.Faces {
			if heavy := d.State.PartOf(f) == 2; heavy && len(s.Faces) != 1 {
				t.Error("the weighed part is attached still")
			}
		}
	}

	set := d.State.Settings
	set.Repeats = layout.Stack
	d = apply(t, attached(t, cuboid(t, 3, 1, 2), 0), &layout.Set{Settings: set}, &layout.Pack{})
	r = measure(d)
	stacked := 0
	for _, s := range r.Shells {
		if s.StackedOn != nil {
			stacked++
		}
	}
	if stacked != 3 || r.Totals.OverlapShare != 0 || r.Totals.MinGapPx < 7.9 {
		t.Errorf("%d shells stacked, want one of each pair of sides; overlap %g, gap %g px", stacked, r.Totals.OverlapShare, r.Totals.MinGapPx)
	}
}

// A part whose shell is mostly another's is on the rack when that shell is.
func TestCardCountsASharedShellForEachPart(t *testing.T) {
	set := layout.DefaultSettings()
	set.Dial = 0
	d := apply(t, layout.New(cuboid(t, 3, 1, 2), set), &layout.Recognise{}, &layout.Open{}, &layout.Attach{}, &layout.Flatten{})
	check := func(want layout.Mark) {
		t.Helper()
		for _, r := range d.Card(measure(d)).Rows {
			if got := r.Cells[4].Mark; got != want {
				t.Errorf("%s: the sheet cell says %v, want %v", r.Name, got, want)
			}
		}
	}
	check(layout.Undone)
	d = apply(t, d, &layout.Pack{})
	check(layout.Suggested)
}
