// Package pipelinetest makes documents with the whole job done, for tests.
package pipelinetest

import (
	"context"
	"testing"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/meshio"
	"morvek/core/pipeline"
)

// Finished is the document of a mesh with the whole job done.
func Finished(t testing.TB, m *mesh.Mesh, set document.Settings) *document.Document {
	t.Helper()
	res, err := pipeline.Run(context.Background(), document.New(m, set), nil)
	if err != nil {
		t.Fatal(err)
	}
	return res.Doc
}

// Can is a closed can of n sides with the whole job done.
func Can(t testing.TB, n int) *document.Document {
	t.Helper()
	m, err := meshio.Read(context.Background(), "can.obj", meshio.Input{Data: meshtest.CanFile(n)})
	if err != nil {
		t.Fatal(err)
	}
	return Finished(t, m, document.DefaultSettings())
}
