package partedits

import (
	"context"

	"morvek/core/document"
	"morvek/core/edit/preview"
)

// Preview counts the parts.
func (r *Recognise) Preview(ctx context.Context, d *document.Document) (preview.Preview, error) {
	return counted(d)(r.Apply(ctx, d, nil))
}

// Preview counts the parts.
func (e *Detail) Preview(ctx context.Context, d *document.Document) (preview.Preview, error) {
	return counted(d)(e.Apply(ctx, d, nil))
}

// Preview counts the parts.
func (e *Split) Preview(ctx context.Context, d *document.Document) (preview.Preview, error) {
	return counted(d)(e.Apply(ctx, d, nil))
}

// Preview counts the parts.
func (e *Unite) Preview(ctx context.Context, d *document.Document) (preview.Preview, error) {
	return counted(d)(e.Apply(ctx, d, nil))
}

func counted(d *document.Document) func(*document.State, error) (preview.Preview, error) {
	return func(next *document.State, err error) (preview.Preview, error) {
		if err != nil {
			return preview.Preview{}, err
		}
		return preview.Preview{State: next, Parts: preview.CountParts(d.State, next)}, nil
	}
}
