package sheetedits_test

import (
	"bytes"
	"context"
	"math"
	"testing"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/edittest"
	"morvek/core/edit/mapedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/meshio"
	"morvek/core/planar"
	"morvek/core/sheet"
)

func TestSettingsOfTheSheetAreOfOneMapAndPackedBy(t *testing.T) {
	d := edittest.Apply(t, edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 0.5), &mapedits.Make{Name: "Boards", Purpose: document.Tiling, All: true})
	set := d.State.Settings.OnSheet
	set.Sheet.Size, set.Sheet.Padding, set.Sheet.Margin, set.Turns = 512, 16, 4, sheet.QuarterTurns
	e := &sheetedits.SetSheet{OnSheet: set, Pack: true}
	packed := edittest.Apply(t, d, e)
	if got := packed.State.Settings.OnSheet; got != set {
		t.Errorf("set is %+v", got)
	}
	if gap := edittest.Measure(packed).Totals.NearestPx(); gap < 4-1e-6 {
		t.Errorf("a gap of %g px", gap)
	}
	two, ok := packed.State.Through(2)
	if !ok || two.Settings.OnSheet != d.State.Settings.OnSheet {
		t.Errorf("the other map is set to %+v", two.Settings.OnSheet)
	}
	p, err := edit.Preview(context.Background(), d, e)
	if err != nil || !p.Whole || !document.Diff(packed.State, p.State).Empty() {
		t.Errorf("the preview is of something else: %v", err)
	}
	set.Sheet.Size = 7
	edittest.Refused(t, d, &sheetedits.SetSheet{OnSheet: set}, "7 px")
}

// Along V instead of U every shell with a grain lies a quarter turn on, and as true to it.
func TestTheGrainGoesAlongVWhereThatIsSet(t *testing.T) {
	d := edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 0.5)
	set := d.State.Settings.OnSheet
	set.GrainOnV = true
	v := edittest.Apply(t, d, &sheetedits.SetSheet{OnSheet: set})
	if was, is := edittest.Measure(d).Totals.GrainOverDeg, edittest.Measure(v).Totals.GrainOverDeg; math.Abs(was-is) > 1e-6 {
		t.Errorf("%g° off the grain along U, %g° along V", was, is)
	}
	turned := false
	for h, q := range v.State.Map.UV() {
		turned = turned || q != d.State.Map.UV()[h]
	}
	if !turned {
		t.Error("nothing was turned")
	}
	set.GrainOnV = false
	if back := edittest.Measure(edittest.Apply(t, v, &sheetedits.SetSheet{OnSheet: set})).Totals.GrainOverDeg; back > 1e-6 {
		t.Errorf("set back it is %g° off", back)
	}
}

// A sheet of 2:1 is packed as one of its width, measured by it, and written so that a picture goes
// from 0 to 1 both ways; read again for such a sheet, everything lies where it lay.
func TestASheetTwiceAsWideAsHigh(t *testing.T) {
	d := edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 0.5)
	set := d.State.Settings.OnSheet
	set.Sheet.Wide = true
	wide := edittest.Apply(t, d, &sheetedits.SetSheet{OnSheet: set, Pack: true})
	box := planar.Bounds(wide.State.Map.UV()...)
	if box.Max.X < 1.5 || box.Max.Y > 1 {
		t.Errorf("the shells span %v", box)
	}
	was := edittest.Measure(wide).Totals
	if was.Outside != 0 || was.OverlapShare != 0 || was.NearestPx() < set.Sheet.Padding-1e-6 || was.L2 > 1+1e-6 {
		t.Errorf("packed it measures %+v", was)
	}
	var file bytes.Buffer
	f, _ := meshio.Of("wide.obj")
	if err := meshio.Write(&file, "wide.obj", wide.Source, wide.Written(f)); err != nil {
		t.Fatal(err)
	}
	m, err := meshio.Read(context.Background(), "wide.obj", meshio.Input{Data: file.Bytes()})
	if err != nil {
		t.Fatal(err)
	}
	for _, q := range m.SourceUV {
		if q.X > 1 {
			t.Fatalf("written is %v", q)
		}
	}
	settings := document.DefaultSettings()
	settings.Sheet.Wide = true
	is := edittest.Measure(document.New(m, settings)).Totals
	for what, pair := range map[string][2]float64{"coverage": {was.Coverage, is.Coverage}, "L2": {was.L2, is.L2}, "density": {was.MeanDensity, is.MeanDensity}, "gap": {was.NearestPx(), is.NearestPx()}} {
		if math.Abs(pair[0]-pair[1]) > 1e-6*pair[0] {
			t.Errorf("%s is %g, read again %g", what, pair[0], pair[1])
		}
	}
	edittest.Refused(t, wide, &sheetedits.SetSheet{OnSheet: func() document.OnSheet { s := set; s.Sheet.Tiles = 2; return s }()}, "one tile")
	tiling := edittest.Apply(t, d, &mapedits.Make{Name: "Boards", Purpose: document.Tiling, All: true})
	two, _ := tiling.State.Through(2)
	edittest.Refused(t, d.With(two), &sheetedits.SetSheet{OnSheet: set}, "tiling")
}
