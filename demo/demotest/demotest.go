// Package demotest gives tests the models of the workshop.
package demotest

import (
	"testing"

	"morvek/core/mesh"
	"morvek/demo"
)

// Mesh builds a model by its name.
func Mesh(t testing.TB, slug string) *mesh.Mesh {
	t.Helper()
	model, err := demo.Find(slug)
	if err != nil {
		t.Fatal(err)
	}
	m, err := model.Mesh()
	if err != nil {
		t.Fatal(err)
	}
	return m
}
