package web_test

import (
	"encoding/binary"
	"math"
	"net/http"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"morvek/core/mesh/meshtest"
)

type ghost struct {
	Corners, Faces, Opened, Closed []int32
	UV                             []float32
	Join                           *struct {
		Stays, Moves int
		Rigid        bool
		Will         float64
		OnRack       bool `json:"on_rack"`
	}
	Stretch *struct {
		Was, Will struct{ L2, Angular float64 }
	}
	Before, After *struct {
		Shells        int
		Seam, Exposed string
		Worst         float64
	}
}

type run struct {
	Edges, Points []int
	From, To      int
	Closed        bool
}

func picks(t *testing.T, doc string, body map[string]any) run {
	t.Helper()
	return ask[run](t, "POST", doc+"/pick-edges", body)
}

func flattened(t *testing.T) (string, meta) {
	t.Helper()
	doc := lamp(t)
	m := ask[meta](t, "GET", doc+"/meta", nil)
	work := ask[struct{ Work int64 }](t, "POST", doc+"/run", map[string]any{"base": m.Revision}).Work
	ended(t, work)
	return doc, ask[meta](t, "GET", doc+"/meta", nil)
}

func TestEdgePicks(t *testing.T) {
	doc, _ := flattened(t)
	above := picks(t, doc, map[string]any{"verb": "above", "angle_deg": 30})
	if len(above.Edges) < 100 || above.To != len(above.Edges) {
		t.Fatalf("%d edges above 30°", len(above.Edges))
	}
	loops := 0
	for _, e := range above.Edges[:40] {
		r := picks(t, doc, map[string]any{"verb": "run", "edges": []int{e}})
		if len(r.Points) != len(r.Edges)+1 {
			t.Fatalf("run of %d edges, %d points", len(r.Edges), len(r.Points))
		}
		if r.Closed {
			loops++
		}
	}
	if loops == 0 {
		t.Error("no loop of a lamp closes")
	}
	far := above.Edges[len(above.Edges)/2]
	path := picks(t, doc, map[string]any{"verb": "path", "edges": []int{above.Edges[0], above.Edges[3]}})
	if len(path.Edges) > 0 && (path.Edges[0] != above.Edges[0] || path.Edges[len(path.Edges)-1] != above.Edges[3]) {
		t.Errorf("path %v from %d to %d", path.Edges, above.Edges[0], above.Edges[3])
	}
	if r := picks(t, doc, map[string]any{"verb": "ring", "edges": []int{far}}); len(r.Edges) == 0 {
		t.Error("a ring without edges")
	}
	if r := picks(t, doc, map[string]any{"verb": "around", "faces": []int{0}}); len(r.Edges) < 3 {
		t.Errorf("%d edges around a face", len(r.Edges))
	}
	if r := picks(t, doc, map[string]any{"verb": "repeats", "edges": []int{far}}); len(r.Edges) == 0 {
		t.Error("the repeats of an edge are not even itself")
	}
	picks(t, doc, map[string]any{"verb": "borders"})
}

var creased = regexp.MustCompile(`crease of 2[23]°, exposure 0\.[0-9]+`) // 22.5°

var dataEdges = regexp.MustCompile(`data-edges="([\d ]+)"`)

func TestAMissingOpeningIsSuggestedAndTaken(t *testing.T) {
	doc := brought(t, "can.obj", meshtest.CanFile(16))
	m := apply(t, doc, ask[meta](t, "GET", doc+"/meta", nil).Revision, edit("recognise", map[string]any{}))
	page := func() string {
		code, b := call(t, "GET", doc+"/suggestions", nil)
		if code != http.StatusOK {
			t.Fatalf("%d %s", code, b)
		}
		return string(b)
	}
	p := page()
	found := dataEdges.FindStringSubmatch(p)
	if found == nil || !strings.Contains(p, "1 wall needs an opening") || !creased.MatchString(p) {
		t.Fatalf("a closed can: %s", p)
	}
	var edges []int
	for _, s := range strings.Fields(found[1]) {
		e, err := strconv.Atoi(s)
		if err != nil {
			t.Fatal(err)
		}
		edges = append(edges, e)
	}
	m = apply(t, doc, m.Revision, edit("cut", map[string]any{"edges": edges}))
	if p := page(); !strings.Contains(p, "No wall lacks an opening") || !strings.Contains(p, "flatten-all") {
		t.Errorf("after it was taken: %s", p)
	}
	apply(t, doc, m.Revision, edit("flatten", map[string]any{}))
	if p := page(); !strings.Contains(p, "<b>3</b> shells") || !strings.Contains(p, "of seam") {
		t.Errorf("laid flat: %s", p)
	}
}

func TestGhostsChangeNothing(t *testing.T) {
	doc, m := flattened(t)
	g := ask[ghost](t, "POST", doc+"/ghost", map[string]any{"edit": edit("dial", map[string]any{"dial": 1})})
	if g.Before == nil || g.After == nil || g.After.Shells <= g.Before.Shells || g.Before.Shells != len(m.Shells) || len(g.Opened) == 0 || len(g.UV) != 2*len(g.Corners) {
		t.Fatalf("dial to less stretch: %d opened, before %+v, after %+v", len(g.Opened), g.Before, g.After)
	}
	now := ask[meta](t, "GET", doc+"/meta", nil)
	if now.Revision != m.Revision || now.LastEdit != m.LastEdit {
		t.Errorf("ghosts made revision %d of %d", now.Revision, m.Revision)
	}
	// The same for real, and a join of what it opened is there again.
	m = apply(t, doc, m.Revision, edit("dial", map[string]any{"dial": 1, "pack": true}))
	if len(m.Shells) != g.After.Shells {
		t.Errorf("%d shells, the ghost had %d", len(m.Shells), g.After.Shells)
	}
	joined := false
	for _, e := range g.Opened {
		ghostly := map[string]any{"edit": edit("join", map[string]any{"edges": []int32{e}})}
		if code, _ := call(t, "POST", doc+"/ghost", ghostly); code == http.StatusUnprocessableEntity {
			continue // a dart, or a join that would land on itself
		}
		j := ask[ghost](t, "POST", doc+"/ghost", ghostly)
		if j.Join == nil || len(j.Closed) != 1 || j.Closed[0] != e || j.Join.Stays == j.Join.Moves {
			t.Fatalf("joining edge %d: %+v", e, j)
		}
		if j.Join.Rigid {
			joined = true
			break
		}
	}
	if !joined {
		t.Error("nothing that was attached before fits again")
	}
}

func TestExposureIsLookedAtOnceAndKept(t *testing.T) {
	doc, m := flattened(t)
	type answer struct {
		Work  int64
		Ready bool
	}
	a := ask[answer](t, "POST", doc+"/exposure", nil)
	if a.Work != 0 {
		states := ended(t, a.Work)
		if last := states[len(states)-1]; last.State != "done" {
			t.Fatalf("ended as %+v", last)
		}
	}
	if a = ask[answer](t, "POST", doc+"/exposure", nil); !a.Ready {
		t.Errorf("asked again: %+v", a)
	}
	code, b := call(t, "GET", doc+"/exposure.bin", nil)
	if code != http.StatusOK || string(b[:4]) != "MVX1" {
		t.Fatalf("%d %.20s", code, b)
	}
	n := int(binary.LittleEndian.Uint32(b[8:])) / 4
	least, most := float32(2), float32(-1)
	for i := range n {
		v := math.Float32frombits(binary.LittleEndian.Uint32(b[12+4*i:]))
		least, most = min(least, v), max(most, v)
	}
	if n != 6882 || least > 0.05 || most < 0.9 || most > 1 {
		t.Errorf("%d faces, exposure from %g to %g", n, least, most)
	}
	// From other sides it is another picture.
	apply(t, doc, m.Revision, edit("view-from", map[string]any{"sides": map[string]any{"below": 1}}))
	if code, b := call(t, "GET", doc+"/exposure.bin", nil); code != http.StatusNotFound {
		t.Errorf("seen from below: %d, %d bytes", code, len(b))
	}
}
