package sheetedits_test

import (
	"testing"

	"morvek/core/edit"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/lay"
)

// Seen from the front, what is left and above on the model mostly is so on the sheet.
func TestShellsAreArrangedAsOnTheModel(t *testing.T) {
	d := edittest.Apply(t, edittest.Cans(t, 4), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{})
	e := &sheetedits.Arrange{From: "front"}
	a := edittest.Apply(t, d, e)
	r := edittest.Measure(a)
	if r.Totals.OverlapShare != 0 || r.Totals.Outside != 0 || r.Totals.NearestPx() < 8-1e-6 || r.Totals.DensitySpread > 1+1e-9 {
		t.Errorf("%+v", r.Totals)
	}
	list, b := lay.Units(a.State), boxes(a)
	right, wrong := 0, 0
	for i := range list {
		for k := range list {
			x := a.Mesh.FaceCentre(list[i].Faces[0]).X - a.Mesh.FaceCentre(list[k].Faces[0]).X
			if u := b[i].Middle().X - b[k].Middle().X; x*u > 0 && (x > 1.5 || x < -1.5) {
				right++
			} else if x > 1.5 || x < -1.5 {
				wrong++
			}
		}
	}
	if right < 3*wrong || right == 0 {
		t.Errorf("%d pairs lie as on the model, %d do not", right, wrong)
	}
	p, err := edit.Preview(t.Context(), d, e)
	if err != nil || !p.Whole {
		t.Errorf("its price is not said: %v", err)
	}
	edittest.Refused(t, d, &sheetedits.Arrange{From: "inside"}, "inside")
}
