// Package modeltest gives tests the models of the workshop.
package modeltest

import (
	"testing"

	"morvek/core/mesh"
	"morvek/models"
)

// Mesh builds a model by its name.
func Mesh(t testing.TB, slug string) *mesh.Mesh {
	t.Helper()
	model, err := models.Find(slug)
	if err != nil {
		t.Fatal(err)
	}
	m, err := model.Mesh()
	if err != nil {
		t.Fatal(err)
	}
	return m
}
