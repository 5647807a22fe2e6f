package flowedits_test

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
	"morvek/core/proof"
	"morvek/core/sheet"
)

func found(d *document.Document) map[string]float64 {
	out := map[string]float64{}
	for _, f := range edittest.Measure(d).Findings {
		out[f.Kind] = f.Value
	}
	return out
}

func TestALabelReads(t *testing.T) {
	for _, turns := range []sheet.Turns{sheet.NoTurns, sheet.HalfTurns, sheet.QuarterTurns, sheet.AnyTurns} {
		d := edittest.Box(t, turns)
		front := edittest.Side(d, r3.Vec{Z: 1})
		if len(front) == 0 {
			front = edittest.Side(d, r3.Vec{Z: -1})
		}
		for quarters := range 4 { // packing must not turn it, whichever way it stands
			l := edittest.Apply(t, d, &flowedits.SetLabel{Faces: front, Word: "Fennhollow", Quarters: quarters}, &sheetedits.Pack{})
			r := edittest.Measure(l)
			if len(r.Labels) != 1 || !r.Labels[0].Reads() || r.Labels[0].OffDeg > 1e-6 {
				t.Errorf("turns %s, quarter %d: %+v", turns, quarters, r.Labels)
			}
			if !r.Acceptable() {
				t.Errorf("turns %s: %+v", turns, r.Totals)
			}
		}
	}
}

func TestLabelsThatDoNotReadAreFound(t *testing.T) {
	d := edittest.Box(t, sheet.HalfTurns)
	front := edittest.Side(d, r3.Vec{Z: 1})
	if len(front) == 0 {
		front = edittest.Side(d, r3.Vec{Z: -1})
	}
	d = edittest.Apply(t, d, &flowedits.SetLabel{Faces: front, Word: "Fennhollow"})
	if f := found(d); f[proof.LabelAskew] != 0 {
		t.Fatalf("it reads, but %v is found", f)
	}
	turned := edittest.Apply(t, d, &sheetedits.Move{Faces: front[:1], TurnDeg: 30})
	if v := found(turned)[proof.LabelAskew]; v < 29.99 || v > 30.01 {
		t.Errorf("turned by 30°: %g° off", v)
	}
	if v := found(edittest.Apply(t, d, &sheetedits.Move{Faces: front[:1], TurnDeg: 180}))[proof.LabelAskew]; v < 179.99 {
		t.Errorf("on its head: %g° off", v)
	}
	if _, ok := found(edittest.Apply(t, d, &sheetedits.Move{Faces: front[:1], Flip: true}))[proof.LabelMirrored]; !ok {
		t.Error("mirrored, and not found")
	}
	// Oriented by loops again it stands.
	if r := edittest.Measure(edittest.Apply(t, turned, &flowedits.Orient{Faces: front[:1]})); !r.Labels[0].Reads() {
		t.Errorf("oriented: %+v", r.Labels[0])
	}
	// It goes with its faces, and away.
	gone := edittest.Apply(t, d, &flowedits.SetLabel{Faces: front[:1]})
	if len(gone.State.Wishes.Labels) != 0 {
		t.Error("the label is still there")
	}
	edittest.Refused(t, gone, &flowedits.SetLabel{Faces: front[:1]}, "carry no label")
	edittest.Refused(t, gone, &flowedits.SetLabel{Word: "nowhere"}, "no faces are picked")
	edittest.Refused(t, gone, &flowedits.SetLabel{Faces: meshtest.All(d.Mesh), Word: "all over"}, "look all ways")
	edittest.Refused(t, gone, &flowedits.SetLabel{Faces: []mesh.FaceID{99999}, Word: "far"}, "no face 99999")
	both := append(edittest.Side(d, r3.Vec{Y: 1}), edittest.Side(d, r3.Vec{Y: -1})...)
	edittest.Refused(t, gone, &flowedits.SetLabel{Faces: both, Word: "top and bottom"}, "hang together")
}

// Suggested cuts leave a label whole; a cut by hand stands, and is said.
func TestALabelStaysWhole(t *testing.T) {
	d := edittest.Apply(t, edittest.Jar(t, 24), &partedits.Recognise{})
	var back []mesh.FaceID // where the opening would go, of an angle of 75°
	for f := range mesh.FaceID(d.Mesh.NumFaces()) {
		if n := d.Mesh.FaceNormals()[f]; n.Z < -0.75 {
			back = append(back, f)
		}
	}
	d = edittest.Apply(t, d, &flowedits.SetLabel{Faces: back, Word: "Storm lamp oil"}, &seamedits.Open{}, &flowedits.Flatten{}, &sheetedits.Pack{})
	r := edittest.Measure(d)
	if len(r.Labels) != 1 || !r.Labels[0].Reads() {
		t.Fatalf("%+v", r.Labels)
	}
	var across []mesh.EdgeID
	for _, e := range d.Mesh.EdgesWithin(back) {
		h := d.Mesh.EdgeHalf(e)
		if a, b := d.Mesh.Points[d.Mesh.From(h)], d.Mesh.Points[d.Mesh.To(h)]; a.X == b.X && a.X*a.X < 0.01 {
			across = append(across, e)
		}
	}
	cut := edittest.Apply(t, d, &seamedits.Cut{Edges: across}, &flowedits.Flatten{})
	if v := found(cut)[proof.LabelCut]; v != 2 {
		t.Errorf("cut through %d edges it lies on %g shells", len(across), v)
	}
}
