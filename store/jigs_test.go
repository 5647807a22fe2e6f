package store_test

import (
	"context"
	"encoding/json"
	"errors"
	"testing"

	"morvek/store"
)

func TestJigsBelongToAProject(t *testing.T) {
	ctx := context.Background()
	d, err := db.Document(ctx, newDocument(t))
	if err != nil {
		t.Fatal(err)
	}
	other, err := db.Document(ctx, newDocument(t))
	if err != nil {
		t.Fatal(err)
	}
	for _, name := range []string{"Planks", "Bricks"} {
		if _, err := db.KeepJig(ctx, d.ProjectID, name, json.RawMessage(`{"kind": "planar", "width": 1}`)); err != nil {
			t.Fatal(err)
		}
	}
	id, err := db.KeepJig(ctx, d.ProjectID, "Planks", json.RawMessage(`{"kind": "extruded", "width": 2}`))
	if err != nil {
		t.Fatal(err)
	}
	list, err := db.Jigs(ctx, d.ProjectID)
	if err != nil || len(list) != 2 || list[0].Name != "Bricks" || list[1].ID != id {
		t.Fatalf("%+v, %v", list, err)
	}
	renamed := store.Jig{ID: id, ProjectID: d.ProjectID, Name: "Boards", Projection: json.RawMessage(`{"kind": "extruded", "width": 3}`)}
	if err := db.ChangeJig(ctx, renamed); err != nil {
		t.Fatal(err)
	}
	if err := db.ChangeJig(ctx, store.Jig{ID: id, ProjectID: d.ProjectID, Name: "Bricks", Projection: renamed.Projection}); !errors.Is(err, store.ErrTaken) {
		t.Errorf("a name that another jig has: %v", err)
	}
	if err := db.ChangeJig(ctx, store.Jig{ID: id + 100, ProjectID: d.ProjectID, Name: "None", Projection: renamed.Projection}); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("a jig that is not there: %v", err)
	}
	if list, err = db.Jigs(ctx, d.ProjectID); err != nil || len(list) != 2 || list[0].Name != "Boards" || list[0].ID != id {
		t.Fatalf("renamed: %+v, %v", list, err)
	}
	list[0], list[1] = list[1], list[0]
	var p struct{ Kind string }
	if json.Unmarshal(list[1].Projection, &p) != nil || p.Kind != "extruded" {
		t.Errorf("the second of one name should stand: %s", list[1].Projection)
	}
	if other.ProjectID != d.ProjectID {
		if more, err := db.Jigs(ctx, other.ProjectID); err != nil || len(more) != 0 {
			t.Errorf("another project has %v, %v", more, err)
		}
		if err := db.DropJig(ctx, other.ProjectID, id); !errors.Is(err, store.ErrNotFound) {
			t.Errorf("dropped from another project: %v", err)
		}
	}
	if err := db.DropJig(ctx, d.ProjectID, id); err != nil {
		t.Fatal(err)
	}
	if err := db.DropJig(ctx, d.ProjectID, id); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("dropped twice: %v", err)
	}
	if _, err := db.KeepJig(ctx, -1, "Planks", json.RawMessage(`{}`)); err == nil {
		t.Error("kept for a project that is not there")
	}
}
