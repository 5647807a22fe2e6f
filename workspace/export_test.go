package workspace

import (
	"context"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/store"
)

// Append stores edits whose states are known.
func (d *Documents) Append(ctx context.Context, o *Opened, edits []edit.Edit, states []*document.State) (*Opened, error) {
	return d.append(ctx, o, edits, states, store.By{})
}
