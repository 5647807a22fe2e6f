package meshio_test

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/base64"
	"errors"
	"strings"
	"testing"

	"morvek/core/meshio"
)

func packed(t testing.TB, files map[string]string) []byte {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for name, text := range files {
		w, err := z.Create(name)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := w.Write([]byte(text)); err != nil {
			t.Fatal(err)
		}
	}
	if err := z.Close(); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

const tri = `{"asset":{"version":"2.0"},"buffers":[{"byteLength":36,"uri":"data/a%20tri.bin"}],"bufferViews":[{"buffer":0,"byteLength":36}],` +
	`"accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3"}],"meshes":[{"primitives":[{"attributes":{"POSITION":0}}]}],"nodes":[{"mesh":0}]}`

// A ZIP holds a model with the files it names, in whatever folder; what does not fit is refused
// with what to do.
func TestAModelInAZip(t *testing.T) {
	bin, err := base64.StdEncoding.DecodeString("AAAAAAAAAAAAAAAAAACAPwAAAAAAAAAAAAAAAAAAgD8AAAAA")
	if err != nil {
		t.Fatal(err)
	}
	ctx := context.Background()
	m, err := meshio.Read(ctx, "hut.zip", meshio.Input{Data: packed(t, map[string]string{"hut/model.gltf": tri, "hut/data/a tri.bin": string(bin), "readme.txt": "made up", "__MACOSX/hut/._model.gltf": "x"})})
	if err != nil || m.NumFaces() != 1 {
		t.Fatalf("%v", err)
	}
	for name, c := range map[string]struct {
		data []byte
		says string
	}{
		"no ZIP":       {[]byte("PK\x03\x04 and then nothing"), "no ZIP"},
		"no model":     {packed(t, map[string]string{"readme.txt": "x"}), "no model"},
		"two models":   {packed(t, map[string]string{"a.obj": square, "b.obj": square}), "2 models: a.obj, b.obj"},
		"data missing": {packed(t, map[string]string{"model.gltf": tri}), "another file"},
		"data outside": {packed(t, map[string]string{"model.gltf": strings.Replace(tri, "data/", "../", 1)}), "not beside"},
		"a bad model":  {packed(t, map[string]string{"in/model.obj": "v 0 0\n"}), "line 1: in/model.obj: a point needs 3"},
		"a ZIP in it":  {packed(t, map[string]string{"in.zip": "PK\x03\x04"}), "no model"},
	} {
		_, err := meshio.Read(ctx, "hut.zip", meshio.Input{Data: c.data})
		var bad *meshio.Error
		if !errors.As(err, &bad) || !strings.Contains(err.Error(), c.says) || bad.Hint == "" {
			t.Errorf("%s: %v", name, err)
		}
	}
	if _, err := meshio.Read(ctx, "hut.obj", meshio.Input{Data: packed(t, map[string]string{"a.obj": square})}); err == nil || !strings.Contains(err.Error(), ".zip") {
		t.Errorf("a ZIP named .obj gave %v", err)
	}
}

func FuzzZip(f *testing.F) {
	f.Add(packed(f, map[string]string{"a.obj": square}))
	f.Add(packed(f, map[string]string{"model.gltf": tri, "data/a tri.bin": strings.Repeat("x", 36)}))
	f.Fuzz(func(t *testing.T, data []byte) {
		if m, err := meshio.Read(t.Context(), "any.zip", meshio.Input{Data: data}); err == nil {
			m.Health()
		}
	})
}
