package bench

import (
	"context"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/preview"
	"morvek/web/wire"
)

// dryRun is what an edit would do, with what there is to say about it.
func dryRun(ctx context.Context, d *document.Document, e edit.Edit) (wire.Ghost, error) {
	p, err := edit.Preview(ctx, d, e)
	if err != nil {
		return wire.Ghost{}, err
	}
	return newGhostView(d, p), nil
}

func rowViews(list []preview.Row) (out []wire.Row) {
	for _, r := range list {
		out = append(out, wire.Row(r))
	}
	return out
}
