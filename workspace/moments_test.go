package workspace_test

import (
	"bytes"
	"context"
	"errors"
	"strings"
	"testing"
	"time"

	"morvek/core/document"
	"morvek/core/edit/mapedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/sheetedits"
	"morvek/store"
	"morvek/workspace"
	"morvek/workspace/workspacetest"
)

func TestGoingBackIsAnEditLikeOthers(t *testing.T) {
	ctx := context.Background()
	id := workspacetest.NewCan(t, db, 12)
	docs := workspace.New(db, 0)
	first := workspace.First(id)
	now, err := docs.Get(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	if now, err = docs.Apply(ctx, first, now.Row.Revision, store.By{}, &partedits.Recognise{}); err != nil {
		t.Fatal(err)
	}
	read := stateOf(t, now, nil)
	if err := docs.Name(ctx, first, workspace.When{Seq: store.Now}, " as read ", "Ada"); err != nil {
		t.Fatal(err)
	}
	for name, says := range map[string]string{"": "give this state a name", "as read": "is called as read already", "a\nb": "letters", strings.Repeat("x", 61): "letters"} {
		if err := docs.Name(ctx, first, workspace.When{Seq: store.Now}, name, ""); !errors.Is(err, document.ErrRefused) || !strings.Contains(err.Error(), says) {
			t.Errorf("%q: %v", name, err)
		}
	}
	if now, err = docs.Apply(ctx, first, now.Row.Revision, store.By{}, &partedits.Rename{Part: 0, Name: "lid"}); err != nil {
		t.Fatal(err)
	}
	lid := stateOf(t, now, nil)
	back, err := docs.GoBack(ctx, first, now.Row.Revision, store.By{Who: "Ben"}, workspace.When{Seq: 1}, "after 1")
	if err != nil {
		t.Fatal(err)
	}
	if !bytes.Equal(stateOf(t, back, nil), read) || back.Row.LastEdit != "go back to after 1" || back.Row.LastWho != "Ben" || back.Row.Head != 3 {
		t.Errorf("went back to %+v", back.Row)
	}
	if _, err := docs.GoBack(ctx, first, now.Row.Revision, store.By{}, workspace.When{Seq: 1}, ""); !errors.Is(err, store.ErrStale) {
		t.Errorf("of an older revision: %v", err)
	}
	if now, err = docs.Step(ctx, id, back.Row.Revision, "", true); !bytes.Equal(stateOf(t, now, err), lid) {
		t.Error("undone it is another state")
	}

	// Another process, another way: the name leads there still.
	docs = workspace.New(db, 0)
	if now, err = docs.Step(ctx, id, now.Row.Revision, "", true); err != nil {
		t.Fatal(err)
	}
	if now, err = docs.Step(ctx, id, now.Row.Revision, "", true); err != nil {
		t.Fatal(err)
	}
	if now, err = docs.Apply(ctx, first, now.Row.Revision, store.By{}, &sheetedits.Set{Settings: now.Doc.State.Settings}); err != nil {
		t.Fatal(err)
	}
	list, err := db.Moments(ctx, id)
	if err != nil || len(list) != 1 || list[0].Seq != nil {
		t.Fatal(list, err)
	}
	when := workspace.When{Moment: list[0].ID}
	if says, err := docs.Says(ctx, id, when); says != "as read" || err != nil {
		t.Error(says, err)
	}
	if now, err = docs.GoBack(ctx, first, now.Row.Revision, store.By{}, when, "as read"); !bytes.Equal(stateOf(t, now, err), read) {
		t.Error("by its name it is another state")
	}
	if _, err := docs.Was(ctx, first, workspace.When{Moment: 1 << 40}); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("a name that nobody gave: %v", err)
	}
}

func TestGoingBackMovesNothingThatIsSealed(t *testing.T) {
	ctx := context.Background()
	id := workspacetest.NewCan(t, db, 12)
	docs := workspace.New(db, 0)
	first := workspace.First(id)
	o, err := docs.Get(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	if o, err = docs.RunLong(ctx, o, store.By{}, func(string, int, float64) {}); err != nil {
		t.Fatal(err)
	}
	if o, err = docs.Apply(ctx, first, o.Row.Revision, store.By{}, &mapedits.Seal{}); err != nil {
		t.Fatal(err)
	}
	if _, err := docs.GoBack(ctx, first, o.Row.Revision, store.By{}, workspace.When{Seq: 1}, "after 1"); !errors.Is(err, document.ErrRefused) {
		t.Errorf("a sealed map was moved: %v", err)
	}
}

func TestWhoeverWatchesHearsOfChangesElsewhere(t *testing.T) {
	ctx, stop := context.WithCancel(context.Background())
	id := workspacetest.NewCan(t, db, 12)
	here, elsewhere := workspace.New(db, 0), workspace.New(db, 0)
	over := make(chan struct{})
	go func() { here.Listen(ctx); close(over) }()
	changes, end := here.Watch(id)
	defer func() { end() }()
	for base := int64(1); ; base++ { // until it listens, which lets go of whoever waited before
		if _, err := elsewhere.Apply(ctx, workspace.First(id), base, store.By{Who: "Ada"}, &partedits.Recognise{}); err != nil {
			t.Fatal(err)
		}
		select {
		case c, there := <-changes:
			if !there {
				changes, end = here.Watch(id)
				continue
			}
			if c.Document != id || c.Revision < 2 || c.Revision > base+1 || c.Who != "Ada" {
				t.Errorf("heard %+v after revision %d", c, base)
			}
		case <-time.After(time.Second):
			if base > 20 {
				t.Fatal("nothing is heard")
			}
			continue
		}
		break
	}
	stop()
	<-over
}
