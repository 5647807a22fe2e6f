package store_test

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"testing"
	"time"

	"morvek/store"
)

func TestNamedStatesOutliveTheirEdits(t *testing.T) {
	ctx := context.Background()
	id := newDocument(t)
	at, err := db.Append(ctx, id, 1, []store.Edit{{Kind: "a", Params: []byte(`{}`), Label: "a", Delta: []byte("1"), Who: "Ada"}, {Kind: "b", Params: []byte(`{}`), Label: "b", Delta: []byte("2")}}, snapshot("s"))
	if err != nil {
		t.Fatal(err)
	}
	two := 2
	kept, err := db.KeepMoment(ctx, id, store.Moment{Name: "as sent", Seq: &two, Map: 1, Who: "Ada"}, []byte("state"))
	if err != nil {
		t.Fatal(err)
	}
	if _, err := db.KeepMoment(ctx, id, store.Moment{Name: "as sent", Map: 1}, nil); !errors.Is(err, store.ErrTaken) {
		t.Errorf("the name was given twice: %v", err)
	}
	if log, err := db.Worklog(ctx, id); err != nil || len(log) != 2 || log[1].Who != "Ada" || log[0].Who != "" {
		t.Errorf("worklog %+v, %v", log, err)
	}
	if _, at, err = db.Undo(ctx, id, at.Revision, ""); err != nil || at.LastWho != "Ada" {
		t.Fatal(at.LastWho, err)
	}
	if list, err := db.Moments(ctx, id); err != nil || len(list) != 1 || list[0].Seq == nil || *list[0].Seq != 2 {
		t.Errorf("while it can be redone: %+v, %v", list, err)
	}
	if _, err := db.Append(ctx, id, at.Revision, []store.Edit{{Kind: "c", Params: []byte(`{}`), Label: "c", Delta: []byte("3")}}, snapshot("s")); err != nil {
		t.Fatal(err)
	}
	m, state, err := db.Moment(ctx, id, kept)
	if err != nil || m.Seq != nil || m.Name != "as sent" || string(state) != "state" {
		t.Errorf("%+v %q, %v", m, state, err)
	}
	if _, _, err := db.Moment(ctx, newDocument(t), kept); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("of another document: %v", err)
	}
	if err := db.ForgetMoment(ctx, id, kept); err != nil {
		t.Error(err)
	}
	if err := db.ForgetMoment(ctx, id, kept); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("forgotten twice: %v", err)
	}
}

func TestChangesAreToldToWhoeverListens(t *testing.T) {
	ctx, stop := context.WithCancel(context.Background())
	begun, heard, ended := make(chan struct{}), make(chan store.Change, 8), make(chan error)
	go func() {
		ended <- db.Listen(ctx, func() { close(begun) }, func(c store.Change) { heard <- c })
	}()
	<-begun
	id := newDocument(t)
	long := string(slices.Repeat([]byte("é"), 5000))
	at, err := db.Append(ctx, id, 1, []store.Edit{{Kind: "a", Params: []byte(`{}`), Label: long, Delta: []byte("1"), Who: "Ada"}}, snapshot("s"))
	if err != nil {
		t.Fatal(err)
	}
	if _, _, err := db.Undo(ctx, id, at.Revision, "Ben"); err != nil {
		t.Fatal(err)
	}
	if _, err := db.Append(ctx, id, 1, []store.Edit{{Kind: "a", Params: []byte(`{}`), Label: "late", Delta: []byte("1")}}, snapshot("s")); !errors.Is(err, store.ErrStale) {
		t.Fatal(err)
	}
	var said []string
	for len(said) < 2 {
		select {
		case c := <-heard:
			if c.Document == id {
				said = append(said, fmt.Sprint(c.Revision, c.Who, len([]rune(c.Says)) < 400))
			}
		case <-time.After(time.Minute):
			t.Fatalf("heard %v only", said)
		}
	}
	if want := []string{"2Adatrue", "3Bentrue"}; !slices.Equal(said, want) {
		t.Errorf("heard %q, want %q", said, want)
	}
	stop()
	if err := <-ended; err == nil {
		t.Error("it ended without an error")
	}
	if len(heard) > 0 {
		t.Errorf("what was refused is told: %+v", <-heard)
	}
}
