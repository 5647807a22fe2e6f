package web_test

import (
	"fmt"
	"strings"
	"testing"

	"morvek/core/mesh/meshtest"
)

// Whatever a file is called, it comes in under a name or is refused in words; the same file under another
// name goes out under that.
func TestNamesOfFiles(t *testing.T) {
	can := meshtest.CanFile(8)
	for name, want := range map[string]string{".obj": "model.obj", "  .obj": "model.obj", "a b.obj": "a b.obj", "Kanne Ä 壺.obj": "Kanne Ä 壺.obj"} {
		at := brought(t, name, can)
		var id int64
		if _, err := fmt.Sscanf(at, "/documents/%d", &id); err != nil {
			t.Fatal(err)
		}
		d, err := db.Document(t.Context(), id)
		if err != nil || d.FileName != want || d.Title == "" {
			t.Errorf("%q came in as %q, titled %q, %v", name, d.FileName, d.Title, err)
		}
		if code, _ := call(t, "GET", at+"/deliver/"+strings.ReplaceAll(d.Stem(), " ", "%20")+".obj", nil); code != 200 && code != 404 {
			t.Errorf("%q goes out: %d", name, code)
		}
	}
	for _, name := range []string{"", "obj", "a.xyz", "a\x00.obj", "\xff.obj"} {
		if code, b := sent(t, name, can); code != 400 && code != 422 {
			t.Errorf("%q: %d %s", name, code, b)
		}
	}
}
