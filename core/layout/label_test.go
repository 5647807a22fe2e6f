package layout_test

import (
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/layout"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/proof"
	"morvek/core/sheet"
)

// box is a block with all of its job done.
func box(t *testing.T, turns sheet.Turns) *layout.Document {
	t.Helper()
	set := layout.DefaultSettings()
	set.Turns = turns
	d := layout.New(meshtest.Prism(t, 2, r2.Vec{}, r2.Vec{X: 3}, r2.Vec{X: 3, Y: -1}, r2.Vec{Y: -1}), set)
	return apply(t, d, &layout.Recognise{}, &layout.Flatten{}, &layout.Pack{})
}

// side returns the faces that look along n.
func side(d *layout.Document, n r3.Vec) (out []mesh.FaceID) {
	for f, m := range d.Mesh.FaceNormals() {
		if r3.Dot(m, n) > 0.99 {
			out = append(out, mesh.FaceID(f))
		}
	}
	return out
}

func found(d *layout.Document) map[string]float64 {
	out := map[string]float64{}
	for _, f := range measure(d).Findings {
		out[f.Kind] = f.Value
	}
	return out
}

func TestALabelReads(t *testing.T) {
	for _, turns := range []sheet.Turns{sheet.NoTurns, sheet.HalfTurns, sheet.QuarterTurns, sheet.AnyTurns} {
		d := box(t, turns)
		front := side(d, r3.Vec{Z: 1})
		if len(front) == 0 {
			front = side(d, r3.Vec{Z: -1})
		}
		for quarters := range 4 { // packing must not turn it, whichever way it stands
			l := apply(t, d, &layout.SetLabel{Faces: front, Word: "Fennhollow", Quarters: quarters}, &layout.Pack{})
			r := measure(l)
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
	d := box(t, sheet.HalfTurns)
	front := side(d, r3.Vec{Z: 1})
	if len(front) == 0 {
		front = side(d, r3.Vec{Z: -1})
	}
	d = apply(t, d, &layout.SetLabel{Faces: front, Word: "Fennhollow"})
	if f := found(d); f[proof.LabelAskew] != 0 {
		t.Fatalf("it reads, but %v is found", f)
	}
	turned := apply(t, d, &layout.Move{Faces: front[:1], TurnDeg: 30})
	if v := found(turned)[proof.LabelAskew]; v < 29.99 || v > 30.01 {
		t.Errorf("turned by 30°: %g° off", v)
	}
	if v := found(apply(t, d, &layout.Move{Faces: front[:1], TurnDeg: 180}))[proof.LabelAskew]; v < 179.99 {
		t.Errorf("on its head: %g° off", v)
	}
	if _, ok := found(apply(t, d, &layout.Move{Faces: front[:1], Flip: true}))[proof.LabelMirrored]; !ok {
		t.Error("mirrored, and not found")
	}
	// Oriented by loops again it stands.
	if r := measure(apply(t, turned, &layout.Orient{Faces: front[:1]})); !r.Labels[0].Reads() {
		t.Errorf("oriented: %+v", r.Labels[0])
	}
	// It goes with its faces, and away.
	gone := apply(t, d, &layout.SetLabel{Faces: front[:1]})
	if len(gone.State.Wishes.Labels) != 0 {
		t.Error("the label is still there")
	}
	refused(t, gone, &layout.SetLabel{Faces: front[:1]}, "carry no label")
	refused(t, gone, &layout.SetLabel{Word: "nowhere"}, "no faces are picked")
	refused(t, gone, &layout.SetLabel{Faces: meshtest.All(d.Mesh), Word: "all over"}, "look all ways")
	refused(t, gone, &layout.SetLabel{Faces: []mesh.FaceID{99999}, Word: "far"}, "no face 99999")
	both := append(side(d, r3.Vec{Y: 1}), side(d, r3.Vec{Y: -1})...)
	refused(t, gone, &layout.SetLabel{Faces: both, Word: "top and bottom"}, "hang together")
}

// Suggested cuts leave a label whole; a cut by hand stands, and is said.
func TestALabelStaysWhole(t *testing.T) {
	d := apply(t, jar(t, 24), &layout.Recognise{})
	var back []mesh.FaceID // where the opening would go, of an angle of 75°
	for f := range mesh.FaceID(d.Mesh.NumFaces()) {
		if n := d.Mesh.FaceNormals()[f]; n.Z < -0.75 {
			back = append(back, f)
		}
	}
	d = apply(t, d, &layout.SetLabel{Faces: back, Word: "Storm lamp oil"}, &layout.Open{}, &layout.Flatten{}, &layout.Pack{})
	r := measure(d)
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
	cut := apply(t, d, &layout.Cut{Edges: across}, &layout.Flatten{})
	if v := found(cut)[proof.LabelCut]; v != 2 {
		t.Errorf("cut through %d edges it lies on %g shells", len(across), v)
	}
}
