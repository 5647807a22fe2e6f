package layout_test

import (
	"context"
	"errors"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/layout"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// bollard is an open tube of three walls with two cones between them, radius 1, 1.06, 1.
func bollard(t *testing.T) *layout.Document {
	t.Helper()
	m := meshtest.Lathe(t, 24, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 2}, r2.Vec{X: 1.06, Y: 2.1}, r2.Vec{X: 1.06, Y: 3}, r2.Vec{X: 1, Y: 3.1}, r2.Vec{X: 1, Y: 5})
	return layout.New(m, layout.DefaultSettings())
}

func atDetail(x float64) layout.Reading { return layout.Reading{Detail: &x} }

// A wall with a bead is one part, and its five pieces at full detail; splitting it and
// uniting one of them walk the same way.
func TestDetailWalksTheReading(t *testing.T) {
	d := apply(t, bollard(t), &layout.Recognise{})
	checkParts(t, d)
	if n := len(d.State.Parts); n != 1 || d.State.Parts[0].Fit.Kind != shape.Turned {
		t.Fatalf("%d parts, the first %s; want one turned wall", n, d.State.Parts[0].Fit.Kind)
	}
	fine := apply(t, d, &layout.Detail{Reading: atDetail(1)})
	checkParts(t, fine)
	split := apply(t, d, &layout.Split{Part: 0})
	checkParts(t, split)
	for name, s := range map[string]*layout.Document{"detail": fine, "split": split} {
		kinds := map[shape.Kind]int{}
		for _, p := range s.State.Parts {
			kinds[p.Fit.Kind]++
		}
		if len(s.State.Parts) != 5 || kinds[shape.Cylinder] != 3 || kinds[shape.Cone] != 2 {
			t.Errorf("%s gives %v, want three walls and two cones", name, kinds)
		}
	}
	if fine.State.Settings.Detail() != 1 || split.State.Settings.Detail() != 0.5 {
		t.Errorf("the document says detail %g and %g", fine.State.Settings.Detail(), split.State.Settings.Detail())
	}
	for p := range split.State.Parts {
		one := apply(t, split, &layout.Unite{Part: layout.PartID(p)})
		checkParts(t, one)
		if len(one.State.Parts) != 1 || one.State.Parts[0].Fit.Kind != shape.Turned || len(one.State.Parts[0].Pieces) != 5 {
			t.Errorf("uniting piece %d gives %d parts", p, len(one.State.Parts))
		}
	}
	refused(t, d, &layout.Unite{Part: 0}, "part of nothing larger")
	refused(t, split, &layout.Split{Part: 0}, "read as one thing")
	refused(t, bollard(t), &layout.Detail{Reading: atDetail(0.3)}, "nothing is recognised")
	refused(t, d, &layout.Detail{Reading: atDetail(1.5)}, "detail goes from 0 to 1")
	locked := apply(t, split, &layout.Lock{Parts: []layout.PartID{1}, Locked: true})
	refused(t, locked, &layout.Unite{Part: 0}, "is locked")
	if still := apply(t, locked, &layout.Detail{Reading: atDetail(0)}); len(still.State.Parts) != 5 {
		t.Errorf("%d parts around a locked one, want 5 as before", len(still.State.Parts))
	}
}

// What reads the same keeps its name, its map and its seams when the detail changes.
func TestDetailLeavesWhatReadsTheSame(t *testing.T) {
	d := apply(t, cans(t, 2), &layout.Recognise{}, &layout.Open{}, &layout.Flatten{})
	name := &layout.Rename{Part: 0, Name: "front of the house"}
	d = apply(t, d, name)
	next := apply(t, d, &layout.Detail{Reading: atDetail(0.9)})
	if next.State.Parts[0].Name != "front of the house" {
		t.Errorf("the part is called %s", next.State.Parts[0].Name)
	}
	for e, cut := range d.State.Map.Cuts() {
		if next.State.Map.IsCut(mesh.EdgeID(e)) != cut {
			t.Fatalf("edge %d changed", e)
		}
	}
	for f, mapped := range d.State.Map.Mapped() {
		if next.State.Map.IsMapped(mesh.FaceID(f)) != mapped {
			t.Fatalf("face %d lost its place", f)
		}
	}
}

// The last stop of the detail is what hangs together, and every part has a name of its own.
func TestDetailEndsAtWhatHangsTogether(t *testing.T) {
	d := apply(t, cans(t, 3), &layout.Recognise{})
	whole := apply(t, d, &layout.Detail{Reading: atDetail(0)})
	checkParts(t, whole)
	if n := len(whole.State.Parts); n != 3 {
		t.Errorf("%d parts, want three cans", n)
	}
	one := apply(t, d, &layout.Unite{Part: partOf(t, d, shape.Plane)})
	if n := len(one.State.Parts); n != 7 {
		t.Errorf("%d parts after uniting one can of three", n)
	}
	for _, s := range []*layout.Document{whole, one, apply(t, one, &layout.Split{Part: 6})} {
		names := map[string]bool{}
		for _, p := range s.State.Parts {
			if names[p.Name] {
				t.Errorf("two parts are called %s", p.Name)
			}
			names[p.Name] = true
		}
	}
}

// An opening stays when a wall is split, and pieces that are united again get no more.
func TestSplitKeepsOpenings(t *testing.T) {
	d := apply(t, bollard(t), &layout.Recognise{}, &layout.Open{})
	split := apply(t, d, &layout.Split{Part: 0})
	checkParts(t, split)
	for e, cut := range d.State.Map.Cuts() {
		if cut && !split.State.Map.IsCut(mesh.EdgeID(e)) {
			t.Fatalf("the cut at edge %d is gone", e)
		}
	}
	again := apply(t, split, &layout.Unite{Part: 2})
	for e, cut := range d.State.Map.Cuts() {
		if again.State.Map.IsCut(mesh.EdgeID(e)) != cut {
			t.Fatalf("edge %d is cut: %v, was %v", e, again.State.Map.IsCut(mesh.EdgeID(e)), cut)
		}
	}
}

func TestReadingIsCancelled(t *testing.T) {
	d := bollard(t)
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := (&layout.Recognise{}).Apply(ctx, d, nil); !errors.Is(err, context.Canceled) {
		t.Errorf("error %v, want cancelled", err)
	}
	apply(t, d, &layout.Recognise{}) // nothing half read was kept
}
