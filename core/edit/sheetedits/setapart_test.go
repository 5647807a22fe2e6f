package sheetedits_test

import (
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/edittest"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
)

// What overlaps, comes too close or lies outside is mended by laying the smaller ones elsewhere.
func TestShellsInEachOthersWayAreSetApart(t *testing.T) {
	d := scattered(t)
	all := firsts(d)
	d = edittest.Apply(t, d, &sheetedits.Pack{}, &sheetedits.Move{Faces: all, Scale: 0.5, Each: true})
	on := edittest.Apply(t, d, &sheetedits.Move{Faces: all[5:], Shift: r2.Sub(boxes(d)[0].Middle(), boxes(d)[5].Middle())},
		&sheetedits.Move{Faces: all[2:3], Shift: r2.Vec{X: 2}})
	if edittest.Measure(on).Totals.OverlapShare == 0 {
		t.Fatal("nothing overlaps")
	}
	e := &sheetedits.SetApart{Faces: []mesh.FaceID{all[0], all[5], all[2]}}
	mended := edittest.Apply(t, on, e)
	if r := edittest.Measure(mended).Totals; r.OverlapShare != 0 || r.Outside != 0 || r.NearestPx() < 8-1e-6 {
		t.Errorf("mended: %+v", r)
	}
	larger := 0
	if area := document.AreaOf(d.Mesh, on.State.Map.ShellsOf(all[5:])); area > document.AreaOf(d.Mesh, on.State.Map.ShellsOf(all[:1])) {
		larger = 5
	}
	if !same(on, mended, all[larger], all[1], all[3], all[4]) {
		t.Error("the larger one, or one that was not in the way, moved")
	}
	p, err := edit.Preview(t.Context(), on, e)
	if err != nil || p.Said != "2 shells laid elsewhere" {
		t.Errorf("it says %q, %v", p.Said, err)
	}
	edittest.Refused(t, mended, e, "far enough")
}
