package web_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"

	"morvek/core/mesh/meshtest"
	"morvek/core/report"
	"morvek/web/wire"
)

// Everything that is asked of a document speaks of the map that is told; what is undone in
// another one is shown there, and a map that is gone is said to be.
func TestADocumentIsSeenThroughTheMapThatIsTold(t *testing.T) {
	doc := brought(t, "can.obj", meshtest.CanFile(12))
	ended(t, ask[struct{ Work int64 }](t, "POST", doc+"/run", map[string]any{"base": 1}).Work)
	m := ask[wire.Meta](t, "GET", doc+"/meta", nil)
	shown := map[string]any{"station": "Sheet", "part": -1}
	post := func(what string, base int64, e map[string]any) wire.Answer {
		t.Helper()
		return ask[wire.Answer](t, "POST", doc+what, map[string]any{"base": base, "edit": e, "shown": shown})
	}
	a := post("/edits?map=1", m.Revision, edit("make-map", map[string]any{"name": "Boards & courses", "purpose": "tiling", "faces": []int{0}}))
	if len(a.Meta.Maps) != 2 || a.Meta.Map != 1 || a.Patch == nil {
		t.Fatalf("%+v", a.Meta)
	}
	two := ask[wire.Meta](t, "GET", doc+"/meta?map=2", nil)
	if two.Map != 2 || len(two.Shells) != 1 || two.Settings.Sheet != m.Settings.Sheet {
		t.Fatalf("%+v", two)
	}
	if _, b := call(t, "GET", doc+"/maps?map=2", nil); !strings.Contains(string(b), "Boards &amp; courses") || !strings.Contains(string(b), "tiling · 1 shell<") {
		t.Errorf("the list of maps is %s", b)
	}
	a = post("/edits?map=2", a.Meta.Revision, edit("move", map[string]any{"faces": []int{0}, "shift": map[string]any{"X": 3, "Y": 0}}))
	if a.Meta.Map != 2 || a.Patch == nil || len(a.Patch.Corners) == 0 {
		t.Fatalf("moved: %+v", a)
	}
	one, seen := ask[wire.Meta](t, "GET", doc+"/meta", nil), ask[wire.Meta](t, "GET", doc+"/meta?map=2", nil)
	if len(one.Shells) != len(m.Shells) || len(seen.Shells) != 1 {
		t.Errorf("%d shells where there were %d, and %d", len(one.Shells), len(m.Shells), len(seen.Shells))
	}
	for _, file := range []string{"model.obj", "template.svg", "report.json"} {
		_, first := call(t, "GET", doc+"/deliver/"+file, nil)
		_, second := call(t, "GET", doc+"/deliver/"+file+"?map=2", nil)
		if string(first) == string(second) {
			t.Errorf("%s is the same of both maps", file)
		}
	}
	r := ask[report.Report](t, "GET", doc+"/deliver/report.json?map=2", nil)
	if len(r.Maps) != 2 || r.Maps[0].Shown || !r.Maps[1].Shown || r.Maps[1].Totals.Shells != 1 || r.Totals.Shells != 1 || r.Maps[0].Totals.Shells != len(m.Shells) || r.Maps[1].Purpose != "tiling" {
		t.Errorf("the report tells %+v", r.Maps)
	}
	// Looking at the first map, what is undone in the second is shown there, all of it.
	back := post("/undo?map=1", a.Meta.Revision, nil)
	if back.Meta.Map != 2 || back.Patch != nil || len(back.Meta.Shells) != 1 || back.Card == nil || back.Card.Whole == "" {
		t.Errorf("undone: %+v", back)
	}
	again := post("/redo?map=2", back.Meta.Revision, nil)
	if again.Meta.Map != 2 || again.Patch == nil {
		t.Errorf("redone: %+v", again.Meta)
	}
	gone := post("/edits?map=1", again.Meta.Revision, edit("remove-map", map[string]any{"map": 2}))
	for _, what := range []string{"/meta", "/layout.bin", "/tray", "/card", "/maps", "/deliver/model.obj"} {
		code, b := call(t, "GET", doc+what+"?map=2", nil)
		var p struct{ Error string }
		if err := json.Unmarshal(b, &p); err != nil || code != http.StatusGone || !strings.Contains(p.Error, "no longer there") {
			t.Errorf("%s of a map that is gone: %d %s", what, code, b)
		}
	}
	if code, b := call(t, "POST", doc+"/edits?map=2", map[string]any{"base": gone.Meta.Revision, "edit": edit("clear", nil)}); code != http.StatusGone {
		t.Errorf("an edit of a map that is gone: %d %s", code, b)
	}
	for _, odd := range []string{"x", "-1", "0", "99999999999"} {
		if code, b := call(t, "GET", fmt.Sprintf("%s/meta?map=%s", doc, odd), nil); code != http.StatusGone {
			t.Errorf("map %s: %d %s", odd, code, b)
		}
	}
}
