package store_test

import (
	"context"
	"errors"
	"testing"

	"morvek/store"
)

// titles are those of a project's documents by where they stand.
func titles(t *testing.T, project int64) map[string]store.Stand {
	t.Helper()
	list, err := db.Shelf(context.Background(), project)
	if err != nil {
		t.Fatal(err)
	}
	out := map[string]store.Stand{}
	for _, d := range list {
		out[d.Title] = d.Stand
	}
	return out
}

func TestWhatIsDeletedComesBack(t *testing.T) {
	ctx := context.Background()
	id := newDocument(t)
	d, err := db.Document(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	for _, to := range []store.Stand{store.PutAway, store.Gone, store.InUse} {
		if err := db.PlaceDocument(ctx, id, to); err != nil {
			t.Fatal(err)
		}
		if got := titles(t, d.ProjectID)[d.Title]; got != to {
			t.Errorf("it is %s, not %s", got, to)
		}
		_, err := db.Document(ctx, id)
		if there := err == nil; there != (to != store.Gone) {
			t.Errorf("%s it answers %v", to, err)
		}
		list, err := db.Documents(ctx, d.ProjectID)
		if err != nil || (len(list) == 1) != (to == store.InUse) {
			t.Errorf("%s it is listed %d times, %v", to, len(list), err)
		}
	}
	if err := db.PlaceProject(ctx, d.ProjectID, store.Gone); err != nil {
		t.Fatal(err)
	}
	if _, err := db.Load(ctx, id); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("of a deleted project: %v", err)
	}
	if err := db.MoveDocument(ctx, id, d.ProjectID); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("it was moved to where nothing is: %v", err)
	}
	if err := db.PlaceProject(ctx, d.ProjectID, store.InUse); err != nil {
		t.Fatal(err)
	}
	if err := db.Purge(ctx, store.Keep); err != nil {
		t.Fatal(err)
	}
	if _, err := db.Document(ctx, id); err != nil {
		t.Errorf("after a purge of what is old: %v", err)
	}
	if err := db.PlaceDocument(ctx, id, store.Gone); err != nil {
		t.Fatal(err)
	}
	if err := db.Purge(ctx, 0); err != nil || len(titles(t, d.ProjectID)) != 0 {
		t.Errorf("it is kept for good: %v", err)
	}
	if err := db.PlaceDocument(ctx, 1<<40, store.Gone); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("one that never was: %v", err)
	}
}

func TestACopyGoesItsOwnWay(t *testing.T) {
	ctx := context.Background()
	id := newDocument(t)
	at, err := db.Append(ctx, id, 1, edit("a"), snapshot("s"))
	if err != nil {
		t.Fatal(err)
	}
	one := 1
	if _, err := db.KeepMoment(ctx, id, store.Moment{Name: "first", Seq: &one, Map: 1}, []byte("s")); err != nil {
		t.Fatal(err)
	}
	if err := db.KeepCover(ctx, id, store.Cover{Revision: at.Revision, Model: []byte("m"), Sheet: []byte("s"), Shells: 3}); err != nil {
		t.Fatal(err)
	}
	if err := db.KeepCover(ctx, id, store.Cover{Revision: at.Revision - 1, Model: []byte{}, Sheet: []byte{}}); err != nil {
		t.Fatal(err)
	}
	copied, err := db.DuplicateDocument(ctx, id, "another")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := db.Append(ctx, id, at.Revision, edit("b"), snapshot("s")); err != nil {
		t.Fatal(err)
	}
	d, err := db.Document(ctx, copied)
	if err != nil || d.Title != "another" || d.Head != 1 || d.LastEdit != "a" {
		t.Errorf("the copy is %+v, %v", d, err)
	}
	if c, err := db.Cover(ctx, copied); err != nil || c.Shells != 3 || string(c.Model) != "m" {
		t.Errorf("its cover is %+v, %v", c, err)
	}
	if m, err := db.Moments(ctx, copied); err != nil || len(m) != 1 {
		t.Errorf("its named states are %v, %v", m, err)
	}
	list, err := db.Shelf(ctx, d.ProjectID)
	if err != nil || len(list) != 2 || list[0].Fresh() || !list[1].Fresh() || list[0].Bytes == 0 {
		t.Errorf("the shelf is %+v, %v", list, err)
	}
	if _, err := db.DuplicateDocument(ctx, 1<<40, "x"); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("of none: %v", err)
	}
}
