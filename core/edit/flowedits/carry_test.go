package flowedits_test

import (
	"context"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// Around a box the pattern goes on over all its upright edges that are picked; where two
// walls are of one piece with a third nothing is left over.
func TestPatternIsCarriedAroundABox(t *testing.T) {
	d := document.New(meshtest.Prism(t, 2, r2.Vec{}, r2.Vec{X: 3}, r2.Vec{X: 3, Y: -1}, r2.Vec{Y: -1}), document.DefaultSettings())
	d = edittest.Apply(t, d, &partedits.Recognise{}, &flowedits.Flatten{}, &sheetedits.Pack{})
	m := d.Mesh
	var upright []mesh.EdgeID
	for e := range mesh.EdgeID(m.NumEdges()) {
		if v := m.EdgeVec(m.EdgeHalf(e)); math.Abs(v.Y) > 1 {
			upright = append(upright, e)
			if !d.State.Map.IsCut(e) {
				d = edittest.Apply(t, d, &seamedits.Cut{Edges: []mesh.EdgeID{e}})
			}
		}
	}
	d = edittest.Apply(t, d, &flowedits.Flatten{}, &sheetedits.Pack{})
	three := upright[:3]
	s, seams, err := (&flowedits.CarryOver{Edges: three}).Plan(context.Background(), d)
	if err != nil {
		t.Fatal(err)
	}
	if len(seams) != 3 {
		t.Fatalf("%d seams", len(seams))
	}
	for _, c := range seams {
		if c.Offset > 1e-9 {
			t.Errorf("%g of a tile is left at a seam", c.Offset)
		}
	}
	now := edittest.Apply(t, d, &flowedits.CarryOver{Edges: three})
	if left := document.Diff(s, now.State); !left.Empty() {
		t.Error("what was planned is not what was done")
	}
	if edittest.Measure(now).Totals.Mirrored > 0 || edittest.Torn(now) > 0 {
		t.Error("shells are torn or mirrored")
	}
	// What stays is where it was, and the others have gone less than a tile.
	stay := seams[0].From
	f := stay
	again := edittest.Apply(t, d, &flowedits.CarryOver{Edges: three, From: &f})
	lo, hi := m.Corners(stay)
	for c := lo; c < hi; c++ {
		if again.State.Map.At(c) != d.State.Map.At(c) {
			t.Error("the shell that stays moved")
		}
	}
	edittest.Refused(t, d, &flowedits.CarryOver{}, "no edges are picked")
	// All of one material at once; around the box the last seam need not fit.
	all, seams, err := (&flowedits.CarryOver{Material: true, From: &f}).Plan(context.Background(), d)
	if err != nil || len(seams) < 4 || all == nil {
		t.Errorf("%d seams of the material, %v", len(seams), err)
	}
	edittest.Refused(t, d, &flowedits.CarryOver{Material: true}, "pick a face")
}

func TestBordersOfShellsComeOnPixels(t *testing.T) {
	d := edittest.Apply(t, edittest.Jar(t, 24), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{}, &sheetedits.Pack{})
	set := d.State.Settings
	set.Sheet.Size = 256
	d = edittest.Apply(t, d, &sheetedits.Set{Settings: set})
	s, did, err := (&flowedits.Snap{}).Plan(context.Background(), d)
	if err != nil {
		t.Fatal(err)
	}
	if did.Chains != 4 || did.Moved > math.Sqrt2/2+1e-9 {
		t.Errorf("%+v", did)
	}
	d = edittest.Apply(t, d, &flowedits.Snap{Faces: []mesh.FaceID{0}})
	if left := document.Diff(s, d.State); !left.Empty() {
		t.Error("what was planned is not what was done")
	}
	for c := range d.State.Map.UV() {
		h := mesh.HalfedgeID(c)
		if e := d.Mesh.Edge(h); d.Mesh.Twin(h) != mesh.None && !d.State.Map.IsCut(e) {
			continue
		}
		a, b := d.State.Map.At(h), d.State.Map.At(d.Mesh.Next(h))
		x := 256 * a.X
		if math.Abs(a.Y-b.Y) < math.Abs(a.X-b.X) {
			x = 256 * a.Y
		}
		if x != math.Round(x) {
			t.Fatalf("a border lies at %.6f px", x)
		}
	}
	if straight := edittest.Measure(d).Shells[0].Straight; straight < 1-1e-9 {
		t.Errorf("%.4f of it is straight", straight)
	}
	edittest.Refused(t, d, &flowedits.Snap{}, "no straight border")
}
