package sheetedits_test

import (
	"context"
	"math"
	"testing"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/edittest"
	"morvek/core/edit/mapedits"
	"morvek/core/edit/sheetedits"
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
	if gap := edittest.Measure(packed).Totals.MinGapPx; gap < 4-1e-6 {
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
