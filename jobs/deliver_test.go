package jobs_test

import (
	"context"
	"errors"
	"testing"

	"morvek/core/delivery"
	"morvek/core/document"
	"morvek/core/edit/partedits"
	"morvek/store"
	"morvek/workspace"
	"morvek/workspace/workspacetest"
)

// A delivery is made by any process, beside other work, and kept once; the oldest of many go.
func TestDeliveriesAreMadeInTheQueue(t *testing.T) {
	ctx := context.Background()
	front, docs := open(t, 0), workspace.New(db, 0)
	id := workspacetest.NewCan(t, db, 12)
	o, err := docs.Get(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	order := delivery.Order{Items: []string{"obj", "bake.exposure", "report.json"}, Size: 64}
	if _, err := front.Deliver(ctx, o, delivery.Order{Items: []string{"a poem"}}, ""); !errors.Is(err, document.ErrRefused) {
		t.Errorf("what there is not: %v", err)
	}
	work, err := front.Deliver(ctx, o, order, "")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := front.Deliver(ctx, o, order, ""); !errors.Is(err, store.ErrBusy) {
		t.Errorf("a second while one is made: %v", err)
	}
	if _, err := front.Edit(ctx, o, store.By{}, &partedits.Recognise{}); err != nil { // it changes nothing: others go on
		t.Errorf("an edit beside it: %v", err)
	}
	if _, err := db.DeliveryOf(ctx, work); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("before it is made: %v", err)
	}
	open(t, 1)
	if w := over(t, work); w.State != "done" {
		t.Fatalf("it ended as %q: %s", w.State, w.Message)
	}
	d, err := db.DeliveryOf(ctx, work)
	if err != nil {
		t.Fatal(err)
	}
	_, data, err := db.Delivery(ctx, d.ID)
	if err != nil || len(data) != d.Bytes || string(data[:2]) != "PK" || d.DocumentID != id {
		t.Errorf("%+v has %d bytes, %v", d, len(data), err)
	}
	if o, err = docs.Get(ctx, id); err != nil {
		t.Fatal(err)
	}
	// Made again by a process that took the work up, it is the same one.
	if err := docs.Deliver(ctx, o, work, order, func(string, float64) {}); err != nil {
		t.Fatal(err)
	}
	for range 13 {
		if err := db.KeepDelivery(ctx, store.Delivery{DocumentID: id, Revision: 1, FileName: "can.zip", Asked: []byte(`{}`), Files: []byte(`[]`)}, []byte("PK")); err != nil {
			t.Fatal(err)
		}
	}
	if all, err := db.Deliveries(ctx, id); err != nil || len(all) != 12 || all[0].ID < all[11].ID {
		t.Errorf("%d are kept, %v", len(all), err)
	}
	if _, _, err := db.Delivery(ctx, d.ID); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("the oldest is still there: %v", err)
	}
}
