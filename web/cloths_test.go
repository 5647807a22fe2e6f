package web_test

import (
	"bytes"
	"image"
	"image/png"
	"net/http"
	"strconv"
	"strings"
	"testing"

	"morvek/core/mesh/meshtest"
	"morvek/store"
)

// post sends bytes as they are.
func post(t *testing.T, path string, data []byte) (int, []byte) {
	t.Helper()
	req, err := http.NewRequest(http.MethodPost, site.URL+path, bytes.NewReader(data))
	if err != nil {
		t.Fatal(err)
	}
	return send(t, req)
}

// Pictures that come over HTTP are checked before they are kept, and handed out as they came.
func TestPicturesComeAndGo(t *testing.T) {
	doc := brought(t, "can.obj", meshtest.CanFile(12))
	var b bytes.Buffer
	if err := png.Encode(&b, image.NewGray(image.Rect(0, 0, 16, 16))); err != nil {
		t.Fatal(err)
	}
	whole := b.Bytes()
	for _, c := range []struct {
		path string
		data []byte
		code int
		says string
	}{
		{"/cloths?name=plate", whole[:30], 422, "broken"}, {"/cloths?name=", whole, 422, "a name"}, {"/cloths?name=" + strings.Repeat("a", 60), whole, 422, "a name"}, {"/cloths?name=plate", []byte("x"), 422, "PNG or JPEG"},
		{"/cloths?name=plate", whole, 200, `"width":16`}, {"/cloths?name=plate", whole, 200, `"name":"plate"`},
		{"/painted", whole[:30], 422, "broken"}, {"/painted?tile=4", whole, 422, "no tile"}, {"/painted?tile=x", whole, 400, "number"}, {"/painted?name=a", whole, 200, `"sha256"`},
	} {
		if code, b := post(t, doc+c.path, c.data); code != c.code || !strings.Contains(string(b), c.says) {
			t.Errorf("%s: %d %s", c.path, code, b)
		}
	}
	list := ask[[]store.Cloth](t, "GET", doc+"/cloths", nil)
	if len(list) != 1 {
		t.Fatalf("kept are %+v", list)
	}
	told := ask[struct{ Pictures []store.Picture }](t, "GET", doc+"/painted", nil).Pictures
	if len(told) != 1 {
		t.Fatalf("painted are %+v", told)
	}
	for _, path := range []string{"/cloths/", "/pictures/"} {
		id := map[string]int64{"/cloths/": list[0].ID, "/pictures/": told[0].ID}[path]
		if code, got := call(t, "GET", path+str(id), nil); code != http.StatusOK || !bytes.Equal(got, whole) {
			t.Errorf("%s: %d, %d bytes", path, code, len(got))
		}
	}
	for path, want := range map[string]int{doc + "/cloths/" + str(list[0].ID): 204, doc + "/painted/" + str(told[0].ID): 204, doc + "/cloths/x": 400, doc + "/painted/x": 400} {
		if code, _ := call(t, "DELETE", path, nil); code != want {
			t.Errorf("DELETE %s: %d", path, code)
		}
	}
	for _, path := range []string{doc + "/cloths/" + str(list[0].ID), doc + "/painted/" + str(told[0].ID)} {
		if code, _ := call(t, "DELETE", path, nil); code != http.StatusNotFound {
			t.Errorf("DELETE %s again: %d", path, code)
		}
	}
}

func str(n int64) string { return strconv.FormatInt(n, 10) }
