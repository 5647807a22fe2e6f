// Package workspacetest puts small documents into a store for tests.
package workspacetest

import (
	"context"
	"testing"

	"morvek/core/document"
	"morvek/core/mesh/meshtest"
	"morvek/core/meshio"
	"morvek/store"
)

// NewCan stores a closed can of n sides as a new document and returns its number.
func NewCan(t testing.TB, db *store.Store, n int) int64 {
	return New(t, db, "can.obj", meshtest.CanFile(n))
}

// New stores a file as a new document of a project of its own and returns its number.
func New(t testing.TB, db *store.Store, name string, src []byte) int64 {
	t.Helper()
	ctx := context.Background()
	m, err := meshio.Read(ctx, name, meshio.Input{Data: src})
	if err != nil {
		t.Fatal(err)
	}
	state, err := document.New(m, document.DefaultSettings()).State.MarshalBinary()
	if err != nil {
		t.Fatal(err)
	}
	p, err := db.CreateProject(ctx, "galley")
	if err != nil {
		t.Fatal(err)
	}
	id, err := db.CreateDocument(ctx, store.NewDocument{Project: p, Title: name, FileName: name, Source: src,
		Faces: m.NumFaces(), Points: m.NumPoints(), State: state})
	if err != nil {
		t.Fatal(err)
	}
	return id
}
