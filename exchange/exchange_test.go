package exchange_test

import (
	"archive/zip"
	"bytes"
	"context"
	"image"
	"image/png"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"morvek/exchange"
	"morvek/store"
	"morvek/store/storetest"
	"morvek/workspace"
	"morvek/workspace/workspacetest"
)

var db *store.Store

func TestMain(m *testing.M) {
	os.Exit(storetest.Run(func(at *store.Store, _ string) (int, error) {
		db = at
		return m.Run(), nil
	}))
}

func packed(t *testing.T, files map[string]string) []byte {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for name, text := range files {
		f, err := z.Create(name)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := f.Write([]byte(text)); err != nil {
			t.Fatal(err)
		}
	}
	if err := z.Close(); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

func square(t *testing.T, side int) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := png.Encode(&b, image.NewGray(image.Rect(0, 0, side, side))); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

func open(t *testing.T, dir string) *exchange.Folder {
	t.Helper()
	f, err := exchange.Open(dir, workspace.New(db, 0), slog.New(slog.DiscardHandler))
	if err != nil {
		t.Fatal(err)
	}
	return f
}

func look(t *testing.T, f *exchange.Folder, times int) {
	t.Helper()
	for range times {
		if err := f.Look(context.Background()); err != nil {
			t.Fatal(err)
		}
	}
}

// save writes a file with a time of its own, as a program that saves again does.
func save(t *testing.T, path string, data []byte, at time.Time) {
	t.Helper()
	if err := os.WriteFile(path, data, 0o600); err != nil {
		t.Fatal(err)
	}
	if err := os.Chtimes(path, at, at); err != nil {
		t.Fatal(err)
	}
}

// A picture is taken once nobody writes to it any more, again when it changes, and what is wrong with
// one is said and changes nothing.
func TestPicturesAreTakenAsTheyAreSaved(t *testing.T) {
	ctx, dir := context.Background(), t.TempDir()
	id := workspacetest.NewCan(t, db, 12)
	f := open(t, dir)
	look(t, f, 1)
	name, err := f.Put(exchange.Sheet{Document: id, Map: 1, Title: "can", Tiles: 1}, packed(t, map[string]string{"masks/part.csv": "x", "can.obj": "v"}))
	if err != nil {
		t.Fatal(err)
	}
	path := filepath.Join(dir, name, "painted.png")
	now := time.Now()
	kept := func() (side int) {
		list, err := db.Pictures(ctx, id, 1)
		if err != nil {
			t.Fatal(err)
		}
		for _, p := range list {
			side = p.Width
		}
		return side
	}
	save(t, path, square(t, 16), now)
	if look(t, f, 1); kept() != 0 {
		t.Error("a picture was taken while it may be written still")
	}
	if look(t, f, 1); kept() != 16 {
		t.Fatal("a picture that lies there was not taken")
	}
	save(t, path, square(t, 32), now.Add(time.Second))
	if look(t, f, 2); kept() != 32 {
		t.Error("a picture that changed was not taken")
	}
	of := workspace.Ref{Document: id, Map: 1}
	for says, data := range map[string][]byte{"broken": square(t, 64)[:60], "no PNG": []byte("hello")} {
		save(t, path, data, now.Add(time.Duration(len(data))*time.Minute))
		look(t, f, 2)
		note, err := os.ReadFile(path + ".problem.txt")
		if err != nil || !strings.Contains(f.Trouble(of), says) || !strings.Contains(string(note), says) || kept() != 32 {
			t.Errorf("%s: said %q and beside it %q, %v; kept %d", says, f.Trouble(of), note, err, kept())
		}
	}
	save(t, path, square(t, 48), now.Add(9*time.Hour))
	look(t, f, 2)
	if _, err := os.Stat(path + ".problem.txt"); err == nil || f.Trouble(of) != "" || kept() != 48 {
		t.Errorf("after a good one it still says %q, kept %d", f.Trouble(of), kept())
	}
	// Sent again, what was sent before goes and what was painted stays.
	if _, err := f.Put(exchange.Sheet{Document: id, Map: 1, Tiles: 1}, packed(t, map[string]string{"can.glb": "x"})); err != nil {
		t.Fatal(err)
	}
	if _, err := os.Stat(filepath.Join(dir, name, "can.obj")); err == nil {
		t.Error("what was sent before is still there")
	}
	if _, err := os.Stat(path); err != nil {
		t.Error("what was painted is gone")
	}
	// A process that comes later takes nothing that is older than what was brought meanwhile.
	save(t, path, square(t, 8), now.Add(-time.Hour))
	if look(t, open(t, dir), 3); kept() != 48 {
		t.Errorf("an old picture was taken in place of a newer one: %d", kept())
	}
}

func TestFoldersOfOthersAreLeftAlone(t *testing.T) {
	dir := t.TempDir()
	f := open(t, dir)
	for name, note := range map[string]string{"notes": "", "7-1": "{", "8-1": `{"document": 9, "map": 1}`, ".8-1": `{"document": 8, "map": 1}`} {
		if err := os.MkdirAll(filepath.Join(dir, name), 0o700); err != nil {
			t.Fatal(err)
		}
		if err := os.WriteFile(filepath.Join(dir, name, exchange.Note), []byte(note), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	if s, err := f.Sheets(); err != nil || len(s) != 0 {
		t.Errorf("they are %+v, %v", s, err)
	}
	if _, err := f.Put(exchange.Sheet{Document: 1, Map: 1}, packed(t, map[string]string{"../../outside": "x"})); err == nil {
		t.Error("something was unpacked outside")
	}
	if left, _ := filepath.Glob(filepath.Join(dir, ".sending-*")); len(left) > 0 {
		t.Errorf("it left %v", left)
	}
}
