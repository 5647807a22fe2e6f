package store_test

import (
	"context"
	"fmt"
	"net/url"
	"sync"
	"testing"

	"morvek/store"
)

// fresh is a store on a database of its own that nobody has migrated.
func fresh(t *testing.T, name string) *store.Store {
	t.Helper()
	ctx := context.Background()
	if _, err := db.DB().ExecContext(ctx, "create database "+name); err != nil {
		t.Fatal(err)
	}
	return open(t, name)
}

func open(t *testing.T, name string) *store.Store {
	t.Helper()
	at, err := url.Parse(address)
	if err != nil {
		t.Fatal(err)
	}
	at.Path = "/" + name
	s, err := store.Open(context.Background(), at.String())
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return s
}

// Many servers that start at once on an empty database all find it ready.
func TestManyMigrateAtOnce(t *testing.T) {
	all := []*store.Store{fresh(t, "at_once")}
	for len(all) < 14 {
		all = append(all, open(t, "at_once"))
	}
	var g sync.WaitGroup
	for _, s := range all {
		g.Go(func() {
			if err := s.Migrate(context.Background()); err != nil {
				t.Error(err)
			}
		})
	}
	g.Wait()
	if _, err := all[3].CreateProject(context.Background(), "ready"); err != nil {
		t.Error(err)
	}
}

// What is in the database of every earlier version is there after migrating to this one, and what can be
// taken back and done again is.
func TestEveryEarlierVersionMigrates(t *testing.T) {
	ctx := context.Background()
	s := fresh(t, "earlier_list")
	p, err := s.Provider()
	if err != nil {
		t.Fatal(err)
	}
	sources := p.ListSources()
	if len(sources) < 15 {
		t.Fatalf("%d migrations", len(sources))
	}
	for _, from := range sources {
		t.Run(fmt.Sprint(from.Version), func(t *testing.T) {
			s := fresh(t, fmt.Sprintf("earlier_%d", from.Version))
			p, err := s.Provider()
			if err != nil {
				t.Fatal(err)
			}
			if _, err := p.UpTo(ctx, from.Version); err != nil {
				t.Fatal(err)
			}
			exec := func(q string, args ...any) {
				t.Helper()
				if _, err := s.DB().ExecContext(ctx, q, args...); err != nil {
					t.Fatal(err)
				}
			}
			exec(`insert into projects (title) values ('kept')`)
			exec(`insert into models (hash, file_name, faces, points, source) values ('h', 'lamp.obj', 12, 8, 'x')`)
			columns, values := "", ""
			if from.Version >= 15 {
				columns, values = ", file_name", ", 'lamp.obj'"
			}
			exec(`insert into documents (project_id, model_hash, title, about, snapshot, head` + columns + `) values (1, 'h', 'lamp', '', 's', 1` + values + `)`)
			exec(`insert into edits (document_id, seq, kind, params, label, delta) values (1, 1, 'cut', '{}', 'cut an edge', 'd')`)
			if err := s.Migrate(ctx); err != nil {
				t.Fatal(err)
			}
			check := func() {
				t.Helper()
				d, err := s.Document(ctx, 1)
				if err != nil || d.Title != "lamp" || d.FileName != "lamp.obj" || d.Faces != 12 || d.LastEdit != "cut an edge" {
					t.Errorf("%+v, %v", d, err)
				}
				if list, err := s.Projects(ctx); err != nil || len(list) != 1 || list[0].Title != "kept" {
					t.Errorf("%+v, %v", list, err)
				}
			}
			check()
			if _, err := p.DownTo(ctx, from.Version); err != nil {
				t.Fatal(err)
			}
			if err := s.Migrate(ctx); err != nil {
				t.Fatal(err)
			}
			check()
		})
	}
}
