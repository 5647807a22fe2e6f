package web_test

import (
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"morvek/core/mesh/meshtest"
)

// The examples of the documentation do what they say, one after the other.
func TestExamplesOfTheDocumentation(t *testing.T) {
	text, err := os.ReadFile(filepath.Join("..", "docs", "api.md"))
	if err != nil {
		t.Fatal(err)
	}
	script := "set -eu\n"
	for _, m := range regexp.MustCompile("(?s)```sh\n(.*?)```").FindAllStringSubmatch(string(text), -1) {
		script += m[1]
	}
	dir := t.TempDir()
	cmd := exec.Command("bash", "-c", script)
	cmd.Dir, cmd.Env = dir, append(os.Environ(), "MORVEK="+site.URL)
	out, err := cmd.CombinedOutput()
	if err != nil {
		t.Fatalf("%v\n%s", err, out)
	}
	for _, want := range []string{`"title":"crate"`, `"does":"rename a part to lid"`, `"last_edit":"pack the sheet"`, `"sealed":true`, `"shells":`, `"kept":3,`, `"last_edit":"keep the map of the model before: 3 faces as they were`} {
		if !strings.Contains(string(out), want) {
			t.Errorf("nothing was answered with %s:\n%s", want, out)
		}
	}
	for name, begins := range map[string]string{"report.json": "{", "crate.glb": "glTF", "delivery.zip": "PK", "painted.png": "\x89PNG"} {
		if b, err := os.ReadFile(filepath.Join(dir, name)); err != nil || !strings.HasPrefix(string(b), begins) {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// Programs are told what is wrong as people are.
func TestRefusalsOverHTTP(t *testing.T) {
	doc := "/api/v1" + brought(t, "can.obj", meshtest.CanFile(12))
	for _, c := range []struct {
		method, path string
		body         any
		code         int
		says         string
	}{
		{"POST", "/api/v1/models?name=a.step", nil, http.StatusUnprocessableEntity, "a.step"}, {"GET", "/api/v1/documents/99999", nil, http.StatusNotFound, "no longer there"},
		{"POST", doc + "/edits", map[string]any{"base": 77, "edit": map[string]any{"kind": "rename", "params": map[string]any{"part": 0, "name": "x"}}}, http.StatusConflict, "changed elsewhere"},
		{"POST", doc + "/edits", map[string]any{"edit": map[string]any{"kind": "polish"}}, http.StatusUnprocessableEntity, "polish"}, {"POST", doc + "/undo", nil, http.StatusUnprocessableEntity, "nothing to undo"},
		{"POST", doc + "/previews", map[string]any{"edit": map[string]any{"kind": "pack"}}, http.StatusUnprocessableEntity, ""}, {"GET", doc + "/model/x.step", nil, http.StatusUnprocessableEntity, ".glb"},
		{"POST", doc + "/deliveries", map[string]any{"items": []string{"poem"}}, http.StatusUnprocessableEntity, "poem"}, {"POST", doc + "/edits", map[string]any{"key": strings.Repeat("k", 99)}, http.StatusBadRequest, "64"},
		{"GET", "/api/v1/works/99999", nil, http.StatusNotFound, ""}, {"GET", "/api/v1/works/99999/delivery", nil, http.StatusNotFound, ""}, {"GET", "/api/v1/uploads/99999", nil, http.StatusNotFound, ""},
		{"POST", doc + "/revisions", map[string]any{"of": 99999}, http.StatusNotFound, "no longer there"}, {"POST", doc + "/revisions/preview", map[string]any{"of": 99999}, http.StatusNotFound, ""},
		{"GET", doc + "?map=7", nil, http.StatusGone, "map"}, {"DELETE", "/api/v1/works/99999", nil, http.StatusNotFound, ""},
	} {
		if code, b := call(t, c.method, c.path, c.body); code != c.code || !strings.Contains(string(b), c.says) || !strings.Contains(string(b), `"error"`) {
			t.Errorf("%s %s: %d %s; want %d with %q", c.method, c.path, code, b, c.code, c.says)
		}
	}
	if code, b := call(t, "GET", "/api/v1/documents", nil); code != http.StatusOK || !strings.Contains(string(b), `"title":"can"`) {
		t.Errorf("all documents: %d %.200s", code, b)
	}
}

// A long edit that is sent again with its key is answered and not made again, as on the bench.
func TestALongEditOfAKeyIsMadeOnceOverHTTP(t *testing.T) {
	doc := "/api/v1" + brought(t, "can.obj", meshtest.CanFile(12))
	body := map[string]any{"base": 1, "key": "once", "edit": map[string]any{"kind": "recognise"}}
	work := ask[struct{ Work int64 }](t, "POST", doc+"/edits", body).Work
	if work == 0 {
		t.Fatal("it does not take long")
	}
	ended(t, work)
	again := ask[struct {
		Work, Revision int64
		Edits          int
	}](t, "POST", doc+"/edits", body)
	if again.Work != 0 || again.Revision != 2 || again.Edits != 1 {
		t.Errorf("sent again it is %+v", again)
	}
}
