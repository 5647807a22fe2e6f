package workspace_test

import (
	"context"
	"errors"
	"testing"

	"morvek/core/document"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/store"
	"morvek/workspace"
	"morvek/workspace/workspacetest"
)

// broken is a crate with a side turned over, one twice, and two maps' worth of one.
const broken = `v 0 0 0
v 2 0 0
v 2 1 0
v 0 1 0
v 0 0 1
v 2 0 1
v 2 1 1
v 0 1 1
vt 0 0
vt 1 0
f 4/1 3/1 2/2 1/2
f 8/1 7/1 6/2 5/2
f 1 2 6 5
f 2 3 7 6
f 3 4 8 7
f 4 1 5 8
f 4 1 5 8
`

// A document begins as it was asked for, for every process, from its file each time; once something
// was done it stays what it is.
func TestADocumentBeginsAsItWasAskedFor(t *testing.T) {
	ctx := context.Background()
	id := workspacetest.New(t, db, "crate.obj", []byte(broken))
	docs := workspace.New(db, 0)
	arrive := func(a workspace.Arrival, faces, odd int, mapped bool) {
		t.Helper()
		before, err := docs.Get(ctx, id)
		if err != nil {
			t.Fatal(err)
		}
		o, err := docs.Arrive(ctx, id, before.Row.Revision, a)
		if err != nil {
			t.Fatal(err)
		}
		again, err := workspace.New(db, 0).Get(ctx, id)
		if err != nil {
			t.Fatal(err)
		}
		for _, o := range []*workspace.Opened{o, again} {
			if o.Doc.Source.NumFaces() != faces || len(o.Doc.Health()) != odd || o.Doc.State.Map.AnyMapped() != mapped || o.Doc.State.Settings.Unit != a.Unit {
				t.Errorf("%+v: %d faces, %v, settings %+v", a, o.Doc.Source.NumFaces(), o.Doc.Health(), o.Doc.State.Settings)
			}
		}
		if back, err := docs.Arrived(ctx, again.Row); err != nil || len(back.Repairs) != len(a.Repairs) || len(back.Drop) != len(a.Drop) {
			t.Errorf("it is said to have arrived as %+v, %v", back, err)
		}
		if _, err := docs.Arrive(ctx, id, before.Row.Revision, a); !errors.Is(err, store.ErrStale) {
			t.Errorf("on a revision that has passed it gave %v", err)
		}
	}
	arrive(workspace.Arrival{Unit: "mm", Up: "z", Repairs: []string{"doubled", "winding"}}, 6, 0, true)
	arrive(workspace.Arrival{Unit: "cm", Up: "y", Repairs: []string{"winding"}, Drop: []document.MapID{1}}, 7, 2, false)
	arrive(workspace.Arrival{Unit: "m", Up: "y"}, 7, 3, true)
	arrive(workspace.Arrival{Unit: "m", Up: "y", Repairs: []string{"doubled", "winding"}, Drop: []document.MapID{1}}, 6, 0, false)

	if _, err := docs.Arrive(ctx, id, 5, workspace.Arrival{Repairs: []string{"polish"}}); !errors.Is(err, document.ErrRefused) {
		t.Errorf("an unknown repair gave %v", err)
	}
	o, err := docs.Get(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	if o, err = docs.Apply(ctx, o.Ref(), o.Row.Revision, store.By{Key: "k"}, &sheetedits.Set{Settings: o.Doc.State.Settings}); err != nil {
		t.Fatal(err)
	}
	if _, err := docs.Arrive(ctx, id, o.Row.Revision, workspace.Arrival{}); !errors.Is(err, store.ErrStale) {
		t.Errorf("after an edit it gave %v", err)
	}
	if faces := mesh.FaceID(o.Doc.Mesh.NumFaces()); faces != 6 {
		t.Errorf("it has %d faces", faces)
	}
}
