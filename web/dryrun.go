package web

import (
	"context"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/preview"
	"morvek/core/mesh"
)

// dryRun is what an edit would do, with what there is to say about it.
func dryRun(ctx context.Context, d *document.Document, e edit.Edit) (ghostView, error) {
	p, err := edit.Preview(ctx, d, e)
	if err != nil {
		return ghostView{}, err
	}
	return newGhostView(d, p), nil
}

// partsView is how parts would change.
type partsView struct {
	Was    int `json:"was"`
	Will   int `json:"will"`
	United int `json:"united"` // parts that go into larger ones
	Split  int `json:"split"`  // parts that are taken apart
}

// rowView is a loop or a seam with what an edit makes of it.
type rowView struct {
	Edges   []mesh.EdgeID `json:"edges"`
	Words   string        `json:"words"`
	Figures string        `json:"figures"`
}

func rowViews(list []preview.Row) (out []rowView) {
	for _, r := range list {
		out = append(out, rowView(r))
	}
	return out
}
