package web_test

import (
	"net/http"
	"strings"
	"testing"
)

const spoilt = "v 0 0 0\nv 2 0 0\nv 2 1 0\nv 0 1 0\nv 0 0 1\nv 2 0 1\nv 2 1 1\nv 0 1 1\n" +
	"f 4 3 2 1\nf 8 7 6 5\nf 1 2 6 5\nf 2 3 7 6\nf 3 4 8 7\nf 4 1 5 8\nf 4 1 5 8\n"

// Over HTTP a model arrives as on its page: what is wrong is told with its faces, repairs are made
// as they are asked for, and only before anything else was done.
func TestAModelArrivesOverHTTP(t *testing.T) {
	var at struct{ URL, Arrival string }
	at.URL = brought(t, "crate.obj", []byte(spoilt))
	at.Arrival = at.URL + "/arrival"
	if code, page := call(t, "GET", at.Arrival, nil); code != http.StatusOK || !strings.Contains(string(page), "wound against") {
		t.Errorf("the page: %d", code)
	}
	faces := ask[[][]int32](t, "GET", at.Arrival+"/faces", nil)
	if len(faces) != 3 || len(faces[0]) != 1 || len(faces[1]) != 1 || faces[1][0] != 1 {
		t.Errorf("odd are %v", faces)
	}
	if n := ask[map[string]int](t, "GET", at.Arrival+"/weld?within=1.5", nil)["points"]; n != 6 {
		t.Errorf("%d points would be welded", n)
	}
	for path, want := range map[string]int{"/weld?within=-1": http.StatusBadRequest, "/weld?within=far": http.StatusBadRequest} {
		if code, _ := call(t, "GET", at.Arrival+path, nil); code != want {
			t.Errorf("%s: %d", path, code)
		}
	}
	m := ask[meta](t, "GET", at.URL+"/meta", nil)
	asked := func(base int64, kinds ...string) (int, []byte) {
		return call(t, "POST", at.Arrival, map[string]any{"base": base, "unit": "mm", "up": "y", "repairs": kinds})
	}
	if code, b := asked(m.Revision, "polish"); code != http.StatusUnprocessableEntity || !strings.Contains(string(b), "choose weld") {
		t.Errorf("an unknown repair: %d %s", code, b)
	}
	if code, b := asked(m.Revision, "doubled", "winding"); code != http.StatusOK {
		t.Fatalf("%d %s", code, b)
	}
	if faces := ask[[][]int32](t, "GET", at.Arrival+"/faces", nil); len(faces) != 0 {
		t.Errorf("odd are still %v", faces)
	}
	if code, _ := asked(m.Revision); code != http.StatusConflict {
		t.Errorf("on a revision that has passed: %d", code)
	}
}
