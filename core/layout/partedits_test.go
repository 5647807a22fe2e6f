package layout_test

import (
	"context"
	"errors"
	"math"
	"slices"
	"strings"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/layout"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// cans is a row of n equal cans with lids, the last one narrower.
func cans(t *testing.T, n int) *layout.Document {
	t.Helper()
	w := meshtest.NewWelder()
	for k := range n {
		r := 1.0
		if k == n-1 && n > 1 {
			r = 0.7
		}
		o := r3.Vec{X: 4 * float64(k)}
		const sides = 16
		ring := func(y float64) (out []mesh.PointID) {
			for i := range sides {
				s, c := math.Sincos(2 * math.Pi * float64(i) / sides)
				out = append(out, w.Point(r3.Add(o, r3.Vec{X: r * s, Y: y, Z: r * c})))
			}
			return out
		}
		low, high := ring(0), ring(2)
		for i := range sides {
			j := (i + 1) % sides
			w.Face(low[i], low[j], high[j], high[i])
		}
		slices.Reverse(low)
		w.Face(low...)
		w.Face(high...)
	}
	return layout.New(w.Mesh(t), layout.DefaultSettings())
}

func refused(t *testing.T, d *layout.Document, e layout.Edit, says string) {
	t.Helper()
	_, err := e.Apply(context.Background(), d, nil)
	if !errors.Is(err, layout.ErrRefused) || !strings.Contains(err.Error(), says) {
		t.Errorf("%s: error %v, want a refusal that says %q", e.Kind(), err, says)
	}
}

func partOf(t *testing.T, d *layout.Document, k shape.Kind) layout.PartID {
	t.Helper()
	for i, p := range d.State.Parts {
		if p.Fit.Kind == k {
			return layout.PartID(i)
		}
	}
	t.Fatalf("no part is %s", k)
	return 0
}

// checkParts holds what is true of every state: faces belong to parts that exist,
// parts have faces, and cuts run along their borders.
func checkParts(t *testing.T, d *layout.Document) {
	t.Helper()
	if err := d.State.Fits(); err != nil {
		t.Fatal(err)
	}
	for i, f := range d.State.PartFaces() {
		if len(f) == 0 {
			t.Errorf("part %d, %s, has no faces", i, d.State.Parts[i].Name)
		}
	}
	for e := range d.Mesh.NumEdges() {
		a, b := d.Mesh.EdgeFaces(mesh.EdgeID(e))
		if b != mesh.None && d.State.PartOf(a) != d.State.PartOf(b) && !d.State.Map.IsCut(mesh.EdgeID(e)) {
			t.Errorf("edge %d between two parts is not cut", e)
		}
	}
	for i, p := range d.State.Parts {
		for _, q := range []*layout.PartID{p.RepeatOf, p.StackedOn} {
			if q != nil && (*q < 0 || int(*q) >= len(d.State.Parts) || int(*q) == i) {
				t.Errorf("part %d refers to part %d of %d", i, *q, len(d.State.Parts))
			}
		}
	}
}

func TestMergePartOffAndAssign(t *testing.T) {
	d := apply(t, cans(t, 1), &layout.Recognise{})
	checkParts(t, d)
	if len(d.State.Parts) != 3 {
		t.Fatalf("a can has %d parts, want wall and two lids", len(d.State.Parts))
	}
	wall := partOf(t, d, shape.Cylinder)
	faces := d.State.PartFaces()[wall]

	// Part off three faces: a strip of the wall, still a piece of a cylinder.
	off := apply(t, d, &layout.PartOff{Faces: faces[:3], Name: "label"})
	checkParts(t, off)
	label := layout.PartID(len(off.State.Parts) - 1)
	if off.State.Parts[label].Name != "label" || len(off.State.PartFaces()[label]) != 3 || off.State.Parts[label].Fit.Kind != shape.Cylinder {
		t.Errorf("the parted-off strip is %+v", off.State.Parts[label])
	}
	// Give it back: the wall is as it was, and so are the cuts.
	back := apply(t, off, &layout.Assign{Faces: faces[:3], To: off.State.PartOf(faces[5])})
	checkParts(t, back)
	if !slices.Equal(back.State.Map.Cuts(), d.State.Map.Cuts()) || len(back.State.Parts) != 3 {
		t.Error("giving the faces back does not restore the cuts")
	}
	// Merge wall and a lid: one part, no cut between them.
	lid := partOf(t, d, shape.Plane)
	merged := apply(t, d, &layout.Merge{Parts: []layout.PartID{wall, lid}})
	checkParts(t, merged)
	if len(merged.State.Parts) != 2 {
		t.Errorf("%d parts after merging two of three", len(merged.State.Parts))
	}

	refused(t, d, &layout.Merge{Parts: []layout.PartID{wall, wall}}, "two parts or more")
	refused(t, d, &layout.Merge{}, "no part is picked")
	refused(t, d, &layout.Merge{Parts: []layout.PartID{0, 99}}, "there is no part 99")
	refused(t, d, &layout.PartOff{}, "no faces are picked")
	refused(t, d, &layout.PartOff{Faces: []mesh.FaceID{-1}}, "there is no face -1")
	refused(t, d, &layout.Assign{Faces: faces[:1], To: 77}, "there is no part 77")
	two := apply(t, cans(t, 2), &layout.Recognise{})
	first, last := two.State.PartOf(0), two.State.PartOf(mesh.FaceID(two.Mesh.NumFaces()-1))
	refused(t, two, &layout.Merge{Parts: []layout.PartID{first, last}}, "do not touch")
}

func TestShapesSetByHandSurvive(t *testing.T) {
	d := apply(t, cans(t, 1), &layout.Recognise{})
	wall := partOf(t, d, shape.Cylinder)
	face := d.State.PartFaces()[wall][0]
	set := apply(t, d, &layout.SetShape{Part: wall, Shape: shape.Extruded})
	p := set.State.Parts[set.State.PartOf(face)]
	if p.Fit.Kind != shape.Extruded || !p.Locked || !p.ByHand {
		t.Errorf("after setting the shape the part is %+v", p)
	}
	again := apply(t, set, &layout.Recognise{})
	checkParts(t, again)
	if k := again.State.Parts[again.State.PartOf(face)].Fit.Kind; k != shape.Extruded {
		t.Errorf("a locked part became %s", k)
	}
	loose := apply(t, again, &layout.Lock{Parts: []layout.PartID{again.State.PartOf(face)}}, &layout.Recognise{})
	if k := loose.State.Parts[loose.State.PartOf(face)].Fit.Kind; k != shape.Cylinder {
		t.Errorf("an unlocked part stayed %s", k)
	}
	refused(t, d, &layout.SetShape{Part: wall, Shape: "blob"}, "there is no shape")
	refused(t, d, &layout.SetShape{Part: partOf(t, d, shape.Plane), Shape: shape.Swept}, "not a tube")
	all := &layout.Lock{Locked: true}
	for i := range d.State.Parts {
		all.Parts = append(all.Parts, layout.PartID(i))
	}
	refused(t, apply(t, d, all), &layout.Recognise{}, "locked")
	half := 2.0
	refused(t, d, &layout.Recognise{Reading: layout.Reading{Detail: &half}}, "detail goes from 0 to 1")
}

// Sides merged into one part and called a box are laid side by side, true to size.
func TestBoxOfMergedSides(t *testing.T) {
	m := meshtest.Prism(t, 1, r2.Vec{}, r2.Vec{X: 2}, r2.Vec{X: 2, Y: 1}, r2.Vec{Y: 1})
	d := apply(t, layout.New(m, layout.DefaultSettings()), &layout.Recognise{})
	all := &layout.Merge{}
	for i := range d.State.Parts {
		all.Parts = append(all.Parts, layout.PartID(i))
	}
	d = apply(t, d, all, &layout.SetShape{Part: 0, Shape: shape.Box}, &layout.Open{}, &layout.Flatten{}, &layout.Pack{})
	checkParts(t, d)
	r := measure(d)
	if len(d.State.Parts) != 1 || r.Totals.Shells != 6 || math.Abs(r.Totals.L2-1) > 1e-9 || !r.Acceptable() {
		t.Errorf("%d parts, %d shells, L2 %g", len(d.State.Parts), r.Totals.Shells, r.Totals.L2)
	}
}

// Recognising one part again leaves the others, and their map, alone.
func TestRecogniseOnePartAgain(t *testing.T) {
	d := apply(t, cans(t, 2), &layout.Recognise{}, &layout.Open{}, &layout.Flatten{})
	one := d.State.PartOf(0)
	again := apply(t, d, &layout.Recognise{Parts: []layout.PartID{one}})
	checkParts(t, again)
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
	d := apply(t, cans(t, 1), &layout.Recognise{}, &layout.Open{}, &layout.Flatten{})
	wall := partOf(t, d, shape.Cylinder)
	d = apply(t, d, &layout.Weigh{Parts: []layout.PartID{wall}, Weight: 2}, &layout.Pack{})
	r := measure(d)
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
	refused(t, d, &layout.Weigh{Parts: []layout.PartID{wall}, Weight: 0}, "choose 0.05 to 20")
}

func TestRepeatsAreFoundGivenAndStacked(t *testing.T) {
	d := apply(t, cans(t, 4), &layout.Recognise{})
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
	d = apply(t, d, &layout.Open{}, &layout.Flatten{})

	// Stacked by the setting: fewer places, no overlap, the same stretch.
	set := d.State.Settings
	set.Repeats = layout.Stack
	stacked := apply(t, d, &layout.Set{Settings: set}, &layout.Pack{})
	checkParts(t, stacked)
	r := measure(stacked)
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
	spread := apply(t, d, &layout.Pack{})
	if a, b := measure(spread).Totals.MeanDensity, r.Totals.MeanDensity; b < 1.3*a {
		t.Errorf("stacking raised the density from %g to %g only", a, b)
	}

	// A stack moves as one.
	var base mesh.FaceID
	for _, p := range stacked.State.Parts {
		if p.StackedOn != nil {
			base = stacked.State.PartFaces()[*p.StackedOn][0]
			break
		}
	}
	moved := apply(t, stacked, &layout.Move{Faces: []mesh.FaceID{base}, Shift: r2.Vec{X: 0.001}})
	if o := measure(moved).Totals.OverlapShare; o > 1e-3 {
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
	d := apply(t, cans(t, 3), &layout.Recognise{}, &layout.Open{})
	wall := d.State.PartOf(0)
	face := d.State.PartFaces()[wall][0]
	refused(t, d, &layout.GiveToRepeats{Part: wall}, "not mapped yet")
	d = apply(t, d, &layout.Flatten{Faces: []mesh.FaceID{face}}, &layout.GiveToRepeats{Part: wall})
	r := measure(d)
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
	lonely := apply(t, cans(t, 1), &layout.Recognise{}, &layout.Open{}, &layout.Flatten{})
	refused(t, lonely, &layout.GiveToRepeats{Part: partOf(t, lonely, shape.Cylinder)}, "has no repeats")
}
