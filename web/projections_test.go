package web_test

import (
	"encoding/json"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"testing"

	"morvek/core/unroll"
)

type offered struct {
	Kind       unroll.Kind
	Projection unroll.Projection
	L2         float64
	Angular    float64
	Shells     int
	Why        string
	Fitted     bool
	Outline    []float32
}

// cylinderOf returns the faces of the first part that reads as a cylinder.
func cylinderOf(t *testing.T, doc string, m meta) (faces []int32) {
	t.Helper()
	part := -1
	for i, p := range m.Parts {
		if p.Shape == "cylinder" && part < 0 {
			part = i
		}
	}
	if part < 0 {
		t.Fatal("no part reads as a cylinder")
	}
	type report struct {
		Parts []struct{ Faces []int32 }
	}
	r := ask[report](t, "GET", doc+"/deliver/report.json", nil)
	return r.Parts[part].Faces
}

func TestKindsOfProjectionAreComparedAndLaid(t *testing.T) {
	doc, m := flattened(t)
	faces := cylinderOf(t, doc, m)
	list := ask[[]offered](t, "POST", doc+"/projections", map[string]any{"faces": faces})
	if len(list) != len(unroll.ProjectionKinds) {
		t.Fatalf("%d kinds", len(list))
	}
	i := slices.IndexFunc(list, func(o offered) bool { return o.Fitted })
	if i < 0 || list[i].Kind != unroll.Cylindrical || list[i].Angular > 1.001 || list[i].Shells != 1 || len(list[i].Outline) < 16 {
		t.Fatalf("what the shape asks for: %+v", list[max(i, 0)])
	}
	for _, v := range list[i].Outline {
		if v < 0 || v > 1 {
			t.Fatalf("its picture reaches to %g", v)
		}
	}
	for k := 1; k < len(list); k++ {
		if a, b := list[k-1], list[k]; a.Why != "" && b.Why == "" {
			t.Errorf("%s, which cannot be, comes before %s", a.Kind, b.Kind)
		}
	}
	pr := list[i].Projection
	pr.TurnDeg += 90
	g := ask[ghost](t, "POST", doc+"/ghost", map[string]any{"edit": edit("project", map[string]any{"faces": faces, "projection": pr})})
	if len(g.Opened) == 0 || len(g.Closed) != len(g.Opened) || g.Stretch == nil || g.Stretch.Will.Angular > 1.001 {
		t.Errorf("turned by a quarter: %d opened, %d closed, %+v", len(g.Opened), len(g.Closed), g.Stretch)
	}
	m = apply(t, doc, m.Revision, edit("project", map[string]any{"faces": faces, "projection": pr}))
	again := ask[[]offered](t, "POST", doc+"/projections", map[string]any{"faces": faces, "kinds": []string{"cylindrical"}})
	if len(again) != 1 || again[0].Projection.TurnDeg != pr.TurnDeg {
		t.Errorf("what was laid is not what is offered: %+v", again)
	}
	pr.Width = 0
	if code, b := call(t, "POST", doc+"/edits", map[string]any{"base": m.Revision, "edit": edit("project", map[string]any{"faces": faces, "projection": pr})}); code != http.StatusUnprocessableEntity || !strings.Contains(string(b), "a width of 0 is not possible") {
		t.Errorf("no width: %d %s", code, b)
	}
	for _, bad := range []any{map[string]any{"faces": []int{}}, map[string]any{"faces": []int{-4}}, map[string]any{"faces": []int{1 << 30}}} {
		if code, b := call(t, "POST", doc+"/projections", bad); code != http.StatusUnprocessableEntity {
			t.Errorf("%v: %d %s", bad, code, b)
		}
	}
}

func TestJigsAreKeptWithTheProject(t *testing.T) {
	doc, m := flattened(t)
	list := ask[[]offered](t, "POST", doc+"/projections", map[string]any{"faces": cylinderOf(t, doc, m), "kinds": []string{"extruded"}})
	pr := list[0].Projection
	if code, b := call(t, "POST", doc+"/jigs", map[string]any{"name": " planks ", "projection": pr}); code != http.StatusCreated {
		t.Fatalf("%d %s", code, b)
	}
	type jig struct {
		ID         int64
		Name       string
		Projection unroll.Projection
	}
	kept := ask[[]jig](t, "GET", doc+"/jigs", nil)
	i := slices.IndexFunc(kept, func(j jig) bool { return j.Name == "planks" })
	if i < 0 || kept[i].Projection.Width != pr.Width || kept[i].Projection.Origin.X+kept[i].Projection.Origin.Y+kept[i].Projection.Origin.Z != 0 {
		t.Fatalf("kept are %+v", kept)
	}
	if code, _ := call(t, "POST", doc+"/jigs", map[string]any{"name": "", "projection": pr}); code != http.StatusUnprocessableEntity {
		t.Errorf("without a name: %d", code)
	}
	pr.Height = -1
	if code, _ := call(t, "POST", doc+"/jigs", map[string]any{"name": "none", "projection": pr}); code != http.StatusUnprocessableEntity {
		t.Errorf("with no height: %d", code)
	}
	path := doc + "/jigs/" + strconv.FormatInt(kept[i].ID, 10)
	if code, b := call(t, "DELETE", path, nil); code != http.StatusNoContent {
		t.Errorf("%d %s", code, b)
	}
	if code, _ := call(t, "DELETE", path, nil); code != http.StatusNotFound {
		t.Errorf("dropped twice: %d", code)
	}
}

// Frames come before the ghost, each with a place for every corner it names, and nothing
// is changed.
func TestFlatteningIsWatched(t *testing.T) {
	doc, m := flattened(t)
	faces := cylinderOf(t, doc, m)
	code, b := call(t, "POST", doc+"/live", map[string]any{"edit": edit("flatten", map[string]any{"faces": faces[:1], "method": "even"})})
	if code != http.StatusOK {
		t.Fatalf("%d %s", code, b)
	}
	lines := strings.Split(strings.TrimSpace(string(b)), "\n")
	for i, l := range lines {
		var v struct {
			Frame *struct {
				Iteration int
				Corners   []int32
				UV        []float32
			}
			Ghost *ghost
		}
		if err := json.Unmarshal([]byte(l), &v); err != nil {
			t.Fatal(err)
		}
		last := i == len(lines)-1
		if (v.Ghost != nil) != last || (v.Frame != nil) == last {
			t.Fatalf("line %d of %d: %.80s", i, len(lines), l)
		}
		if v.Frame != nil && (len(v.Frame.Corners) != 4*len(faces) || len(v.Frame.UV) != 2*len(v.Frame.Corners) || v.Frame.Iteration < 1) {
			t.Errorf("%d corners, %d numbers", len(v.Frame.Corners), len(v.Frame.UV))
		}
	}
	if len(lines) < 2 {
		t.Error("no frame was sent")
	}
	if now := ask[meta](t, "GET", doc+"/meta", nil); now.Revision != m.Revision {
		t.Errorf("watching made revision %d of %d", now.Revision, m.Revision)
	}
	if code, _ := call(t, "POST", doc+"/live", map[string]any{"edit": edit("pack", nil)}); code != http.StatusUnprocessableEntity {
		t.Errorf("packing cannot be watched: %d", code)
	}
	_, b = call(t, "POST", doc+"/live", map[string]any{"edit": edit("flatten", map[string]any{"faces": faces[:1], "method": "wished"})})
	if !strings.Contains(string(b), "no way of flattening called") {
		t.Errorf("an unknown method: %s", b)
	}
}
