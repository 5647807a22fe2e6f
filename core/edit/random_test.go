package edit_test

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math/rand/v2"
	"reflect"
	"strings"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/mapedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/flow"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/proof"
)

// anything is a random edit of seams or shells that may or may not be possible.
func anything(r *rand.Rand, d *document.Document) edit.Edit {
	edges := func() (out []mesh.EdgeID) {
		if r.IntN(3) == 0 { // a whole loop
			return d.Mesh.Loop(mesh.EdgeID(r.IntN(d.Mesh.NumEdges()))).Edges
		}
		for range 1 + r.IntN(4) {
			out = append(out, mesh.EdgeID(r.IntN(d.Mesh.NumEdges())))
		}
		return out
	}
	faces := func() (out []mesh.FaceID) {
		for range 1 + r.IntN(6) {
			out = append(out, mesh.FaceID(r.IntN(d.Mesh.NumFaces())))
		}
		return out
	}
	corners := func() (out []mesh.HalfedgeID) {
		for range 1 + r.IntN(3) {
			out = append(out, mesh.HalfedgeID(r.IntN(d.Mesh.NumCorners())))
		}
		return out
	}
	switch r.IntN(20) {
	case 0:
		return &seamedits.Cut{Edges: edges()}
	case 1:
		return &seamedits.Close{Edges: edges()}
	case 2, 3:
		return &seamedits.Join{Edges: edges(), Chain: r.IntN(2) == 0}
	case 4:
		return &seamedits.Hold{Edges: edges(), Held: r.IntN(2) == 0}
	case 5:
		return &seamedits.Keep{Faces: faces(), Whole: r.IntN(2) == 0}
	case 6:
		return &seamedits.ShellOff{Faces: faces()}
	case 7:
		return &seamedits.HandOver{Faces: faces()}
	case 8:
		return &seamedits.JoinGroup{Faces: faces(), Limit: 1 + 0.1*r.Float64()}
	case 9:
		return &flowedits.Flatten{}
	case 10:
		return &flowedits.Fill{Faces: faces()}
	case 11:
		return &flowedits.Nudge{Corners: corners(), Shift: r2.Vec{X: 0.1 * r.NormFloat64(), Y: 0.1 * r.NormFloat64()}, Reach: r.Float64()}
	case 12:
		return &flowedits.Pin{Corners: corners(), Pinned: r.IntN(3) > 0}
	case 13:
		return &flowedits.Relax{Corners: corners(), Reach: r.Float64(), HoldBorder: r.IntN(2) == 0, Axis: []string{"u", "v", "both"}[r.IntN(3)], MaxIterations: 4}
	case 14:
		return &flowedits.SetLabel{Faces: faces()[:1], Word: []string{"", "Storm", "Moor"}[r.IntN(3)], Quarters: r.IntN(9) - 4}
	case 15:
		of := []document.GrainOf{document.GrainByShape, document.GrainNone, document.GrainAlong, document.GrainAround, document.GrainLoops, document.GrainToward, document.GrainChain}[r.IntN(7)]
		e := &flowedits.SetGrain{GrainWish: document.GrainWish{Of: of, Direction: r3.Vec{X: r.NormFloat64(), Y: r.NormFloat64()}, Sense: r.IntN(2) == 0, Edges: edges()}}
		if r.IntN(2) == 0 {
			e.Materials = []string{""} // what has none
		} else {
			e.Parts = []document.PartID{document.PartID(r.IntN(len(d.State.Parts)))}
		}
		return e
	case 16:
		from := mesh.FaceID(r.IntN(d.Mesh.NumFaces()))
		return &flowedits.CarryOver{Edges: edges(), From: &from, Material: r.IntN(2) == 0}
	case 17:
		return &flowedits.Orient{Faces: faces()}
	}
	if r.IntN(2) == 0 {
		return &flowedits.TrueUp{Faces: faces(), Mode: []flow.TrueMode{flow.ByLoops, flow.AsGrid, flow.ByBorder}[r.IntN(3)]}
	}
	switch r.IntN(12) {
	case 11:
		return &sheetedits.SetApart{Faces: faces()}
	case 6:
		return &sheetedits.Stack{Faces: faces()}
	case 7:
		return &sheetedits.Unstack{Faces: faces(), All: r.IntN(2) == 0, Spread: r.IntN(2) == 0}
	case 8:
		return &sheetedits.Lock{Faces: faces(), Locked: r.IntN(3) > 0}
	case 9:
		return &sheetedits.WeighFaces{Faces: faces(), Weight: []float64{0.5, 1, 2}[r.IntN(3)]}
	case 10:
		return &sheetedits.Pack{Faces: faces(), How: lay.How{Sizes: []lay.Sizes{lay.Even, lay.Kept, lay.Fixed}[r.IntN(3)]}}
	case 0:
		return &sheetedits.Lanes{}
	case 1:
		return &sheetedits.ToRack{Faces: faces()}
	case 2:
		return &sheetedits.Align{Faces: faces(), By: sheetedits.Left}
	case 3:
		return &sheetedits.FitInto{Faces: faces()}
	}
	return &seamedits.Dial{Dial: float64(r.IntN(5)) / 4}
}

// Whatever people do to seams in whatever order: each edit is refused in words or
// gives a state that its delta leads to and back from, is the same when made again,
// survives the store, and maps no face upside down.
func TestAnySequenceOfSeamEditsHolds(t *testing.T) {
	for seed := range uint64(12) {
		r := rand.New(rand.NewPCG(seed, 4))
		var m *mesh.Mesh
		if seed%2 == 0 {
			m = edittest.Cuboid(t, 3, 1, 2)
		} else {
			m = meshtest.Lathe(t, 12, r2.Vec{X: 0.7}, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 1}, r2.Vec{X: 1.3, Y: 1.4}, r2.Vec{X: 1.3, Y: 2})
		}
		d := edittest.Attached(t, m, 0.5)
		was := proof.Measure(d.ProofInput())
		made := map[string]int{}
		for step := range 60 {
			e := anything(r, d)
			if seed%3 == 2 {
				e = &edit.ByHalves{Edit: e}
			}
			s, err := e.Apply(context.Background(), d, nil)
			if errors.Is(err, document.ErrRefused) {
				continue
			}
			if err != nil {
				t.Fatalf("seed %d, step %d, %s: %v", seed, step, e.Kind(), err)
			}
			made[strings.Fields(e.Describe())[0]]++
			delta := document.Diff(d.State, s)
			for _, way := range []struct {
				name string
				from *document.State
				step func(*document.State) (*document.State, error)
				to   *document.State
			}{{"redo", d.State, delta.Redo, s}, {"undo", s, delta.Undo, d.State}} {
				got, err := way.step(way.from)
				if err != nil {
					t.Fatal(err)
				}
				if left := document.Diff(way.to, got); !left.Empty() {
					t.Fatalf("seed %d, step %d: %s of %s leads elsewhere", seed, step, way.name, e.Kind())
				}
			}
			twice, err := e.Apply(context.Background(), d, nil)
			if err != nil {
				t.Fatalf("seed %d, step %d: %s made again: %v", seed, step, e.Kind(), err)
			}
			if left := document.Diff(s, twice); !left.Empty() {
				t.Fatalf("seed %d, step %d: %s made again gives another state", seed, step, e.Kind())
			}
			if err := s.Fits(); err != nil {
				t.Fatalf("seed %d, step %d, %s: %v", seed, step, e.Kind(), err)
			}
			next := d.With(s)
			again := next.Measured(was, delta)
			was = proof.Measure(next.ProofInput())
			if !reflect.DeepEqual(again, was) {
				t.Fatalf("seed %d, step %d: after %s measured again it is another map: %+v, measured whole %+v", seed, step, e.Kind(), again.Totals, was.Totals)
			}
			d = next
			for _, sh := range was.Shells {
				if sh.Mirrored > 0 {
					t.Fatalf("seed %d, step %d: %s turned %d faces over", seed, step, e.Describe(), sh.Mirrored)
				}
			}
		}
		if len(made) < 6 {
			t.Errorf("seed %d: only %v were possible", seed, made)
		}
	}
}

// Two edits of one state that are apart lead to the same state whichever lands first, and
// leave of each what it changed.
func TestChangesThatAreApartCommute(t *testing.T) {
	apart, met := map[string]int{}, 0
	for seed := range uint64(6) {
		r := rand.New(rand.NewPCG(seed, 16))
		d := edittest.Attached(t, edittest.Cuboid(t, 3, 2, 2), 0.5)
		any := func() (edit.Edit, document.Delta, *document.State) {
			for {
				e := anything(r, d)
				switch r.IntN(8) {
				case 0:
					e = &partedits.Rename{Part: document.PartID(r.IntN(len(d.State.Parts))), Name: fmt.Sprint("name ", r.IntN(100))}
				case 1:
					e = &partedits.Lock{Parts: []document.PartID{document.PartID(r.IntN(len(d.State.Parts)))}, Locked: r.IntN(2) == 0}
				}
				s, err := e.Apply(context.Background(), d, nil)
				if err != nil {
					continue
				}
				if by := document.Diff(d.State, s); !by.Empty() {
					return e, by, s
				}
			}
		}
		for range 60 {
			a, da, sa := any()
			b, db, sb := any()
			ba, ok := da.After(db, d.Mesh)
			ab, back := db.After(da, d.Mesh)
			if ok != back {
				t.Fatalf("seed %d: %s is apart from %s: %v, the other way round %v", seed, a.Kind(), b.Kind(), ok, back)
			}
			if !ok {
				met++
				continue
			}
			apart[a.Kind()]++
			first, err := ba.Redo(sb)
			if err != nil {
				t.Fatal(err)
			}
			second, err := ab.Redo(sa)
			if err != nil {
				t.Fatal(err)
			}
			if left := document.Diff(first, second); !left.Empty() {
				t.Fatalf("seed %d: %s and %s do not commute: %+v", seed, a.Kind(), b.Kind(), left)
			}
			if err := first.Fits(); err != nil {
				t.Fatalf("seed %d: %s after %s: %v", seed, a.Kind(), b.Kind(), err)
			}
			undone, err := document.Diff(sb, first).Undo(first)
			if left := document.Diff(sb, undone); err != nil || !left.Empty() {
				t.Fatalf("seed %d: %s is not undone alone: %v", seed, a.Kind(), err)
			}
			if r.IntN(8) == 0 {
				d = d.With(first)
			}
		}
	}
	if len(apart) < 8 || met < 20 {
		t.Errorf("apart were %v, %d pairs met", apart, met)
	}
}

// Edits come from outside: what is read back is the edit that was written, and
// nothing read can make Apply fail other than by refusing.
func FuzzEdit(f *testing.F) {
	for _, e := range []edit.Edit{&seamedits.Join{Edges: []mesh.EdgeID{1, 2}, Chain: true}, &seamedits.HandOver{Faces: []mesh.FaceID{0}}, &seamedits.Dial{Dial: 0.3}, &sheetedits.Lanes{Faces: []mesh.FaceID{1}, Pieces: 3},
		&seamedits.JoinGroup{Faces: []mesh.FaceID{0, 1}, Limit: 1.1}, &seamedits.Keep{Faces: []mesh.FaceID{3}, Whole: true}, &seamedits.SavePicks{Name: "a", Edges: []mesh.EdgeID{4}},
		&seamedits.Hold{Edges: []mesh.EdgeID{5}, Held: true}, &seamedits.ShellOff{Faces: []mesh.FaceID{2}}, &seamedits.ViewFrom{},
		&mapedits.Make{Name: "Boards", Purpose: document.Tiling, All: true}, &mapedits.Copy{Faces: []mesh.FaceID{1}, To: 2}, &mapedits.Remove{Map: 2}, &mapedits.Set{Name: "Paint", Purpose: document.Unique},
		&sheetedits.Align{Faces: []mesh.FaceID{0, 2}, By: sheetedits.Left}, &sheetedits.Distribute{Faces: []mesh.FaceID{0, 1, 2}, Along: "v", GapPx: new(float64)}, &sheetedits.FitInto{Faces: []mesh.FaceID{1}},
		&sheetedits.ToRaster{Faces: []mesh.FaceID{1}, StepPx: 8}, &sheetedits.ToRack{Faces: []mesh.FaceID{1, 2}}, &sheetedits.Move{Faces: []mesh.FaceID{1}, Scale: 2, ScaleV: 3, Each: true},
		&sheetedits.Arrange{From: "front"}, &sheetedits.Improve{Rounds: 2}, &sheetedits.SetApart{Faces: []mesh.FaceID{0, 1, 3}}, &sheetedits.Stack{Faces: []mesh.FaceID{1, 2}}, &sheetedits.Unstack{Faces: []mesh.FaceID{1}, Spread: true}, &sheetedits.OffsetStack{Faces: []mesh.FaceID{1}, Tiles: 1}, &sheetedits.Density{PxPerUnit: 40}, &sheetedits.Density{Like: new(mesh.FaceID)},
		&sheetedits.Lock{Faces: []mesh.FaceID{1}, Locked: true}, &sheetedits.WeighFaces{Faces: []mesh.FaceID{1}, Hidden: 0.2, Weight: 0.5}, &sheetedits.Pack{Rack: true}, &sheetedits.Pack{Faces: []mesh.FaceID{2}, How: lay.How{Sizes: "fixed"}},
		&edit.ByHalves{Edit: &seamedits.Cut{Edges: []mesh.EdgeID{2}}, Stacked: true},
		&sheetedits.SetSheet{OnSheet: document.DefaultSettings().OnSheet}, &flowedits.SetLabel{Faces: []mesh.FaceID{1}, Word: "Storm", Quarters: 1}, &flowedits.CarryOver{Edges: []mesh.EdgeID{3}},
		&flowedits.SetGrain{Materials: []string{""}, GrainWish: document.GrainWish{Of: document.GrainChain, Edges: []mesh.EdgeID{0, 1}}}} {
		b, err := edit.Encode(e)
		if err != nil {
			f.Fatal(err)
		}
		f.Add(b)
	}
	f.Add([]byte(`{"kind":"cut","params":{"edges":[-1]}}`))
	f.Add([]byte(`{"kind":"join","params":{"edges":[0],"stays":99999}}`))
	d := edittest.Attached(f, edittest.Cuboid(f, 3, 1, 2), 0.5)
	f.Fuzz(func(t *testing.T, data []byte) {
		e, err := edit.Decode(data)
		if err != nil {
			if !errors.Is(err, document.ErrRefused) {
				t.Fatalf("not an edit, and not refused: %v", err)
			}
			return
		}
		b, err := edit.Encode(e)
		if err != nil {
			t.Fatal(err)
		}
		back, err := edit.Decode(b)
		if err != nil {
			t.Fatalf("%s came back as an error: %v", b, err)
		}
		p, _ := json.Marshal(e)
		q, _ := json.Marshal(back)
		if string(p) != string(q) {
			t.Fatalf("%s came back as %s", p, q)
		}
		if s, err := e.Apply(context.Background(), d, nil); err == nil {
			if err := s.Fits(); err != nil {
				t.Fatalf("%s gives a state that does not fit: %v", data, err)
			}
		} else if !errors.Is(err, document.ErrRefused) {
			t.Fatalf("%s: %v", data, err)
		}
	})
}
