package wire_test

import (
	"bytes"
	"context"
	"encoding/json"
	"os"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/web/wire"
	"morvek/workspace"
)

// vectors is what both sides of the wire must agree on: blocks with what is in them, and
// patches with what they lead from and to. e2e/vectors.test.mjs reads it with the bench's code.
type vectors struct {
	Mesh     []byte       `json:"mesh"`
	In       meshVector   `json:"mesh_holds"`
	Exposure []byte       `json:"exposure"`
	Exposed  []float32    `json:"exposure_holds"`
	Images   []byte       `json:"images"` // of the faces -1 and 4, the edges 3
	First    layoutVector `json:"first"`
	Steps    []stepVector `json:"steps"`
}

type meshVector struct {
	FaceStart   []int32        `json:"faceStart"`
	CornerPoint []mesh.PointID `json:"cornerPoint"`
	CornerEdge  []mesh.EdgeID  `json:"cornerEdge"`
	TriFace     []mesh.FaceID  `json:"triFace"`
	Points      int            `json:"points"`
	Edges       int            `json:"edges"`
}

type layoutVector struct {
	Block []byte `json:"block"`
	Holds known  `json:"holds"`
}

type stepVector struct {
	Edit  string       `json:"edit"`
	Brief wire.Meta    `json:"brief"`
	Patch wire.Patch   `json:"patch"`
	After layoutVector `json:"after"`
}

// vectorOf leaves out the time of day, which is another everywhere.
func vectorOf(t *testing.T, o *workspace.Opened) layoutVector {
	k := whole(t, o)
	k.Meta.Saved = ""
	return layoutVector{wire.Layout(o), k}
}

const vectorFile = "testdata/vectors.json"

// MORVEK_RECORD=1 writes the vectors anew.
func TestBothSidesOfTheWireHaveTheSameVectors(t *testing.T) {
	d := edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 0.5)
	o := workspace.Of(d)
	m := d.Mesh
	v := vectors{Mesh: wire.Mesh(m), Exposed: []float32{0, 0.25, 1}, Exposure: wire.Exposure([]float32{-1, 0.25, 7}), Images: wire.Images([]mesh.FaceID{-1, 4}, []mesh.EdgeID{3}), First: vectorOf(t, o)}
	v.In = meshVector{FaceStart: m.FaceStart, CornerPoint: m.CornerPoint, TriFace: m.Triangles().Face, Points: m.NumPoints(), Edges: m.NumEdges()}
	for h := range mesh.HalfedgeID(m.NumCorners()) {
		v.In.CornerEdge = append(v.In.CornerEdge, m.Edge(h))
	}
	cut := func(e mesh.EdgeID) bool { return !d.State.Map.IsCut(e) }
	first := mesh.EdgeID(0)
	for !cut(first) {
		first++
	}
	for _, e := range []edit.Edit{
		&partedits.Rename{Part: 0, Name: "lid"}, &seamedits.Cut{Edges: []mesh.EdgeID{first}}, &partedits.PartOff{Faces: []mesh.FaceID{1, 2}},
		&sheetedits.Move{Faces: []mesh.FaceID{0}, Shift: r2.Vec{X: 0.5, Y: -0.25}}, &sheetedits.Clear{Faces: []mesh.FaceID{3}}, &seamedits.Close{Edges: []mesh.EdgeID{first}},
		&flowedits.Flatten{Faces: []mesh.FaceID{3}}, &partedits.Assign{Faces: []mesh.FaceID{1, 2}, To: 0},
	} {
		s, err := e.Apply(context.Background(), o.Doc, nil)
		if err != nil {
			t.Fatalf("%s: %v", e.Kind(), err)
		}
		next := o.With(s)
		p, _ := wire.NewPatch(o, next, document.Diff(o.Doc.State, s))
		brief := wire.Brief(next)
		brief.Saved = ""
		v.Steps = append(v.Steps, stepVector{e.Kind(), brief, p, vectorOf(t, next)})
		o = next
	}
	var b bytes.Buffer
	if err := json.NewEncoder(&b).Encode(v); err != nil {
		t.Fatal(err)
	}
	if os.Getenv("MORVEK_RECORD") != "" {
		if err := os.WriteFile(vectorFile, b.Bytes(), 0o644); err != nil {
			t.Fatal(err)
		}
	}
	kept, err := os.ReadFile(vectorFile)
	if err != nil {
		t.Fatal(err)
	}
	if !bytes.Equal(kept, b.Bytes()) {
		t.Errorf("what is written differs from %s: a block of another version, or a change to be recorded (MORVEK_RECORD=1)", vectorFile)
	}
}
