package sheetedits_test

import (
	"math"
	"slices"
	"strings"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/planar"
	"morvek/core/proof"
)

// same tells whether the shells of some faces lie where they lay, to the bit.
func same(a, b *document.Document, faces ...mesh.FaceID) bool {
	for _, f := range a.State.Map.ShellsOf(faces) {
		lo, hi := a.Mesh.Corners(f)
		for h := lo; h < hi; h++ {
			if a.State.Map.At(h) != b.State.Map.At(h) {
				return false
			}
		}
	}
	return true
}

// What waits is laid into the room the others leave, which stay to the bit; what finds none
// stays on the rack.
func TestRackedShellsFindRoom(t *testing.T) {
	d := scattered(t)
	all := firsts(d)
	d = edittest.Apply(t, d, &sheetedits.Pack{}, &sheetedits.Move{Faces: all, Scale: 0.5, Each: true})
	racked := edittest.Apply(t, d, &sheetedits.ToRack{Faces: all[1:4]})
	e := &sheetedits.Pack{Rack: true}
	filled := edittest.Apply(t, racked, e)
	if !same(racked, filled, all[0], all[4], all[5]) {
		t.Error("what lay on the sheet moved")
	}
	r := edittest.Measure(filled)
	if r.Totals.OverlapShare != 0 || r.Totals.Outside != 0 || r.Totals.NearestPx() < 8-1e-6 || r.Totals.DensitySpread > 1+1e-9 {
		t.Errorf("%+v", r.Totals)
	}
	// Those that are picked go elsewhere, the others stay; too large ones wait.
	picked := edittest.Apply(t, filled, &sheetedits.Pack{Faces: all[2:3]})
	if !same(filled, picked, all[0], all[1], all[3], all[4], all[5]) {
		t.Error("what was not picked moved")
	}
	large := edittest.Apply(t, filled, &sheetedits.Move{Faces: all[:1], Scale: 9})
	e = &sheetedits.Pack{Faces: all[:1], How: lay.How{Sizes: lay.Fixed}}
	large = edittest.Apply(t, large, e)
	if b := boxes(large)[0]; b.Max.Y > 0 {
		t.Errorf("too large it lies at %v", b)
	}
	if s, err := e.Apply(t.Context(), large, nil); err != nil || e.Describe() != "lay shells into free room: 0 found some, 1 waits on the rack" || s == nil {
		t.Errorf("it says %q, %v", e.Describe(), err)
	}
	edittest.Refused(t, d, &sheetedits.Pack{Rack: true}, "no shell waits")
	edittest.Refused(t, d, &sheetedits.Pack{How: lay.How{Sizes: "huge"}}, "huge")
}

// Locked shells stay to the bit whatever packing does.
func TestLockedShellsStay(t *testing.T) {
	d := scattered(t)
	all := firsts(d)
	d = edittest.Apply(t, d, &sheetedits.Pack{}, &sheetedits.Move{Faces: all[3:4], Scale: 0.7}, &sheetedits.Lock{Faces: all[3:4], Locked: true})
	p := edittest.Apply(t, d, &sheetedits.Pack{})
	if !same(d, p, all[3]) || same(d, p, all[0]) {
		t.Error("the locked one moved, or nothing did")
	}
	if r := edittest.Measure(p); r.Totals.OverlapShare != 0 || r.Totals.NearestPx() < 8-1e-6 {
		t.Errorf("%+v", r.Totals)
	}
	edittest.Refused(t, p, &sheetedits.Pack{Faces: all[3:4]}, "locked")
	edittest.Refused(t, p, &sheetedits.Density{Faces: all[3:4], PxPerUnit: 10}, "locked")
	free := edittest.Apply(t, p, &sheetedits.Lock{Faces: all[3:4]}, &sheetedits.Pack{})
	if same(p, free, all[3]) {
		t.Error("let go of, it stays")
	}
}

// Sizes stay as they are to each other, or exactly, on as many tiles as that takes.
func TestPackingKeepsSizesWhereAsked(t *testing.T) {
	d := scattered(t)
	all := firsts(d)
	density := func(d *document.Document) (out []float64) {
		for _, s := range edittest.Measure(d).Shells {
			out = append(out, s.Density)
		}
		return out
	}
	d = edittest.Apply(t, d, &sheetedits.Density{PxPerUnit: 300}, &sheetedits.Density{Faces: all[:2], PxPerUnit: 150})
	kept := density(edittest.Apply(t, d, &sheetedits.Pack{How: lay.How{Sizes: lay.Kept}}))
	for i, v := range kept {
		want := kept[5]
		if i < 2 {
			want /= 2
		}
		if math.Abs(v/want-1) > 1e-9 {
			t.Errorf("shell %d: %g px, want %g", i, v, want)
		}
	}
	large := edittest.Apply(t, d, &sheetedits.Density{PxPerUnit: 650}, &sheetedits.Pack{How: lay.How{Sizes: lay.Fixed}})
	for i, v := range density(large) {
		if math.Abs(v-650) > 1e-6 {
			t.Errorf("shell %d has %g px, 650 were set", i, v)
		}
	}
	n := large.State.Settings.Sheet.Tiles
	r := edittest.Measure(large)
	if n < 2 || r.Totals.Outside != 0 || r.Totals.OverlapShare != 0 || r.Totals.NearestPx() < 8-1e-6 {
		t.Errorf("%d tiles, %+v", n, r.Totals)
	}
	huge := edittest.Apply(t, d, &sheetedits.Density{PxPerUnit: 5000})
	edittest.Refused(t, huge, &sheetedits.Pack{How: lay.How{Sizes: lay.Fixed}}, "do not fit on 10 tiles")
	if _, err := (&sheetedits.Pack{How: lay.How{Sizes: lay.Fixed}}).Apply(t.Context(), huge, nil); !strings.HasPrefix(document.Plainly(err), "so large") {
		t.Errorf("people read %q", document.Plainly(err))
	}
}

// Density is set, taken over, made equal; weights count each time, and twice they multiply.
func TestDensityIsSetAndTakenOver(t *testing.T) {
	d := scattered(t)
	all := firsts(d)
	density := func(d *document.Document, i int) float64 { return edittest.Measure(d).Shells[i].Density }
	even0 := edittest.Apply(t, d, &sheetedits.Pack{})
	set := edittest.Apply(t, d, &sheetedits.Density{Faces: all[:1], PxPerUnit: 512})
	if v := density(set, 0); math.Abs(v-512) > 1e-6 {
		t.Errorf("%g px, 512 were set", v)
	}
	like := edittest.Apply(t, set, &sheetedits.Density{Faces: all[1:3], Like: &all[0]})
	for _, i := range []int{1, 2} {
		if v := density(like, i); math.Abs(v-512) > 1e-6 {
			t.Errorf("shell %d took over %g px", i, v)
		}
	}
	// One that differs is found, and mended to what all others have.
	odd := edittest.Apply(t, even0, &sheetedits.Density{Faces: all[:1], PxPerUnit: 3 * density(even0, 0)})
	var found []mesh.FaceID
	for _, f := range edittest.Measure(odd).Findings {
		if f.Kind == proof.Density {
			found = append(found, f.Faces...)
		}
	}
	if len(found) == 0 || len(odd.State.Map.ShellsOf(found)) != len(odd.State.Map.ShellsOf(all[:1])) {
		t.Errorf("found at %v", found)
	}
	if v := density(edittest.Apply(t, odd, &sheetedits.Density{Faces: found, AsAll: true}), 0); math.Abs(v/density(even0, 1)-1) > 1e-9 {
		t.Errorf("mended it has %g px, the others %g", v, density(even0, 1))
	}
	even := edittest.Apply(t, set, &sheetedits.Density{})
	if s := edittest.Measure(even).Totals.DensitySpread; s > 1+1e-9 {
		t.Errorf("made equal, the spread is %g", s)
	}
	// Scaling is about the middle of each.
	for i, b := range boxes(even) {
		if r2.Norm(r2.Sub(b.Middle(), boxes(set)[i].Middle())) > 1e-12 {
			t.Errorf("shell %d went from %v to %v", i, boxes(set)[i], b)
		}
	}
	p := even.State.PartOf(all[4])
	light := edittest.Apply(t, even, &sheetedits.WeighFaces{Faces: even.State.PartFaces()[p], Weight: 0.5}, &partedits.Weigh{Parts: []document.PartID{p}, Weight: 0.5}, &sheetedits.Pack{})
	if v := density(light, 4) / density(light, 0); math.Abs(v-0.25) > 1e-9 {
		t.Errorf("weighed twice by half it has %g of the density", v)
	}
	if s := edittest.Measure(light).Totals.DensitySpread; s > 1+1e-9 {
		t.Errorf("weights count as a spread of %g", s)
	}
	wide := edittest.Apply(t, d, &sheetedits.Density{Faces: all[:1], Across: 3})
	if w := boxes(wide)[0].Size().X; math.Abs(w-3) > 1e-9 {
		t.Errorf("3 tiles across are %g", w)
	}
	edittest.Refused(t, d, &sheetedits.Density{PxPerUnit: 3, Across: 2}, "choose one")
	edittest.Refused(t, d, &sheetedits.Density{PxPerUnit: -3}, "-3 px")
	edittest.Refused(t, d, &sheetedits.WeighFaces{Faces: all[:1], Weight: 90}, "90")
}

// What nobody sees gets less room in one go: the underside and the back of a block.
func TestHiddenShellsGetLessRoom(t *testing.T) {
	d := edittest.Apply(t, document.New(edittest.Cuboid(t, 3, 1, 2), document.DefaultSettings()), &partedits.Recognise{}, &flowedits.Flatten{}, &sheetedits.Pack{})
	e := &sheetedits.WeighFaces{Hidden: 0.3, Weight: 0.25}
	w := edittest.Apply(t, d, e, &sheetedits.Pack{})
	light := 0
	for _, s := range edittest.Measure(w).Shells {
		if s.Weight == 0.25 {
			light++
		} else if s.Weight != 1 {
			t.Errorf("a shell weighs %g", s.Weight)
		}
	}
	if light == 0 || light == 6 {
		t.Errorf("%d shells of a block are hidden", light)
	}
	if _, err := e.Apply(t.Context(), d, nil); err != nil || e.Describe() == (&sheetedits.WeighFaces{Hidden: 0.3, Weight: 0.25}).Describe() {
		t.Errorf("it does not say how many: %q, %v", e.Describe(), err)
	}
}

// Shells of a material, of an object or those that are picked lie together in rectangles.
func TestShellsAreGroupedInBlocks(t *testing.T) {
	d := edittest.Plates(t) // two of ash, one of steel
	blocks := func(d *document.Document, one ...int) (planar.Box, planar.Box) {
		var a, b []r2.Vec
		for i, x := range boxes(d) {
			if slices.Contains(one, i) {
				a = append(a, x.Min, x.Max)
			} else {
				b = append(b, x.Min, x.Max)
			}
		}
		return planar.Bounds(a...), planar.Bounds(b...)
	}
	all := firsts(d)
	for _, c := range []struct {
		how lay.How
		one []int
	}{{lay.How{Blocks: lay.ByMaterial}, []int{2}}, {lay.How{Blocks: lay.ByPick, Picked: all[1:2]}, []int{1}}, {lay.How{Blocks: lay.ByPick, Picked: []mesh.FaceID{all[0], all[2]}, Sizes: lay.Kept}, []int{0, 2}}} {
		p := edittest.Apply(t, d, &sheetedits.Pack{How: c.how})
		a, b := blocks(p, c.one...)
		if a.Within(b, (8-1e-6)/2048) {
			t.Errorf("%+v: %v and %v", c.how, a, b)
		}
		if r := edittest.Measure(p).Totals; r.OverlapShare != 0 || r.Outside != 0 || r.NearestPx() < 8-1e-6 || r.DensitySpread > 1+1e-9 {
			t.Errorf("%+v: %+v", c.how, r)
		}
	}
	pieces := edittest.Apply(t, d, &sheetedits.Pack{How: lay.How{Blocks: lay.ByObject}}) // each plate is one
	if r := edittest.Measure(pieces).Totals; r.OverlapShare != 0 || r.NearestPx() < 8-1e-6 {
		t.Errorf("by object: %+v", r)
	}
	edittest.Refused(t, d, &sheetedits.Pack{How: lay.How{Blocks: "colour"}}, "colour")
	edittest.Refused(t, d, &sheetedits.Pack{How: lay.How{Blocks: lay.ByPick}}, "no shell is picked")
	edittest.Refused(t, d, &sheetedits.Pack{How: lay.How{Blocks: lay.ByMaterial, Sizes: lay.Fixed}}, "scaled together")
}
