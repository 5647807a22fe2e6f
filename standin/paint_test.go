package standin_test

import (
	"archive/zip"
	"bytes"
	"context"
	"errors"
	"image/png"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"testing"

	"morvek/core/delivery"
	"morvek/core/document"
	"morvek/core/pipeline"
	"morvek/models/modeltest"
	"morvek/standin"
)

// sent is the folder of the winch's sheet, of so many tiles.
func sent(t *testing.T, tiles, size int) string {
	t.Helper()
	set := document.DefaultSettings()
	set.Sheet.Tiles = tiles
	res, err := pipeline.Run(context.Background(), document.New(modeltest.Mesh(t, "survey-case"), set), nil)
	if err != nil {
		t.Fatal(err)
	}
	var b bytes.Buffer
	if _, err := delivery.Write(context.Background(), &b, res.Doc, delivery.Source{Name: "case.obj"}, delivery.Order{Items: []string{"mask.material", "mask.part", "bake.exposure"}, Size: size}, nil); err != nil {
		t.Fatal(err)
	}
	dir := t.TempDir()
	z, err := zip.NewReader(bytes.NewReader(b.Bytes()), int64(b.Len()))
	if err != nil {
		t.Fatal(err)
	}
	if err := os.CopyFS(dir, z); err != nil {
		t.Fatal(err)
	}
	note := `{"title": "case", "tiles": 1}`
	if tiles > 1 {
		note = `{"title": "case", "tiles": 2}`
	}
	if err := os.WriteFile(filepath.Join(dir, "sheet.json"), []byte(note), 0o600); err != nil {
		t.Fatal(err)
	}
	return dir
}

// A sheet is painted from what was sent alone: each material in its look, on each tile, the same each
// time; worn it is another picture. Cancelled it leaves nothing.
func TestASheetIsPainted(t *testing.T) {
	for tiles, size := range map[int]int{1: 768, 2: 192} {
		dir := sent(t, tiles, size)
		s, err := standin.Open(dir)
		if err != nil || s.Painted || !slices.Contains(s.Materials, "ash_wood") {
			t.Fatalf("it is %+v, %v", s, err)
		}
		if got := standin.Suggested("ash_wood"); got != "ash wood" {
			t.Errorf("ash_wood is painted as %s", got)
		}
		ctx, cancel := context.WithCancel(context.Background())
		cancel()
		if err := s.Paint(ctx, standin.Recipe{}); !errors.Is(err, context.Canceled) {
			t.Errorf("cancelled: %v", err)
		}
		name := map[int]string{1: "painted.png", 2: "painted.1002.png"}[tiles]
		if _, err := os.Stat(filepath.Join(dir, name)); !errors.Is(err, fs.ErrNotExist) {
			t.Error("something was left of a picture that was not painted")
		}
		paint := func(r standin.Recipe) []byte {
			if err := s.Paint(context.Background(), r); err != nil {
				t.Fatal(err)
			}
			b, err := os.ReadFile(filepath.Join(dir, name))
			if err != nil {
				t.Fatal(err)
			}
			return b
		}
		once := paint(standin.Recipe{})
		img, err := png.Decode(bytes.NewReader(once))
		if err != nil || img.Bounds().Dx() != size {
			t.Fatalf("%v", err)
		}
		if !bytes.Equal(once, paint(standin.Recipe{})) {
			t.Error("painted again it is another picture")
		}
		for what, r := range map[string]standin.Recipe{"worn": {Wear: 1}, "in brass": {Looks: map[string]string{"ash_wood": "brass"}}} {
			if bytes.Equal(once, paint(r)) {
				t.Errorf("%s it is the same", what)
			}
		}
		if tiles == 1 && bytes.Equal(once, paint(standin.Recipe{Letter: true})) {
			t.Error("with letters it is the same")
		}
		again, err := standin.Open(dir)
		if err != nil || !again.Painted {
			t.Errorf("painted it is %+v, %v", again, err)
		}
	}
	if _, err := standin.Open(t.TempDir()); !errors.Is(err, fs.ErrNotExist) {
		t.Errorf("an empty folder: %v", err)
	}
}
