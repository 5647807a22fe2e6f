package document

import (
	"context"

	"morvek/core/parallel"
	"morvek/core/parts"
)

// Reading says how a mesh is read; the zero value is what is usual.
type Reading struct {
	CreaseDeg float64  `json:"crease_deg,omitempty"` // 0: that of the document
	Tolerance float64  `json:"tolerance,omitempty"`  // share of the diagonal, 0: measured
	Detail    *float64 `json:"detail,omitempty"`     // 0 few parts … 1 primitives, none: that of the document
}

// Options returns what recognition is asked for, or why that cannot be.
func (r Reading) Options(d *Document) (o parts.Options, err error) {
	o = parts.Default()
	o.Exposure = d.Exposure().Face
	if o.CreaseDeg = r.CreaseDeg; o.CreaseDeg == 0 {
		o.CreaseDeg = d.State.Settings.CreaseDeg
	}
	if o.Detail = d.State.Settings.Detail(); r.Detail != nil {
		o.Detail = *r.Detail
	}
	o.Tolerance = r.Tolerance
	if !(o.Detail >= 0 && o.Detail <= 1) || !(o.Tolerance >= 0 && o.Tolerance <= 0.05) || !(o.CreaseDeg > 0 && o.CreaseDeg < 180) {
		return o, Refuse("detail goes from 0 to 1, tolerance from 0 to 0.05, the crease from 0° to 180°")
	}
	return o, nil
}

// Tree returns the whole reading of a mesh.
func (d *Document) Tree(ctx context.Context, o parts.Options, progress func(float64)) (parts.Tree, error) {
	r := &d.shared.readings
	r.mu.Lock()
	defer r.mu.Unlock()
	key := treeKey{o.CreaseDeg, o.Tolerance, viewing{d.State.Settings.Up, d.State.Settings.Viewed()}}
	if r.tree != nil && r.of == key {
		return r.tree, ctx.Err()
	}
	o.Detail, o.Faces = 0, nil
	t, err := d.Read(ctx, o, progress)
	if err == nil {
		r.of, r.tree = key, t
	}
	return t, err
}

// Read reads a mesh, or the faces that are asked for.
func (d *Document) Read(ctx context.Context, o parts.Options, progress func(float64)) (parts.Tree, error) {
	var rays parallel.Group
	rays.Do(func() { d.Mesh.BVH() }) // chamfers will ask for rays; their tree grows beside the facets
	t, err := parts.Read(ctx, d.Mesh, o, progress)
	_ = rays.Wait()
	return t, err
}
