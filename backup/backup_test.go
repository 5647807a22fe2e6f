package backup_test

import (
	"context"
	"errors"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"morvek/backup"
	"morvek/core/edit/partedits"
	"morvek/store"
	"morvek/store/storetest"
	"morvek/workspace"
	"morvek/workspace/workspacetest"
)

var (
	db      *store.Store
	address string
)

func TestMain(m *testing.M) {
	os.Exit(storetest.Run(func(s *store.Store, url string) (int, error) { db, address = s, url; return m.Run(), nil }))
}

// empty is the address of a database that nobody has used.
func empty(t *testing.T, name string) string {
	t.Helper()
	if _, err := db.DB().Exec("create database " + name); err != nil {
		t.Fatal(err)
	}
	u, err := url.Parse(address)
	if err != nil {
		t.Fatal(err)
	}
	u.Path = "/" + name
	return u.String()
}

// A backup is rehearsed: what comes back is what was, to the byte, and goes on.
func TestABackupComesBack(t *testing.T) {
	ctx := context.Background()
	id := workspacetest.NewCan(t, db, 24)
	docs := workspace.New(db, 0)
	o, err := docs.Apply(ctx, workspace.First(id), 1, store.By{Key: "k", Who: "Isla"}, &partedits.Recognise{})
	if err != nil {
		t.Fatal(err)
	}
	want, err := o.Doc.State.MarshalBinary()
	if err != nil {
		t.Fatal(err)
	}
	file := filepath.Join(t.TempDir(), "all.backup")
	if err := backup.Save(ctx, address, file); err != nil {
		t.Fatal(err)
	}
	if i, err := os.Stat(file); err != nil || i.Mode().Perm() != 0o600 {
		t.Errorf("%v, %v", i, err)
	}
	if list, _ := filepath.Glob(filepath.Join(filepath.Dir(file), ".morvek-*")); len(list) > 0 {
		t.Errorf("left behind: %v", list)
	}
	for _, name := range []string{"restored", "restored_after_a_server_started"} {
		to := empty(t, name)
		back, err := store.Open(ctx, to)
		if err != nil {
			t.Fatal(err)
		}
		defer back.Close()
		if name != "restored" {
			if err := back.Migrate(ctx); err != nil {
				t.Fatal(err)
			}
		}
		if err := backup.Restore(ctx, to, file); err != nil {
			t.Fatal(err)
		}
		if err := back.Migrate(ctx); err != nil {
			t.Fatal(err)
		}
		again := workspace.New(back, 0)
		r, err := again.Get(ctx, id)
		if err != nil {
			t.Fatal(err)
		}
		got, err := r.Doc.State.MarshalBinary()
		if err != nil || string(got) != string(want) || r.Row.LastWho != "Isla" {
			t.Errorf("another state came back, of %q: %v", r.Row.LastWho, err)
		}
		if _, err := again.Step(ctx, id, r.Row.Revision, "", true); err != nil {
			t.Errorf("it does not go on: %v", err)
		}
		if _, err := back.CreateProject(ctx, "after"); err != nil {
			t.Errorf("numbers begin anew: %v", err)
		}
		if err := backup.Restore(ctx, to, file); !errors.Is(err, backup.ErrNotEmpty) {
			t.Errorf("over what is there: %v", err)
		}
	}
}

// What is broken leaves the database as it was.
func TestABrokenBackup(t *testing.T) {
	ctx := context.Background()
	dir := t.TempDir()
	file := filepath.Join(dir, "all.backup")
	if err := backup.Save(ctx, address, file); err != nil {
		t.Fatal(err)
	}
	b, err := os.ReadFile(file)
	if err != nil {
		t.Fatal(err)
	}
	to := empty(t, "broken")
	for name, data := range map[string][]byte{"half": b[:len(b)/2], "nothing": nil, "else": []byte("v 0 0 0\n")} {
		bad := filepath.Join(dir, name)
		if err := os.WriteFile(bad, data, 0o600); err != nil {
			t.Fatal(err)
		}
		if err := backup.Restore(ctx, to, bad); err == nil || !strings.Contains(err.Error(), "pg_restore") {
			t.Errorf("%s: %v", name, err)
		}
	}
	s, err := store.Open(ctx, to)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	var tables int
	if err := s.DB().QueryRow(`select count(*) from pg_tables where schemaname = 'public'`).Scan(&tables); err != nil || tables != 0 {
		t.Errorf("%d tables are left of it, %v", tables, err)
	}
	if err := backup.Restore(ctx, to, file); err != nil {
		t.Errorf("the whole one afterwards: %v", err)
	}
	if err := backup.Save(ctx, "postgres://nobody:x@127.0.0.1:1/none", filepath.Join(dir, "no")); err == nil {
		t.Error("of a database that is not there")
	}
	if _, err := os.Stat(filepath.Join(dir, "no")); err == nil {
		t.Error("a backup of nothing was written")
	}
	if a := backup.Address("postgres://a:secret@h/d"); strings.Contains(a, "secret") {
		t.Error(a)
	}
}
