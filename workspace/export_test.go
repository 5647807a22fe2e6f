package workspace

import (
	"context"
	"sync/atomic"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/store"
)

// PollWork is how often a watched work is looked at.
const PollWork = pollWork

// Append stores edits whose states are known.
func (d *Documents) Append(ctx context.Context, o *Opened, edits []edit.Edit, states []*document.State) (*Opened, error) {
	return d.append(ctx, o, edits, states, store.By{})
}

// CountLooks counts how often works are looked at from now on.
func CountLooks(d *Documents) *atomic.Int64 {
	var n atomic.Int64
	ask := d.working.ask
	d.working.ask = func(ctx context.Context, id int64) (store.Work, error) {
		n.Add(1)
		return ask(ctx, id)
	}
	return &n
}
