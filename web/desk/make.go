package desk

import (
	"context"
	"fmt"
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/core/edit"
	"morvek/store"
	"morvek/workspace"
)

// longestKey bounds the key of an edit, in letters.
const longestKey = 64

// CheckKey refuses keys of edits that are too long.
func CheckKey(key string) error {
	if len(key) > longestKey {
		return echo.NewHTTPError(http.StatusBadRequest, fmt.Sprintf("the key of an edit has at most %d letters", longestKey))
	}
	return nil
}

// Fresh refuses an edit that is meant for a revision that has passed, before it is read: ErrStale, but for one
// that was made already. A revision that is held is fresh as far as anybody knows here.
func (d *Desk) Fresh(ctx context.Context, document, base int64, key string) error {
	if d.Docs.Held(document, base) {
		return nil
	}
	row, err := d.Store.Document(ctx, document)
	if err != nil || row.Revision == base {
		return err
	}
	if key != "" && len(key) <= longestKey {
		if made, err := d.Store.Made(ctx, document, key); err != nil || made {
			return err
		}
	}
	return store.ErrStale
}

// Made is what became of an edit that was asked for.
type Made struct {
	Work   int64             // it takes long, and was queued
	Now    *workspace.Opened // else the document after it
	Before bool              // it was made long ago: whoever sends it has lost the answer
}

// Make makes an edit of a document at a revision, seen through a map: at once, or as a work if it may
// take long. One with the key of an edit that was made is not made again.
func (d *Desk) Make(ctx context.Context, to workspace.Ref, base int64, by store.By, e edit.Edit) (m Made, err error) {
	if err := CheckKey(by.Key); err != nil {
		return m, err
	}
	if !edit.TakesLong(e) {
		m.Now, err = d.Docs.Apply(ctx, to, base, by, e)
		return m, err
	}
	now, err := d.Docs.Through(ctx, to)
	if err != nil {
		return m, err
	}
	if m.Before, err = d.Store.Made(ctx, to.Document, by.Key); err != nil || m.Before {
		m.Now = now
		return m, err
	}
	if now.Row.Revision != base {
		return m, store.ErrStale
	}
	m.Work, err = d.Queue.Edit(ctx, now, by, e)
	return m, err
}
