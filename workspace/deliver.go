package workspace

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"morvek/core/delivery"
	"morvek/core/document"
	"morvek/store"
)

// mostDelivered bounds a delivery in bytes: it is held in memory while it is made.
const mostDelivered = 900 << 20

// limited is memory that refuses to grow beyond what may be delivered.
type limited struct{ bytes.Buffer }

func (l *limited) Write(p []byte) (int, error) {
	if l.Len()+len(p) > mostDelivered {
		return 0, document.Refuse("the delivery is larger than %d MB; choose smaller pictures or fewer things", mostDelivered>>20)
	}
	return l.Buffer.Write(p)
}

// File is the file a document came from, as it is delivered.
func (d *Documents) File(ctx context.Context, o *Opened) (delivery.Source, error) {
	from := delivery.Source{Name: o.Row.FileName}
	src, repairs, err := d.store.Source(ctx, o.Row.ModelHash)
	if err == nil && repairs == "" {
		from.Data = src
	}
	return from, err
}

// Deliver makes what is ordered of a document and stores it as what a work made. tell hears what is
// made and how far it is.
func (d *Documents) Deliver(ctx context.Context, o *Opened, work int64, order delivery.Order, tell func(what string, done float64)) error {
	if slices.Contains(order.Items, "bake.exposure") { // kept for the next time
		if err := d.Look(ctx, o, func(done float64) { tell("looking from all sides", done/3) }); err != nil {
			return err
		}
	}
	from, err := d.File(ctx, o)
	if err != nil {
		return err
	}
	var b limited
	files, err := delivery.Write(ctx, &b, o.Doc, from, order, func(what string, done float64) { tell(what, (1+2*done)/3) })
	if err != nil {
		return err
	}
	list, err := json.Marshal(files)
	if err != nil {
		return err
	}
	asked, err := json.Marshal(order)
	if err != nil {
		return err
	}
	name := fmt.Sprintf("%s-r%d.zip", o.Row.Stem(), o.Row.Revision)
	return d.store.KeepDelivery(ctx, store.Delivery{DocumentID: o.Row.ID, WorkID: &work, Revision: o.Row.Revision, FileName: name, Asked: asked, Files: list}, b.Bytes())
}
