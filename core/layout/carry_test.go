package layout_test

import (
	"context"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/layout"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// Around a box the pattern goes on over all its upright edges that are picked; where two
// walls are of one piece with a third nothing is left over.
func TestPatternIsCarriedAroundABox(t *testing.T) {
	d := layout.New(meshtest.Prism(t, 2, r2.Vec{}, r2.Vec{X: 3}, r2.Vec{X: 3, Y: -1}, r2.Vec{Y: -1}), layout.DefaultSettings())
	d = apply(t, d, &layout.Recognise{}, &layout.Flatten{}, &layout.Pack{})
	m := d.Mesh
	var upright []mesh.EdgeID
	for e := range mesh.EdgeID(m.NumEdges()) {
		if v := m.EdgeVec(m.EdgeHalf(e)); math.Abs(v.Y) > 1 {
			upright = append(upright, e)
			if !d.State.Map.IsCut(e) {
				d = apply(t, d, &layout.Cut{Edges: []mesh.EdgeID{e}})
			}
		}
	}
	d = apply(t, d, &layout.Flatten{}, &layout.Pack{})
	three := upright[:3]
	s, seams, err := (&layout.CarryOver{Edges: three}).Plan(context.Background(), d)
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
	now := apply(t, d, &layout.CarryOver{Edges: three})
	if left := layout.Diff(s, now.State); !left.Empty() {
		t.Error("what was planned is not what was done")
	}
	if measure(now).Totals.Mirrored > 0 || torn(now) > 0 {
		t.Error("shells are torn or mirrored")
	}
	// What stays is where it was, and the others have gone less than a tile.
	stay := seams[0].From
	f := stay
	again := apply(t, d, &layout.CarryOver{Edges: three, From: &f})
	lo, hi := m.Corners(stay)
	for c := lo; c < hi; c++ {
		if again.State.Map.At(c) != d.State.Map.At(c) {
			t.Error("the shell that stays moved")
		}
	}
	refused(t, d, &layout.CarryOver{}, "no edges are picked")
	// All of one material at once; around the box the last seam need not fit.
	all, seams, err := (&layout.CarryOver{Material: true, From: &f}).Plan(context.Background(), d)
	if err != nil || len(seams) < 4 || all == nil {
		t.Errorf("%d seams of the material, %v", len(seams), err)
	}
	refused(t, d, &layout.CarryOver{Material: true}, "pick a face")
}

func TestBordersOfShellsComeOnPixels(t *testing.T) {
	d := apply(t, jar(t, 24), &layout.Recognise{}, &layout.Open{}, &layout.Flatten{}, &layout.Pack{})
	set := d.State.Settings
	set.Sheet.Size = 256
	d = apply(t, d, &layout.Set{Settings: set})
	s, did, err := (&layout.Snap{}).Plan(context.Background(), d)
	if err != nil {
		t.Fatal(err)
	}
	if did.Chains != 4 || did.Moved > math.Sqrt2/2+1e-9 {
		t.Errorf("%+v", did)
	}
	d = apply(t, d, &layout.Snap{Faces: []mesh.FaceID{0}})
	if left := layout.Diff(s, d.State); !left.Empty() {
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
	if straight := measure(d).Shells[0].Straight; straight < 1-1e-9 {
		t.Errorf("%.4f of it is straight", straight)
	}
	refused(t, d, &layout.Snap{}, "no straight border")
}
