package workspace

import (
	"context"
	"encoding/json"
	"errors"

	"morvek/core/document"
	"morvek/store"
)

// Exposure returns the exposure of every face of a document, from memory or as it is
// stored with the model, and false if it was not computed yet.
func (d *Documents) Exposure(ctx context.Context, o *Opened) ([]float32, bool, error) {
	x := o.Doc.Exposure()
	if v, ok := x.Values(); ok {
		return v, true, nil
	}
	v, err := d.store.Exposure(ctx, o.Row.ModelHash, viewing(o.Doc))
	if errors.Is(err, store.ErrNotFound) || err == nil && len(v) != o.Doc.Mesh.NumFaces() {
		return nil, false, nil
	}
	if err != nil {
		return nil, false, err
	}
	x.Take(v)
	return v, true, nil
}

// Look computes the exposure of every face and stores it with the model.
func (d *Documents) Look(ctx context.Context, o *Opened, progress func(float64)) error {
	if _, ok, err := d.Exposure(ctx, o); ok || err != nil {
		return err
	}
	x := o.Doc.Exposure()
	if err := x.PrepareAll(ctx, progress); err != nil {
		return err
	}
	v, _ := x.Values()
	return d.store.KeepExposure(ctx, o.Row.ModelHash, viewing(o.Doc), v)
}

// viewing names from where a document is looked at.
func viewing(d *document.Document) string {
	s := d.State.Settings
	b, _ := json.Marshal(struct { // numbers and a string always can be
		Up     any
		Sides  any
		Merged bool `json:",omitempty"`
	}{s.Up, s.Viewed(), s.Merged})
	return string(b)
}
