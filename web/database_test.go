package web_test

import (
	"database/sql"
	"fmt"
	"strings"
	"testing"
	"time"

	"morvek/workspace/workspacetest"
)

// A database that has no room says so, and takes the very same edit when it has some; one that is slow is
// waited for.
func TestADatabaseThatIsFullOrSlow(t *testing.T) {
	at := fmt.Sprintf("/documents/%d", workspacetest.NewCan(t, db, 12))
	exec := func(q string) {
		t.Helper()
		if _, err := db.DB().Exec(q); err != nil {
			t.Fatal(err)
		}
	}
	seal := map[string]any{"base": 1, "key": "while it is full", "edit": edit("make-map", map[string]any{"name": "Boards", "purpose": "tiling"})}
	exec(`create function full_disk() returns trigger language plpgsql as $$ begin raise exception 'could not extend file: No space left on device' using errcode = '53100'; end $$`)
	exec(`create trigger full_disk before insert on edits for each row execute function full_disk()`)
	for range 2 {
		if code, b := call(t, "POST", at+"/edits", seal); code != 507 || !strings.Contains(string(b), "the database is full") {
			t.Errorf("full: %d %s", code, b)
		}
	}
	exec(`drop trigger full_disk on edits`)
	exec(`drop function full_disk`)
	if code, b := call(t, "POST", at+"/edits", seal); code != 200 {
		t.Errorf("with room again: %d %s", code, b)
	}

	tx, err := db.DB().Begin()
	if err != nil {
		t.Fatal(err)
	}
	defer tx.Rollback() //nolint:errcheck // it was
	if _, err := tx.Exec(`select from documents where id = ` + strings.TrimPrefix(at, "/documents/") + ` for update`); err != nil {
		t.Fatal(err)
	}
	type answer struct {
		code int
		body []byte
	}
	done := make(chan answer, 1)
	go func() {
		code, b := call(t, "POST", at+"/undo", map[string]any{"base": 2})
		done <- answer{code, b}
	}()
	select {
	case a := <-done:
		t.Fatalf("it did not wait: %d %s", a.code, a.body)
	case <-time.After(300 * time.Millisecond):
	}
	if err := tx.Rollback(); err != nil && err != sql.ErrTxDone { //nolint:errorlint // it is that very one
		t.Fatal(err)
	}
	if a := <-done; a.code != 200 {
		t.Errorf("after waiting: %d %s", a.code, a.body)
	}
}
