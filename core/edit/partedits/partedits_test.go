package partedits_test

import (
	"math"
	"slices"
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
	"morvek/core/shape"
)

func TestMergePartOffAndAssign(t *testing.T) {
	d := edittest.Apply(t, edittest.Cans(t, 1), &partedits.Recognise{})
	edittest.CheckParts(t, d)
	if len(d.State.Parts) != 3 {
		t.Fatalf("a can has %d parts, want wall and two lids", len(d.State.Parts))
	}
	wall := edittest.PartOf(t, d, shape.Cylinder)
	faces := d.State.PartFaces()[wall]

	// Part off three faces: a strip of the wall, still a piece of a cylinder.
	off := edittest.Apply(t, d, &partedits.PartOff{Faces: faces[:3], Name: "label"})
	edittest.CheckParts(t, off)
	label := document.PartID(len(off.State.Parts) - 1)
	if off.State.Parts[label].Name != "label" || len(off.State.PartFaces()[label]) != 3 || off.State.Parts[label].Fit.Kind != shape.Cylinder {
		t.Errorf("the parted-off strip is %+v", off.State.Parts[label])
	}
	// Give it back: the wall is as it was, and so are the cuts.
	back := edittest.Apply(t, off, &partedits.Assign{Faces: faces[:3], To: off.State.PartOf(faces[5])})
	edittest.CheckParts(t, back)
	if !slices.Equal(back.State.Map.Cuts(), d.State.Map.Cuts()) || len(back.State.Parts) != 3 {
		t.Error("giving the faces back does not restore the cuts")
	}
	// Merge wall and a lid: one part, no cut between them.
	lid := edittest.PartOf(t, d, shape.Plane)
	merged := edittest.Apply(t, d, &partedits.Merge{Parts: []document.PartID{wall, lid}})
	edittest.CheckParts(t, merged)
	if len(merged.State.Parts) != 2 {
		t.Errorf("%d parts after merging two of three", len(merged.State.Parts))
	}

	edittest.Refused(t, d, &partedits.Merge{Parts: []document.PartID{wall, wall}}, "two parts or more")
	edittest.Refused(t, d, &partedits.Merge{}, "no part is picked")
	edittest.Refused(t, d, &partedits.Merge{Parts: []document.PartID{0, 99}}, "there is no part 99")
	edittest.Refused(t, d, &partedits.PartOff{}, "no faces are picked")
	edittest.Refused(t, d, &partedits.PartOff{Faces: []mesh.FaceID{-1}}, "there is no face -1")
	edittest.Refused(t, d, &partedits.Assign{Faces: faces[:1], To: 77}, "there is no part 77")
	two := edittest.Apply(t, edittest.Cans(t, 2), &partedits.Recognise{})
	first, last := two.State.PartOf(0), two.State.PartOf(mesh.FaceID(two.Mesh.NumFaces()-1))
	edittest.Refused(t, two, &partedits.Merge{Parts: []document.PartID{first, last}}, "do not touch")
}

func TestShapesSetByHandSurvive(t *testing.T) {
	d := edittest.Apply(t, edittest.Cans(t, 1), &partedits.Recognise{})
	wall := edittest.PartOf(t, d, shape.Cylinder)
	face := d.State.PartFaces()[wall][0]
	set := edittest.Apply(t, d, &partedits.SetShape{Part: wall, Shape: shape.Extruded})
	p := set.State.Parts[set.State.PartOf(face)]
	if p.Fit.Kind != shape.Extruded || !p.Locked || !p.ByHand {
		t.Errorf("after setting the shape the part is %+v", p)
	}
	again := edittest.Apply(t, set, &partedits.Recognise{})
	edittest.CheckParts(t, again)
	if k := again.State.Parts[again.State.PartOf(face)].Fit.Kind; k != shape.Extruded {
		t.Errorf("a locked part became %s", k)
	}
	loose := edittest.Apply(t, again, &partedits.Lock{Parts: []document.PartID{again.State.PartOf(face)}}, &partedits.Recognise{})
	if k := loose.State.Parts[loose.State.PartOf(face)].Fit.Kind; k != shape.Cylinder {
		t.Errorf("an unlocked part stayed %s", k)
	}
	edittest.Refused(t, d, &partedits.SetShape{Part: wall, Shape: "blob"}, "there is no shape")
	edittest.Refused(t, d, &partedits.SetShape{Part: edittest.PartOf(t, d, shape.Plane), Shape: shape.Swept}, "not a tube")
	all := &partedits.Lock{Locked: true}
	for i := range d.State.Parts {
		all.Parts = append(all.Parts, document.PartID(i))
	}
	edittest.Refused(t, edittest.Apply(t, d, all), &partedits.Recognise{}, "locked")
	half := 2.0
	edittest.Refused(t, d, &partedits.Recognise{Reading: document.Reading{Detail: &half}}, "detail goes from 0 to 1")
}

// Sides merged into one part and called a box are laid side by side, true to size.
func TestBoxOfMergedSides(t *testing.T) {
	m := meshtest.Prism(t, 1, r2.Vec{}, r2.Vec{X: 2}, r2.Vec{X: 2, Y: 1}, r2.Vec{Y: 1})
	d := edittest.Apply(t, document.New(m, document.DefaultSettings()), &partedits.Recognise{})
	all := &partedits.Merge{}
	for i := range d.State.Parts {
		all.Parts = append(all.Parts, document.PartID(i))
	}
	d = edittest.Apply(t, d, all, &partedits.SetShape{Part: 0, Shape: shape.Box}, &seamedits.Open{}, &flowedits.Flatten{}, &sheetedits.Pack{})
	edittest.CheckParts(t, d)
	r := edittest.Measure(d)
	if len(d.State.Parts) != 1 || r.Totals.Shells != 6 || math.Abs(r.Totals.L2-1) > 1e-9 || !r.Acceptable() {
		t.Errorf("%d parts, %d shells, L2 %g", len(d.State.Parts), r.Totals.Shells, r.Totals.L2)
	}
}

// Recognising one part again leaves the others, and their map, alone.
func TestRecogniseOnePartAgain(t *testing.T) {
	d := edittest.Apply(t, edittest.Cans(t, 2), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{})
	one := d.State.PartOf(0)
	again := edittest.Apply(t, d, &partedits.Recognise{Parts: []document.PartID{one}})
	edittest.CheckParts(t, again)
	if len(again.State.Parts) != len(d.State.Parts) {
		t.Errorf("%d parts became %d", len(d.State.Parts), len(again.State.Parts))
	}
	for f := range d.Mesh.NumFaces() {
		if mine := d.State.PartOf(mesh.FaceID(f)) == one; again.State.Map.IsMapped(mesh.FaceID(f)) == mine {
			t.Fatalf("face %d: mapped %v, of the part that was read again %v", f, again.State.Map.IsMapped(mesh.FaceID(f)), mine)
		}
	}
}

func TestWeightGivesRoom(t *testing.T) {
	d := edittest.Apply(t, edittest.Cans(t, 1), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{})
	wall := edittest.PartOf(t, d, shape.Cylinder)
	d = edittest.Apply(t, d, &partedits.Weigh{Parts: []document.PartID{wall}, Weight: 2}, &sheetedits.Pack{})
	r := edittest.Measure(d)
	var heavy, light float64
	for _, s := range r.Shells {
		if s.Part == int(wall) {
			heavy = s.Density
		} else {
			light = s.Density
		}
	}
	if math.Abs(heavy/light-2) > 1e-6 {
		t.Errorf("densities %g and %g, want twice as much", heavy, light)
	}
	if math.Abs(r.Totals.DensitySpread-1) > 1e-6 {
		t.Errorf("a wished difference counts as spread %g", r.Totals.DensitySpread)
	}
	for _, f := range r.Findings {
		if f.Kind == "density" {
			t.Error("a wished difference is found fault with")
		}
	}
	edittest.Refused(t, d, &partedits.Weigh{Parts: []document.PartID{wall}, Weight: 0}, "choose 0.05 to 20")
}

func TestRepeatsAreFoundGivenAndStacked(t *testing.T) {
	d := edittest.Apply(t, edittest.Cans(t, 4), &partedits.Recognise{})
	repeats := 0
	for _, p := range d.State.Parts {
		if p.RepeatOf != nil {
			repeats++
		}
	}
	// Three equal cans: two walls and, since the lids of one can are alike, five
	// lids repeat an earlier one; the narrow can's second lid repeats its first.
	if repeats != 8 {
		t.Errorf("%d repeats, want 8", repeats)
	}
	d = edittest.Apply(t, d, &seamedits.Open{}, &flowedits.Flatten{})

	// Stacked by the setting: fewer places, no overlap, the same stretch.
	set := d.State.Settings
	set.Repeats = document.Stack
	stacked := edittest.Apply(t, d, &sheetedits.Set{Settings: set}, &sheetedits.Pack{})
	edittest.CheckParts(t, stacked)
	r := edittest.Measure(stacked)
	if r.Totals.OverlapShare != 0 || r.Totals.Mirrored != 0 || r.Totals.Unmapped != 0 {
		t.Errorf("a stack counts as overlap %g, mirrored %d, unmapped %d", r.Totals.OverlapShare, r.Totals.Mirrored, r.Totals.Unmapped)
	}
	on := 0
	for _, s := range r.Shells {
		if s.StackedOn == nil {
			continue
		}
		on++
		base := r.Shells[*s.StackedOn]
		if base.StackedOn != nil || math.Abs(base.SheetArea-s.SheetArea) > 1e-9 {
			t.Errorf("a shell of area %g lies on one of %g", s.SheetArea, base.SheetArea)
		}
	}
	if on != 8 {
		t.Errorf("%d shells are stacked, want 8", on)
	}
	spread := edittest.Apply(t, d, &sheetedits.Pack{})
	if a, b := edittest.Measure(spread).Totals.MeanDensity, r.Totals.MeanDensity; b < 1.3*a {
		t.Errorf("stacking raised the density from %g to %g only", a, b)
	}

	// A stack moves as one.
	var base mesh.FaceID
	for _, s := range r.Shells {
		if s.StackedOn != nil {
			base = r.Shells[*s.StackedOn].Faces[0]
			break
		}
	}
	moved := edittest.Apply(t, stacked, &sheetedits.Move{Faces: []mesh.FaceID{base}, Shift: r2.Vec{X: 0.001}})
	if o := edittest.Measure(moved).Totals.OverlapShare; o > 1e-3 {
		t.Errorf("moving a stack tears it: overlap %g", o)
	}
	n := 0
	for c := range moved.State.Map.UV() {
		if moved.State.Map.At(mesh.HalfedgeID(c)) != stacked.State.Map.At(mesh.HalfedgeID(c)) {
			n++
		}
	}
	if n < 3*len(d.Mesh.FacePoints(base)) {
		t.Errorf("only %d corners moved", n)
	}
}

// A map given to repeats lies unmirrored and undistorted on each.
func TestGiveMapToRepeats(t *testing.T) {
	d := edittest.Apply(t, edittest.Cans(t, 3), &partedits.Recognise{}, &seamedits.Open{})
	wall := d.State.PartOf(0)
	face := d.State.PartFaces()[wall][0]
	edittest.Refused(t, d, &sheetedits.GiveToRepeats{Part: wall}, "not mapped yet")
	d = edittest.Apply(t, d, &flowedits.Flatten{Faces: []mesh.FaceID{face}}, &sheetedits.GiveToRepeats{Part: wall})
	r := edittest.Measure(d)
	mapped := 0
	for _, s := range r.Shells {
		mapped++
		if s.Mirrored != 0 || math.Abs(s.L2-1) > 1e-9 {
			t.Errorf("a given shell has L2 %g, %d mirrored faces", s.L2, s.Mirrored)
		}
	}
	if mapped != 2 {
		t.Errorf("%d shells, want the wall and its repeat", mapped)
	}
	if r.Totals.OverlapShare != 0 {
		t.Errorf("they overlap by %g", r.Totals.OverlapShare)
	}
	lonely := edittest.Apply(t, edittest.Cans(t, 1), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{})
	edittest.Refused(t, lonely, &sheetedits.GiveToRepeats{Part: edittest.PartOf(t, lonely, shape.Cylinder)}, "has no repeats")
}
