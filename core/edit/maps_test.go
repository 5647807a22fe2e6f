package edit_test

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"reflect"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/mapedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/core/proof"
	"morvek/core/report"
)

// through is a document seen through another of its maps.
func through(t *testing.T, d *document.Document, id document.MapID) *document.Document {
	t.Helper()
	s, ok := d.State.Through(id)
	if !ok {
		t.Fatalf("there is no map %d among %v", id, d.State.Maps())
	}
	return d.With(s)
}

// withMap has a tiling map 2 beside its first, with a copy of all shells.
func withMap(t *testing.T) *document.Document {
	t.Helper()
	return edittest.Apply(t, edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 0.5), &mapedits.Make{Name: "Boards", Purpose: document.Tiling, All: true})
}

func TestAMapIsMadeWithCopiesAndIsApart(t *testing.T) {
	d := withMap(t)
	if got := d.State.Maps(); !reflect.DeepEqual(got, []document.MapHead{{ID: 1, Name: "Map 1", Purpose: document.Unique}, {ID: 2, Name: "Boards", Purpose: document.Tiling}}) {
		t.Fatalf("the maps are %v", got)
	}
	two := through(t, d, 2)
	if !reflect.DeepEqual(two.State.Map.UV(), d.State.Map.UV()) || !reflect.DeepEqual(two.State.Map.Cuts(), d.State.Map.Cuts()) || len(edittest.Measure(two).Shells) != len(edittest.Measure(d).Shells) {
		t.Error("the copies do not lie where the shells do")
	}
	if two.State.Parts[0].Method != d.State.Parts[0].Method || two.State.Parts[0].Method == "" {
		t.Errorf("how the part is laid: %q, there %q", d.State.Parts[0].Method, two.State.Parts[0].Method)
	}
	was := slices.Clone(d.State.Map.UV())
	moved := edittest.Apply(t, two, &sheetedits.Move{Faces: []mesh.FaceID{0}, Shift: r2.Vec{X: 3}}, &partedits.Weigh{Parts: []document.PartID{0}, Weight: 2})
	one := through(t, moved, 1)
	if !reflect.DeepEqual(one.State.Map.UV(), was) || one.State.Parts[0].Weight != 0 || moved.State.Parts[0].Weight != 2 {
		t.Error("what is done in one map is seen in another")
	}
	// Outside and on each other is a finding where every place is its own, and none where it tiles.
	on := edittest.Apply(t, moved, &sheetedits.Move{Faces: []mesh.FaceID{0}, Shift: r2.Vec{X: -0.1, Y: 0.1}})
	if kinds := findings(edittest.Measure(on)); len(kinds) > 0 {
		t.Errorf("in a tiling map: %v", kinds)
	}
	if kinds := findings(edittest.Measure(edittest.Apply(t, on, &mapedits.Set{Name: "Boards", Purpose: document.Unique}))); !slices.Contains(kinds, proof.Outside) {
		t.Errorf("in a unique map: %v", kinds)
	}
}

// findings are the kinds of finding about where shells lie.
func findings(r proof.Report) (out []string) {
	for _, f := range r.Findings {
		if slices.Contains([]string{proof.Overlap, proof.Outside, proof.TooClose, proof.Wasted}, f.Kind) {
			out = append(out, f.Kind)
		}
	}
	return out
}

func TestTheCardOfATilingMapAsksForNothingThatIsNotThere(t *testing.T) {
	d := edittest.Apply(t, edittest.Cans(t, 2), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{}, &sheetedits.Pack{}, &mapedits.Make{Name: "Boards", Purpose: document.Tiling, Faces: []mesh.FaceID{0}})
	two := edittest.Apply(t, through(t, d, 2), &sheetedits.Move{Faces: []mesh.FaceID{0}, Shift: r2.Vec{X: 3, Y: -9}})
	r := edittest.Measure(two)
	c := report.CardOf(two, r)
	if c.ToDo != [6]int{} || len(r.Findings) > 0 || r.Totals.Unmapped == 0 {
		t.Errorf("left to do are %v, findings %v", c.ToDo, r.Findings)
	}
	unique := edittest.Apply(t, two, &mapedits.Set{Name: "Boards", Purpose: document.Unique})
	if c := report.CardOf(unique, edittest.Measure(unique)); c.ToDo[1] == 0 || c.ToDo[4] == 0 {
		t.Errorf("of a unique map left to do are %v", c.ToDo)
	}
}

func TestABlankMapHasNothingButSeams(t *testing.T) {
	d := edittest.Apply(t, edittest.Jar(t, 16), &partedits.Recognise{}, &mapedits.Make{Name: "Paint", Purpose: document.Unique})
	two := through(t, d, 2).State
	if two.Map.AnyMapped() {
		t.Error("something is mapped")
	}
	for e := range two.Map.Cuts() {
		a, b := d.Mesh.EdgeFaces(mesh.EdgeID(e))
		if want := b == mesh.None || two.PartOf(a) != two.PartOf(b); want && !two.Map.IsCut(mesh.EdgeID(e)) {
			t.Fatalf("edge %d between two parts is not cut", e)
		}
	}
}

func TestShellsAreCopiedFaceByFace(t *testing.T) {
	d := edittest.Apply(t, edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 0.5), &mapedits.Make{Name: "Boards", Purpose: document.Tiling}, &mapedits.Copy{Faces: []mesh.FaceID{0}, To: 2})
	two := through(t, d, 2).State
	shells, of := d.State.Map.Shells()
	for f := range d.Mesh.NumFaces() {
		face := mesh.FaceID(f)
		if want := slices.Contains(shells[of[0]].Faces, face); two.Map.IsMapped(face) != want {
			t.Errorf("face %d is mapped: %v, want %v", f, !want, want)
		}
	}
	edittest.Refused(t, d, &mapedits.Copy{Faces: []mesh.FaceID{0}, To: 1}, "already")
	edittest.Refused(t, d, &mapedits.Copy{Faces: []mesh.FaceID{0}, To: 7}, "no map 7")
	edittest.Refused(t, d, &mapedits.Copy{To: 2}, "no shell")
	edittest.Refused(t, d, &mapedits.Remove{Map: 1}, "shown")
	edittest.Refused(t, d, &mapedits.Make{Name: " ", Purpose: document.Unique}, "needs a name")
	edittest.Refused(t, d, &mapedits.Make{Name: "a", Purpose: "both"}, "unique or tiling")
	bare := d.With(two)
	edittest.Refused(t, edittest.Apply(t, bare, &sheetedits.Clear{}), &mapedits.Copy{Faces: []mesh.FaceID{0}, To: 1}, "not mapped in Boards")
	gone := edittest.Apply(t, bare, &mapedits.Remove{Map: 1})
	if len(gone.State.Maps()) != 1 || gone.State.Shown.ID != 2 {
		t.Errorf("left are %v", gone.State.Maps())
	}
}

// mapEdit is a random edit of maps or parts.
func mapEdit(r *rand.Rand, d *document.Document) edit.Edit {
	face := func() mesh.FaceID { return mesh.FaceID(r.IntN(d.Mesh.NumFaces())) }
	part := func() document.PartID { return document.PartID(r.IntN(len(d.State.Parts))) }
	purpose := document.Purposes[r.IntN(2)]
	switch r.IntN(11) {
	case 0:
		return &mapedits.Make{Name: fmt.Sprint("map ", r.IntN(9)), Purpose: purpose, All: r.IntN(2) == 0}
	case 1:
		return &mapedits.Make{Name: "picked", Purpose: purpose, Faces: []mesh.FaceID{face()}}
	case 2:
		return &mapedits.Set{Name: fmt.Sprint("called ", r.IntN(9)), Purpose: purpose}
	case 3:
		return &mapedits.Remove{Map: document.MapID(1 + r.IntN(4))}
	case 4, 5:
		return &mapedits.Copy{Faces: []mesh.FaceID{face(), face()}, To: document.MapID(1 + r.IntN(4))}
	case 6:
		return &partedits.PartOff{Faces: []mesh.FaceID{face()}}
	case 7:
		return &partedits.Merge{Parts: []document.PartID{part(), part()}}
	case 8:
		return &partedits.Assign{Faces: []mesh.FaceID{face()}, To: part()}
	case 9:
		return &partedits.Weigh{Parts: []document.PartID{part()}, Weight: 0.5 + r.Float64()}
	}
	return &partedits.Recognise{}
}

// Whatever is done through whichever map: it leads there and back whichever map somebody sees
// it through, survives the store, and leaves the places in all other maps as they were.
func TestAnySequenceOfEditsThroughAnyMap(t *testing.T) {
	made := map[string]int{}
	for seed := range uint64(10) {
		r := rand.New(rand.NewPCG(seed, 7))
		d := edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 0.5)
		any := func() document.MapID { list := d.State.Maps(); return list[r.IntN(len(list))].ID }
		for step := range 60 {
			d = through(t, d, any())
			e := mapEdit(r, d)
			if r.IntN(3) == 0 {
				e = anything(r, d)
			}
			s, err := e.Apply(context.Background(), d, nil)
			if errors.Is(err, document.ErrRefused) {
				continue
			}
			if err != nil {
				t.Fatalf("seed %d, step %d, %s: %v", seed, step, e.Kind(), err)
			}
			made[e.Kind()]++
			said := fmt.Sprintf("seed %d, step %d, %s through map %d of %v", seed, step, e.Kind(), d.State.Shown.ID, d.State.Maps())
			if err := s.Fits(); err != nil {
				t.Fatalf("%s: %v", said, err)
			}
			b, err := document.Diff(d.State, s).MarshalBinary()
			if err != nil {
				t.Fatal(err)
			}
			var delta document.Delta
			if err := delta.UnmarshalBinary(b); err != nil {
				t.Fatalf("%s: %v", said, err)
			}
			same := func(what string, want, got *document.State, err error) {
				t.Helper()
				if err != nil {
					t.Fatalf("%s: %s: %v", said, what, err)
				}
				for _, h := range want.Maps() {
					a, _ := want.Through(h.ID)
					b, ok := got.Through(h.ID)
					if !ok {
						t.Fatalf("%s: %s has no map %d", said, what, h.ID)
					}
					if left := document.Diff(a, b); !left.Empty() {
						t.Fatalf("%s: %s leads elsewhere in map %d: %+v", said, what, h.ID, left)
					}
				}
			}
			from := through(t, d, any()).State
			redone, err := delta.Redo(from)
			same("redo", s, redone, err)
			undone, err := delta.Undo(redone)
			same("undo", d.State, undone, err)
			stored, err := s.MarshalBinary()
			if err != nil {
				t.Fatal(err)
			}
			restored, err := document.Restore(d.Source, stored)
			if err != nil {
				t.Fatalf("%s: %v", said, err)
			}
			same("the store", s, restored.State, nil)
			if e.Kind() != "copy-shells" {
				for _, h := range d.State.Maps() {
					was, _ := d.State.Through(h.ID)
					if now, ok := s.Through(h.ID); ok && h.ID != s.Shown.ID && now.Map != was.Map {
						t.Fatalf("%s moved shells in map %d", said, h.ID)
					}
				}
			}
			d = d.With(s)
		}
	}
	for _, kind := range []string{"make-map", "set-map", "remove-map", "copy-shells", "part-off", "merge", "weigh", "assign"} {
		if made[kind] == 0 {
			t.Errorf("%s was never possible: %v", kind, made)
		}
	}
}
