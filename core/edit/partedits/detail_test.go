package partedits_test

import (
	"context"
	"errors"
	"testing"

	"morvek/core/document"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/core/mesh"
	"morvek/core/shape"
)

// A wall with a bead is one part, and its five pieces at full detail; splitting it and
// uniting one of them walk the same way.
func TestDetailWalksTheReading(t *testing.T) {
	d := edittest.Apply(t, edittest.Bollard(t), &partedits.Recognise{})
	edittest.CheckParts(t, d)
	if n := len(d.State.Parts); n != 1 || d.State.Parts[0].Fit.Kind != shape.Turned {
		t.Fatalf("%d parts, the first %s; want one turned wall", n, d.State.Parts[0].Fit.Kind)
	}
	fine := edittest.Apply(t, d, &partedits.Detail{Reading: edittest.AtDetail(1)})
	edittest.CheckParts(t, fine)
	split := edittest.Apply(t, d, &partedits.Split{Part: 0})
	edittest.CheckParts(t, split)
	for name, s := range map[string]*document.Document{"detail": fine, "split": split} {
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
		one := edittest.Apply(t, split, &partedits.Unite{Part: document.PartID(p)})
		edittest.CheckParts(t, one)
		if len(one.State.Parts) != 1 || one.State.Parts[0].Fit.Kind != shape.Turned || len(one.State.Parts[0].Pieces) != 5 {
			t.Errorf("uniting piece %d gives %d parts", p, len(one.State.Parts))
		}
	}
	edittest.Refused(t, d, &partedits.Unite{Part: 0}, "part of nothing larger")
	edittest.Refused(t, split, &partedits.Split{Part: 0}, "read as one thing")
	edittest.Refused(t, edittest.Bollard(t), &partedits.Detail{Reading: edittest.AtDetail(0.3)}, "nothing is recognised")
	edittest.Refused(t, d, &partedits.Detail{Reading: edittest.AtDetail(1.5)}, "detail goes from 0 to 1")
	locked := edittest.Apply(t, split, &partedits.Lock{Parts: []document.PartID{1}, Locked: true})
	edittest.Refused(t, locked, &partedits.Unite{Part: 0}, "is locked")
	if still := edittest.Apply(t, locked, &partedits.Detail{Reading: edittest.AtDetail(0)}); len(still.State.Parts) != 5 {
		t.Errorf("%d parts around a locked one, want 5 as before", len(still.State.Parts))
	}
}

// What reads the same keeps its name, its map and its seams when the detail changes.
func TestDetailLeavesWhatReadsTheSame(t *testing.T) {
	d := edittest.Apply(t, edittest.Cans(t, 2), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{})
	name := &partedits.Rename{Part: 0, Name: "front of the house"}
	d = edittest.Apply(t, d, name)
	next := edittest.Apply(t, d, &partedits.Detail{Reading: edittest.AtDetail(0.9)})
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
	d := edittest.Apply(t, edittest.Cans(t, 3), &partedits.Recognise{})
	whole := edittest.Apply(t, d, &partedits.Detail{Reading: edittest.AtDetail(0)})
	edittest.CheckParts(t, whole)
	if n := len(whole.State.Parts); n != 3 {
		t.Errorf("%d parts, want three cans", n)
	}
	one := edittest.Apply(t, d, &partedits.Unite{Part: edittest.PartOf(t, d, shape.Plane)})
	if n := len(one.State.Parts); n != 7 {
		t.Errorf("%d parts after uniting one can of three", n)
	}
	for _, s := range []*document.Document{whole, one, edittest.Apply(t, one, &partedits.Split{Part: 6})} {
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
	d := edittest.Apply(t, edittest.Bollard(t), &partedits.Recognise{}, &seamedits.Open{})
	split := edittest.Apply(t, d, &partedits.Split{Part: 0})
	edittest.CheckParts(t, split)
	for e, cut := range d.State.Map.Cuts() {
		if cut && !split.State.Map.IsCut(mesh.EdgeID(e)) {
			t.Fatalf("the cut at edge %d is gone", e)
		}
	}
	again := edittest.Apply(t, split, &partedits.Unite{Part: 2})
	for e, cut := range d.State.Map.Cuts() {
		if again.State.Map.IsCut(mesh.EdgeID(e)) != cut {
			t.Fatalf("edge %d is cut: %v, was %v", e, again.State.Map.IsCut(mesh.EdgeID(e)), cut)
		}
	}
}

func TestReadingIsCancelled(t *testing.T) {
	d := edittest.Bollard(t)
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := (&partedits.Recognise{}).Apply(ctx, d, nil); !errors.Is(err, context.Canceled) {
		t.Errorf("error %v, want cancelled", err)
	}
	edittest.Apply(t, d, &partedits.Recognise{}) // nothing half read was kept
}
