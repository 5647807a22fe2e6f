package web_test

import (
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"testing"
)

// submit sends a form, and returns what it was answered without following it elsewhere.
func submit(t *testing.T, path string, form url.Values) *http.Response {
	t.Helper()
	c := http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	res, err := c.PostForm(site.URL+path, form)
	if err != nil {
		t.Fatal(err)
	}
	res.Body.Close() //nolint:errcheck // read only
	return res
}

func TestTheShelf(t *testing.T) {
	doc := lamp(t)
	shelf := func(do, title string) *http.Response {
		return submit(t, doc+"/shelf", url.Values{"do": {do}, "title": {title}})
	}
	for _, c := range []struct {
		do, title string
		want      int
	}{
		{"rename", "", 422}, {"rename", strings.Repeat("x", 81), 422}, {"rename", "a\nb", 422}, {"burn", "x", 422}, {"move", "", 404},
		{"rename", "Lamp <b>", 303}, {"delete", "", 303},
	} {
		if res := shelf(c.do, c.title); res.StatusCode != c.want {
			t.Errorf("%s %q: %s", c.do, c.title, res.Status)
		}
	}
	if code, _ := call(t, "GET", doc+"/meta", nil); code != 404 {
		t.Errorf("deleted it answers %d", code)
	}
	if code, _ := call(t, "POST", doc+"/edits", map[string]any{"base": 1, "edit": edit("recognise", map[string]any{})}); code != 404 {
		t.Errorf("deleted it is changed: %d", code)
	}
	_, page := call(t, "GET", "/projects?undo="+url.QueryEscape(strings.TrimPrefix(doc, "/")), nil)
	if !strings.Contains(string(page), "Lamp &lt;b&gt; is deleted") {
		t.Error("nothing offers to bring it back")
	}
	if res := shelf("restore", ""); res.StatusCode != 303 {
		t.Error(res.Status)
	}
	if code, _ := call(t, "GET", doc+"/meta", nil); code != 200 {
		t.Errorf("brought back it answers %d", code)
	}
	for path, want := range map[string]int{"/projects/999999": 404, "/projects?undo=projects/x": 200, "/projects?undo=documents/999999": 200, doc + "/cover/back.png": 404} {
		if code, _ := call(t, "GET", path, nil); code != want {
			t.Errorf("%s: %d, want %d", path, code, want)
		}
	}
}

func TestProjectsAreMadeAndDeleted(t *testing.T) {
	res := submit(t, "/projects", url.Values{"title": {"Tiles"}})
	at := res.Header.Get("Location")
	if res.StatusCode != 303 || !strings.HasPrefix(at, "/projects/") {
		t.Fatal(res.Status, at)
	}
	for _, c := range []struct {
		do, title string
		want      int
	}{{"rename", "", 422}, {"rename", "Boards", 303}, {"burn", "", 422}, {"archive", "", 303}, {"delete", "", 303}} {
		if res := submit(t, at, url.Values{"do": {c.do}, "title": {c.title}}); res.StatusCode != c.want {
			t.Errorf("%s: %s", c.do, res.Status)
		}
	}
	id := strings.TrimPrefix(at, "/projects/")
	if code, _ := sentTo(t, "/documents?project="+id, "a.obj", []byte("v 0 0 0\n")); code != 404 {
		t.Errorf("a model was taken into a deleted project: %d", code)
	}
	if _, page := call(t, "GET", "/projects?undo=projects/"+id, nil); !strings.Contains(string(page), fmt.Sprintf("action=%q", at)) {
		t.Error("nothing offers to bring it back")
	}
	if res := submit(t, at, url.Values{"do": {"restore"}}); res.StatusCode != 303 {
		t.Error(res.Status)
	}
}
