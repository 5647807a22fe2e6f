package document_test

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
	"morvek/core/meshio/format"
	"morvek/core/seam"
)

// stool is a block on a narrower foot that stands on one side, scaled.
func stool(t *testing.T, scale float64, lay func(r3.Vec) r3.Vec) *mesh.Mesh {
	t.Helper()
	w := meshtest.NewWelder()
	block := func(half, y0, y1 float64) {
		p := func(x, y, z float64) mesh.PointID { return w.Point(lay(r3.Scale(scale, r3.Vec{X: x, Y: y, Z: z}))) }
		a := [4]mesh.PointID{p(-half, y0, -half), p(half, y0, -half), p(half, y0, half), p(-half, y0, half)}
		b := [4]mesh.PointID{p(-half, y1, -half), p(half, y1, -half), p(half, y1, half), p(-half, y1, half)}
		w.Face(a[0], a[1], a[2], a[3])
		w.Face(b[3], b[2], b[1], b[0])
		for k := range 4 {
			w.Face(a[(k+1)%4], a[k], b[k], b[(k+1)%4])
		}
	}
	block(0.05, 0, 0.2)
	block(0.03, 0.21, 0.3)
	return w.Mesh(t)
}

func TestUnitAndUpAreGuessed(t *testing.T) {
	asIs := func(v r3.Vec) r3.Vec { return v }
	standing := func(v r3.Vec) r3.Vec { return r3.Vec{X: v.X, Y: -v.Z, Z: v.Y} } // Y becomes Z
	lying := func(v r3.Vec) r3.Vec { return r3.Vec{X: v.Y, Y: v.X, Z: v.Z} }     // on neither side
	for _, c := range []struct {
		name  string
		scale float64
		lay   func(r3.Vec) r3.Vec
		says  format.Habit
		unit  string
		up    seam.Up
	}{
		{"a stool in metres", 1, asIs, format.Habit{Up: format.OftenY}, "m", seam.UpY},
		{"in millimetres", 1000, asIs, format.Habit{Up: format.OftenY}, "mm", seam.UpY},
		{"in millimetres, Z up", 1000, standing, format.Habit{Up: format.OftenY}, "mm", seam.UpZ},
		{"Z up where Y is laid down", 1, standing, format.Habit{Up: format.AlwaysY}, "m", seam.UpY},
		{"lying", 1, lying, format.Habit{Up: format.OftenY}, "m", seam.UpY},
		{"lying, where Z is usual", 1, lying, format.Habit{Up: format.OftenZ}, "m", seam.UpZ},
		{"a small thing where metres are for smaller ones yet", 10, asIs, format.Habit{Metres: 2}, "mm", seam.UpY},
		{"where metres are for small things", 1, asIs, format.Habit{Metres: 2}, "m", seam.UpY},
		{"Y up where Z is usual", 1, asIs, format.Habit{Up: format.OftenZ}, "m", seam.UpY},
	} {
		s := document.Guess(stool(t, c.scale, c.lay), c.says, document.DefaultSettings())
		if s.Unit != c.unit || s.Up != c.up {
			t.Errorf("%s: unit %s, up %s", c.name, s.Unit, s.Up)
		}
	}
}

// A stack that was made by hand is still one after packing, whatever repeats do by
// themselves; to spread what the settings had stacked takes the settings.
func TestPackingKeepsStacks(t *testing.T) {
	d := edittest.Apply(t, edittest.Cans(t, 3), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{}, &sheetedits.Pack{})
	on := func(d *document.Document) (n int) {
		k := d.State.Stacks()
		for i := range k.Len() {
			n += len(k.Shells(i)) - 1
		}
		return n
	}
	first := document.PartID(-1)
	for _, p := range d.State.Parts {
		if p.RepeatOf != nil {
			first = *p.RepeatOf
		}
	}
	if first < 0 || on(d) != 0 {
		t.Fatalf("no repeats, or %d stacked already", on(d))
	}
	d = edittest.Apply(t, d, &sheetedits.GiveToRepeats{Part: first, Stacked: true})
	stacked := on(d)
	d = edittest.Apply(t, d, &sheetedits.Pack{})
	if on(d) != stacked || stacked == 0 {
		t.Errorf("%d shells were stacked, %d after packing", stacked, on(d))
	}
	if r := edittest.Measure(d); !r.Acceptable() {
		t.Errorf("the packed stack is not acceptable: %+v", r.Totals)
	}
	set := d.State.Settings
	set.Repeats = document.Stack
	d = edittest.Apply(t, d, &sheetedits.Set{Settings: set}, &sheetedits.Pack{})
	set.Repeats = document.Spread
	if d = edittest.Apply(t, d, &sheetedits.Set{Settings: set}, &sheetedits.Pack{}); on(d) != 0 {
		t.Errorf("%d are still stacked after spreading was asked for", on(d))
	}
}
