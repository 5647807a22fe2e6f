package edit_test

import (
	"context"
	"errors"
	"math/rand/v2"
	"reflect"
	"strings"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/mapedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// places are where the corners of a map lie, those of faces that are not mapped left out.
func places(s *document.State, m *mesh.Mesh, id document.MapID) map[mesh.HalfedgeID]r2.Vec {
	s, _ = s.Through(id)
	out := map[mesh.HalfedgeID]r2.Vec{}
	for h := range mesh.HalfedgeID(m.NumCorners()) {
		if s.Map.IsMapped(m.FaceOf(h)) {
			out[h] = s.Map.At(h)
		}
	}
	return out
}

// Whatever people do in whatever order, seen through whichever map: what lies on a sealed map stays
// where it is to the bit, and the refusal names the map; what cannot move it goes on.
func TestNothingMovesOnASealedMap(t *testing.T) {
	refused, made := map[string]int{}, map[string]int{}
	for seed := range uint64(8) {
		r := rand.New(rand.NewPCG(seed, 19))
		m := edittest.Cuboid(t, 3, 1, 2)
		if seed%2 == 1 {
			m = meshtest.Lathe(t, 12, r2.Vec{X: 0.7}, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 1}, r2.Vec{X: 1.3, Y: 1.4})
		}
		d := edittest.Apply(t, edittest.Attached(t, m, 0.5), &mapedits.Make{Name: "Boards", Purpose: document.Tiling, All: true}, &mapedits.Seal{})
		painted := places(d.State, m, 1)
		for step := range 120 {
			e := anything(r, d)
			if r.IntN(3) == 0 {
				switch wide := d.State.Settings.OnSheet; r.IntN(9) {
				case 0:
					e = &mapedits.Remove{Map: 1}
				case 1:
					e = &mapedits.Set{Name: "Painted", Purpose: document.Unique}
				case 2:
					e = &mapedits.Copy{Faces: []mesh.FaceID{mesh.FaceID(r.IntN(m.NumFaces()))}, To: document.MapID(1 + r.IntN(2))}
				case 3:
					e = &sheetedits.Move{Faces: []mesh.FaceID{mesh.FaceID(r.IntN(m.NumFaces()))}, Shift: r2.Vec{X: 0.125}}
				case 4:
					e = &partedits.Recognise{}
				case 5:
					wide.Sheet.Wide = !wide.Sheet.Wide
					e = &sheetedits.SetSheet{OnSheet: wide}
				case 6:
					e = &partedits.Rename{Part: 0, Name: "lid"}
				case 7:
					e = &sheetedits.Clear{Faces: []mesh.FaceID{mesh.FaceID(r.IntN(m.NumFaces()))}}
				case 8:
					other, _ := d.State.Through(document.MapID(1 + r.IntN(2)))
					d = d.With(other)
				}
			}
			if f, ok := e.(edit.Freeing); ok && d.State.Shown.ID == 1 {
				if len(f.Frees()) > 0 {
					continue // it may: tested below
				}
			}
			s, err := edit.Apply(context.Background(), d, e, nil)
			var sealed *document.Sealed
			switch {
			case errors.As(err, &sealed):
				refused[e.Kind()]++
				if !errors.Is(err, document.ErrRefused) || sealed.Map.ID != 1 || !strings.Contains(err.Error(), e.Describe()) || !strings.Contains(err.Error(), "copy") {
					t.Fatalf("%s: %v", e.Kind(), err)
				}
				if _, err := edit.Preview(context.Background(), d, e); !errors.Is(err, document.ErrSealed) {
					t.Fatalf("%s: before it is taken: %v", e.Kind(), err)
				}
				continue
			case errors.Is(err, document.ErrRefused):
				continue
			case err != nil:
				t.Fatal(err)
			}
			made[e.Kind()]++
			d = d.With(s)
			now := places(d.State, m, 1)
			for h, q := range painted {
				if now[h] != q {
					t.Fatalf("seed %d, step %d: %s moved a corner of the sealed map", seed, step, e.Kind())
				}
			}
		}
		// It survives the store, and a delta.
		if back := edittest.Restored(t, d); !reflect.DeepEqual(back.State.Maps(), d.State.Maps()) {
			t.Errorf("stored it is %+v", back.State.Maps())
		}
	}
	if len(refused) < 12 || len(made) < 12 {
		t.Errorf("refused were %v, made %v", refused, made)
	}
}

// A seal is set once, with a picture or without, and let go of deliberately; then things move again.
func TestSealing(t *testing.T) {
	d := edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 0.5)
	hash := strings.Repeat("0f", 32)
	edittest.Refused(t, d, &mapedits.Unseal{}, "not sealed")
	edittest.Refused(t, d, &mapedits.Seal{Picture: "a picture"}, "not the hash")
	d = edittest.Apply(t, d, &mapedits.Seal{})
	edittest.Refused(t, d, &mapedits.Seal{}, "sealed already")
	d = edittest.Apply(t, d, &mapedits.Seal{Picture: hash})
	if got := d.State.Shown; !got.Sealed || got.Picture != hash {
		t.Errorf("it is %+v", got)
	}
	pack := &sheetedits.Pack{}
	if _, err := edit.Apply(context.Background(), d, pack, nil); !errors.Is(err, document.ErrSealed) {
		t.Errorf("packing a sealed map: %v", err)
	}
	// A copy is not sealed and may be worked on.
	d = edittest.Apply(t, d, &mapedits.Make{Name: "Map 1, second try", Purpose: document.Unique, All: true})
	copied, _ := d.State.Through(2)
	if copied.Shown.Sealed {
		t.Error("the copy is sealed too")
	}
	if _, err := edit.Apply(context.Background(), d.With(copied), pack, nil); err != nil {
		t.Errorf("packing the copy: %v", err)
	}
	d = edittest.Apply(t, d, &mapedits.Unseal{})
	if _, err := edit.Apply(context.Background(), d, pack, nil); err != nil {
		t.Errorf("packing an unsealed map: %v", err)
	}
}

// Filling a hole of a sealed map moves the faces that are named, and no others.
func TestAHoleOfASealedMapIsFilled(t *testing.T) {
	d := edittest.Apply(t, edittest.Attached(t, meshtest.Lathe(t, 12, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 1}, r2.Vec{X: 1, Y: 2}, r2.Vec{X: 1, Y: 3}), 0.5), &mapedits.Seal{})
	before := places(d.State, d.Mesh, 1)
	faces := []mesh.FaceID{13, 14}
	s, err := edit.Apply(context.Background(), d, &flowedits.Fill{Faces: faces}, nil)
	if err != nil {
		t.Fatal(err)
	}
	for h, q := range places(s, d.Mesh, 1) {
		if in := ids.Set(faces)[d.Mesh.FaceOf(h)]; !in && before[h] != q {
			t.Fatal("a face beside the hole moved")
		}
	}
}
