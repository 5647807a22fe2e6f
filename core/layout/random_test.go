package layout_test

import (
	"context"
	"encoding/json"
	"errors"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flow"
	"morvek/core/layout"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// anything is a random edit of seams or shells that may or may not be possible.
func anything(r *rand.Rand, d *layout.Document) layout.Edit {
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
		return &layout.Cut{Edges: edges()}
	case 1:
		return &layout.Close{Edges: edges()}
	case 2, 3:
		return &layout.Join{Edges: edges(), Chain: r.IntN(2) == 0}
	case 4:
		return &layout.Hold{Edges: edges(), Held: r.IntN(2) == 0}
	case 5:
		return &layout.Keep{Faces: faces(), Whole: r.IntN(2) == 0}
	case 6:
		return &layout.ShellOff{Faces: faces()}
	case 7:
		return &layout.HandOver{Faces: faces()}
	case 8:
		return &layout.JoinGroup{Faces: faces(), Limit: 1 + 0.1*r.Float64()}
	case 9:
		return &layout.Flatten{}
	case 10:
		return &layout.Fill{Faces: faces()}
	case 11:
		return &layout.Nudge{Corners: corners(), Shift: r2.Vec{X: 0.1 * r.NormFloat64(), Y: 0.1 * r.NormFloat64()}, Reach: r.Float64()}
	case 12:
		return &layout.Pin{Corners: corners(), Pinned: r.IntN(3) > 0}
	case 13:
		return &layout.Relax{Corners: corners(), Reach: r.Float64(), HoldBorder: r.IntN(2) == 0, Axis: []string{"u", "v", "both"}[r.IntN(3)], MaxIterations: 4}
	case 14:
		return &layout.SetLabel{Faces: faces()[:1], Word: []string{"", "Storm", "Moor"}[r.IntN(3)], Quarters: r.IntN(9) - 4}
	case 15:
		of := []layout.GrainOf{layout.GrainByShape, layout.GrainNone, layout.GrainAlong, layout.GrainAround, layout.GrainLoops, layout.GrainToward, layout.GrainChain}[r.IntN(7)]
		e := &layout.SetGrain{GrainWish: layout.GrainWish{Of: of, Direction: r3.Vec{X: r.NormFloat64(), Y: r.NormFloat64()}, Sense: r.IntN(2) == 0, Edges: edges()}}
		if r.IntN(2) == 0 {
			e.Materials = []string{""} // what has none
		} else {
			e.Parts = []layout.PartID{layout.PartID(r.IntN(len(d.State.Parts)))}
		}
		return e
	case 16:
		from := mesh.FaceID(r.IntN(d.Mesh.NumFaces()))
		return &layout.CarryOver{Edges: edges(), From: &from, Material: r.IntN(2) == 0}
	case 17:
		return &layout.Orient{Faces: faces()}
	}
	if r.IntN(2) == 0 {
		return &layout.TrueUp{Faces: faces(), Mode: []flow.TrueMode{flow.ByLoops, flow.AsGrid, flow.ByBorder}[r.IntN(3)]}
	}
	if r.IntN(3) == 0 {
		return &layout.Lanes{}
	}
	return &layout.Dial{Dial: float64(r.IntN(5)) / 4}
}

// Whatever people do to seams in whatever order: each edit is refused in words or
// gives a state that its delta leads to and back from, is the same when made again,
// survives the store, and maps no face upside down.
func TestAnySequenceOfSeamEditsHolds(t *testing.T) {
	for seed := range uint64(12) {
		r := rand.New(rand.NewPCG(seed, 4))
		var m *mesh.Mesh
		if seed%2 == 0 {
			m = cuboid(t, 3, 1, 2)
		} else {
			m = meshtest.Lathe(t, 12, r2.Vec{X: 0.7}, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 1}, r2.Vec{X: 1.3, Y: 1.4}, r2.Vec{X: 1.3, Y: 2})
		}
		d := attached(t, m, 0.5)
		made := map[string]int{}
		for step := range 60 {
			e := anything(r, d)
			s, err := e.Apply(context.Background(), d, nil)
			if errors.Is(err, layout.ErrRefused) {
				continue
			}
			if err != nil {
				t.Fatalf("seed %d, step %d, %s: %v", seed, step, e.Kind(), err)
			}
			made[e.Kind()]++
			delta := layout.Diff(d.State, s)
			for _, way := range []struct {
				name string
				from *layout.State
				step func(*layout.State) (*layout.State, error)
				to   *layout.State
			}{{"redo", d.State, delta.Redo, s}, {"undo", s, delta.Undo, d.State}} {
				got, err := way.step(way.from)
				if err != nil {
					t.Fatal(err)
				}
				if left := layout.Diff(way.to, got); !left.Empty() {
					t.Fatalf("seed %d, step %d: %s of %s leads elsewhere", seed, step, way.name, e.Kind())
				}
			}
			again, err := e.Apply(context.Background(), d, nil)
			if err != nil {
				t.Fatalf("seed %d, step %d: %s made again: %v", seed, step, e.Kind(), err)
			}
			if left := layout.Diff(s, again); !left.Empty() {
				t.Fatalf("seed %d, step %d: %s made again gives another state", seed, step, e.Kind())
			}
			if err := s.Fits(); err != nil {
				t.Fatalf("seed %d, step %d, %s: %v", seed, step, e.Kind(), err)
			}
			d = d.With(s)
			for _, sh := range measure(d).Shells {
				if sh.Mirrored > 0 {
					t.Fatalf("seed %d, step %d: %s turned %d faces over", seed, step, e.Kind(), sh.Mirrored)
				}
			}
		}
		if len(made) < 6 {
			t.Errorf("seed %d: only %v were possible", seed, made)
		}
	}
}

// Edits come from outside: what is read back is the edit that was written, and
// nothing read can make Apply fail other than by refusing.
func FuzzEdit(f *testing.F) {
	for _, e := range []layout.Edit{&layout.Join{Edges: []mesh.EdgeID{1, 2}, Chain: true}, &layout.HandOver{Faces: []mesh.FaceID{0}}, &layout.Dial{Dial: 0.3}, &layout.Lanes{Faces: []mesh.FaceID{1}, Pieces: 3},
		&layout.JoinGroup{Faces: []mesh.FaceID{0, 1}, Limit: 1.1}, &layout.Keep{Faces: []mesh.FaceID{3}, Whole: true}, &layout.SavePicks{Name: "a", Edges: []mesh.EdgeID{4}},
		&layout.Hold{Edges: []mesh.EdgeID{5}, Held: true}, &layout.ShellOff{Faces: []mesh.FaceID{2}}, &layout.ViewFrom{},
		&layout.SetLabel{Faces: []mesh.FaceID{1}, Word: "Storm", Quarters: 1}, &layout.CarryOver{Edges: []mesh.EdgeID{3}},
		&layout.SetGrain{Materials: []string{""}, GrainWish: layout.GrainWish{Of: layout.GrainChain, Edges: []mesh.EdgeID{0, 1}}}} {
		b, err := layout.Encode(e)
		if err != nil {
			f.Fatal(err)
		}
		f.Add(b)
	}
	f.Add([]byte(`{"kind":"cut","params":{"edges":[-1]}}`))
	f.Add([]byte(`{"kind":"join","params":{"edges":[0],"stays":99999}}`))
	d := attached(f, cuboid(f, 3, 1, 2), 0.5)
	f.Fuzz(func(t *testing.T, data []byte) {
		e, err := layout.Decode(data)
		if err != nil {
			if !errors.Is(err, layout.ErrRefused) {
				t.Fatalf("not an edit, and not refused: %v", err)
			}
			return
		}
		b, err := layout.Encode(e)
		if err != nil {
			t.Fatal(err)
		}
		back, err := layout.Decode(b)
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
		} else if !errors.Is(err, layout.ErrRefused) {
			t.Fatalf("%s: %v", data, err)
		}
	})
}
