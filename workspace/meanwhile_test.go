package workspace_test

import (
	"bytes"
	"context"
	"errors"
	"sync/atomic"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/edit/partedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/store"
	"morvek/workspace"
	"morvek/workspace/workspacetest"
)

// mapped is a can with the whole job done, opened.
func mapped(t *testing.T, docs *workspace.Documents) *workspace.Opened {
	t.Helper()
	ctx := context.Background()
	o, err := docs.Get(ctx, workspacetest.NewCan(t, db, 12))
	if err != nil {
		t.Fatal(err)
	}
	if o, err = docs.RunLong(ctx, o, store.By{}, func(string, int, float64) {}); err != nil {
		t.Fatal(err)
	}
	return o
}

// Long work on what a document was is stored after what people did meanwhile, where that is
// of something else, and undone alone.
func TestLongWorkLandsAfterWhatWasChangedMeanwhile(t *testing.T) {
	ctx := context.Background()
	docs, others := workspace.New(db, 0), workspace.New(db, 0)
	o := mapped(t, docs)
	id := o.Row.ID
	named, err := others.Apply(ctx, workspace.First(id), o.Row.Revision, store.By{}, &partedits.Rename{Part: 1, Name: "lid"})
	if err != nil {
		t.Fatal(err)
	}
	if named, err = others.Apply(ctx, workspace.First(id), named.Row.Revision, store.By{}, &partedits.Lock{Parts: []document.PartID{1}, Locked: true}); err != nil {
		t.Fatal(err)
	}
	want := stateOf(t, named, nil)
	done, err := docs.ApplyLong(ctx, o, store.By{Key: "pack"}, &sheetedits.Clear{}, nil)
	if err != nil {
		t.Fatal(err)
	}
	if p := done.Doc.State.Parts[1]; p.Name != "lid" || !p.Locked || done.Doc.State.Map.Mapped()[0] || done.Row.Revision != named.Row.Revision+1 {
		t.Errorf("landed it is %+v at revision %d", p, done.Row.Revision)
	}
	if fresh, err := workspace.New(db, 0).Get(ctx, id); !bytes.Equal(stateOf(t, fresh, err), stateOf(t, done, nil)) {
		t.Error("the database has another state")
	}
	again, err := docs.ApplyLong(ctx, o, store.By{Key: "pack"}, &sheetedits.Clear{}, nil)
	if err != nil || again.Row.Revision > done.Row.Revision {
		t.Errorf("asked for again it is made again: %v", err)
	}
	back, err := docs.Step(ctx, id, done.Row.Revision, "", true)
	if !bytes.Equal(stateOf(t, back, err), want) {
		t.Error("undone, something else is there than before")
	}
}

func TestLongWorkOnWhatWasChangedMeanwhileIsVoid(t *testing.T) {
	ctx := context.Background()
	docs, others := workspace.New(db, 0), workspace.New(db, 0)
	o := mapped(t, docs)
	move := &sheetedits.Move{Faces: []mesh.FaceID{0}, Shift: r2.Vec{X: 0.01}}
	moved, err := others.Apply(ctx, workspace.First(o.Row.ID), o.Row.Revision, store.By{}, move)
	want := stateOf(t, moved, err)
	if _, err := docs.ApplyLong(ctx, o, store.By{}, &sheetedits.Clear{}, nil); !errors.Is(err, store.ErrStale) {
		t.Errorf("clearing what was moved meanwhile: %v", err)
	}
	if now, err := workspace.New(db, 0).Get(ctx, o.Row.ID); !bytes.Equal(stateOf(t, now, err), want) {
		t.Error("it left something behind")
	}
	// The whole job is about whatever there is, and is done again.
	var rounds atomic.Int64
	done, err := docs.RunLong(ctx, o, store.By{}, func(_ string, again int, _ float64) { rounds.Store(int64(again)) })
	if err != nil || done.Row.Head <= moved.Row.Head || rounds.Load() != 1 {
		t.Errorf("the whole job: %d more rounds, %v", rounds.Load(), err)
	}
}
