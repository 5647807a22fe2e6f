package store_test

import (
	"context"
	"errors"
	"slices"
	"testing"

	"morvek/store"
)

func TestExposureIsKeptWithTheModel(t *testing.T) {
	ctx := context.Background()
	id := newDocument(t)
	d, err := db.Document(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := db.Exposure(ctx, d.ModelHash, "front"); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("before anybody looked: %v", err)
	}
	want := []float32{0, 0.25, 1, 0.5}
	if err := db.KeepExposure(ctx, d.ModelHash, "front", want); err != nil {
		t.Fatal(err)
	}
	if err := db.KeepExposure(ctx, d.ModelHash, "front", []float32{9}); err != nil { // the first stands
		t.Fatal(err)
	}
	if got, err := db.Exposure(ctx, d.ModelHash, "front"); err != nil || !slices.Equal(got, want) {
		t.Errorf("%v, %v", got, err)
	}
	if _, err := db.Exposure(ctx, d.ModelHash, "back"); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("from another side: %v", err)
	}
	if err := db.KeepExposure(ctx, "no such model", "front", want); err == nil {
		t.Error("kept for a model that is not there")
	}
}
