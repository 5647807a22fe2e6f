package workspace

import (
	"bytes"
	"context"
	"errors"
	"image/png"

	"morvek/core/report"
	"morvek/core/template"
	"morvek/store"
)

// coverSize is how wide and high the pictures of a cover are, in pixels.
const coverSize = 240

// Cover returns what a document looks like from outside as it is now: from the store, or drawn, one at
// a time, and kept there.
func (d *Documents) Cover(ctx context.Context, id int64) (store.Cover, error) {
	if c, err := d.freshCover(ctx, id); err == nil || !errors.Is(err, errNoCover) {
		return c, err
	}
	select {
	case d.covering <- struct{}{}:
	case <-ctx.Done():
		return store.Cover{}, ctx.Err()
	}
	defer func() { <-d.covering }()
	if c, err := d.freshCover(ctx, id); err == nil || !errors.Is(err, errNoCover) { // somebody drew it meanwhile
		return c, err
	}
	o, err := d.Get(ctx, id)
	if err != nil {
		return store.Cover{}, err
	}
	c, err := drawCover(ctx, o)
	if err != nil {
		return c, err
	}
	return c, d.store.KeepCover(ctx, id, c)
}

var errNoCover = errors.New("no cover of the document as it is")

func (d *Documents) freshCover(ctx context.Context, id int64) (store.Cover, error) {
	row, err := d.store.Document(ctx, id)
	if err != nil {
		return store.Cover{}, err
	}
	c, err := d.store.Cover(ctx, id)
	if errors.Is(err, store.ErrNotFound) || err == nil && c.Revision != row.Revision {
		return c, errNoCover
	}
	return c, err
}

func drawCover(ctx context.Context, o *Opened) (c store.Cover, err error) {
	img, err := report.Portrait(ctx, o.Doc, report.Half(o.Doc), coverSize)
	if err != nil {
		return c, err
	}
	var b bytes.Buffer
	if err := png.Encode(&b, img); err != nil {
		return c, err
	}
	t := report.Template(o.Doc)
	for i := range t.Shells {
		t.Shells[i].Inner = nil
	}
	var s bytes.Buffer
	if err := template.PNG(&s, t, template.Options{Size: coverSize, Bare: true}); err != nil {
		return c, err
	}
	r := o.Proof()
	c = store.Cover{Revision: o.Row.Revision, Model: b.Bytes(), Sheet: s.Bytes(), Parts: len(o.Doc.State.Parts), Shells: len(r.Shells), Findings: len(r.Findings), Coverage: r.Totals.Coverage}
	for _, n := range o.Card().ToDo {
		c.Open += n
	}
	return c, nil
}
