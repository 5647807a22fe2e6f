package seamedits

import (
	"context"

	"morvek/core/document"
	"morvek/core/edit/preview"
)

// Preview says what the join costs.
func (e *Join) Preview(ctx context.Context, d *document.Document) (preview.Preview, error) {
	s, cost, err := e.Cost(ctx, d)
	return preview.Preview{State: s, Join: &cost}, err
}

// Preview lets the figures of the whole map speak.
func (e *Dial) Preview(ctx context.Context, d *document.Document) (preview.Preview, error) {
	s, err := e.Apply(ctx, d, nil)
	return preview.Preview{State: s, Whole: true}, err
}

// Preview says where the shells come to lie.
func (e *Straighten) Preview(ctx context.Context, d *document.Document) (preview.Preview, error) {
	s, err := e.Apply(ctx, d, nil)
	return preview.Preview{State: s, Said: "its seams are cut anew; it waits beside the sheet until all is packed"}, err
}
