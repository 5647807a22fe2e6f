package web_test

import (
	"bytes"
	"context"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"image/png"
	"io"
	"log/slog"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"os"
	"strings"
	"testing"

	"morvek/core/meshio"
	"morvek/jobs"
	"morvek/models"
	"morvek/store"
	"morvek/store/storetest"
	"morvek/web"
	"morvek/web/wire"
	"morvek/workspace"
)

var (
	site  *httptest.Server
	db    *store.Store
	docs  *workspace.Documents
	queue *jobs.Queue
)

func TestMain(m *testing.M) {
	os.Exit(storetest.Run(func(s *store.Store, url string) (int, error) {
		db = s
		ctx := context.Background()
		if err := jobs.Migrate(ctx, url); err != nil {
			return 0, err
		}
		docs = workspace.New(db, 0)
		listening, stop := context.WithCancel(ctx)
		defer stop()
		go docs.Listen(listening)
		log := slog.New(slog.NewTextHandler(io.Discard, nil))
		var err error
		queue, err = jobs.Open(ctx, url, db, docs, jobs.Workers{N: 1}, log)
		if err != nil {
			return 0, err
		}
		defer queue.Close(ctx)
		h, err := web.New(db, docs, queue, log, web.Config{Hosts: []string{"bench.fennhollow.example"}})
		if err != nil {
			return 0, err
		}
		site = httptest.NewServer(h)
		defer site.Close()
		return m.Run(), nil
	}))
}

// call asks the site and returns status and body.
func call(t *testing.T, method, path string, body any) (int, []byte) {
	t.Helper()
	var r io.Reader
	if body != nil {
		b, err := json.Marshal(body)
		if err != nil {
			t.Fatal(err)
		}
		r = bytes.NewReader(b)
	}
	req, err := http.NewRequest(method, site.URL+path, r)
	if err != nil {
		t.Fatal(err)
	}
	req.Header.Set("Content-Type", "application/json")
	return send(t, req)
}

func send(t *testing.T, req *http.Request) (int, []byte) {
	t.Helper()
	c := http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	res, err := c.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	if err != nil {
		t.Fatal(err)
	}
	return res.StatusCode, b
}

func ask[T any](t *testing.T, method, path string, body any) (out T) {
	t.Helper()
	code, b := call(t, method, path, body)
	if code >= 300 {
		t.Fatalf("%s %s: %d %s", method, path, code, b)
	}
	if err := json.Unmarshal(b, &out); err != nil {
		t.Fatalf("%s %s: %v in %.200s", method, path, err, b)
	}
	return out
}

// sent sends a file and returns the status and the answer.
func sent(t *testing.T, name string, data []byte) (int, []byte) {
	t.Helper()
	return sentTo(t, "/documents", name, data)
}

func sentTo(t *testing.T, path, name string, data []byte) (int, []byte) {
	t.Helper()
	var b bytes.Buffer
	w := multipart.NewWriter(&b)
	part, err := w.CreateFormFile("model", name)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := part.Write(data); err != nil {
		t.Fatal(err)
	}
	if err := w.Close(); err != nil {
		t.Fatal(err)
	}
	req, err := http.NewRequest(http.MethodPost, site.URL+path, &b)
	if err != nil {
		t.Fatal(err)
	}
	req.Header.Set("Content-Type", w.FormDataContentType())
	return send(t, req)
}

// brought brings in a file and returns the address of its document.
func brought(t *testing.T, name string, data []byte) string {
	t.Helper()
	code, b := sent(t, name, data)
	var at struct{ Upload, Work int64 }
	if err := json.Unmarshal(b, &at); err != nil || code != http.StatusAccepted {
		t.Fatalf("%s: %d %s", name, code, b)
	}
	if s := ended(t, at.Work); s[len(s)-1].State != "done" {
		t.Fatalf("%s: reading ended as %+v", name, s[len(s)-1])
	}
	u, err := db.Upload(t.Context(), at.Upload)
	if err != nil || u.DocumentID == nil {
		t.Fatalf("%s: %+v, %v", name, u, err)
	}
	return fmt.Sprintf("/documents/%d", *u.DocumentID)
}

// lamp brings in the storm lamp and returns the address of its document.
func lamp(t *testing.T) string {
	t.Helper()
	model, err := models.Find("storm-lamp")
	if err != nil {
		t.Fatal(err)
	}
	m, err := model.Mesh()
	if err != nil {
		t.Fatal(err)
	}
	var obj bytes.Buffer
	if err := meshio.Write(&obj, "any.obj", m, meshio.SourceMaps(m)); err != nil {
		t.Fatal(err)
	}
	return brought(t, "lamp.obj", obj.Bytes())
}

type meta struct {
	Revision int64
	LastEdit string `json:"last_edit"`
	NextEdit string `json:"next_edit"`
	Parts    []struct {
		Name, Shape, Error string
		Fit                struct {
			Axis   [3]float64
			Radius float64
			Spine  [][3]float64
		}
	}
	Shells []struct{ Part int }
}

func edit(kind string, params any) map[string]any {
	return map[string]any{"kind": kind, "params": params}
}

// ended waits until a work is over and returns its states in order.
func ended(t *testing.T, work int64) (states []struct {
	State, Station, Message string
	Progress                float64
}) {
	t.Helper()
	_, events := call(t, "GET", fmt.Sprintf("/works/%d/events", work), nil)
	last := -1.0
	for _, l := range strings.Split(strings.TrimSpace(string(events)), "\n\n") {
		states = append(states, struct {
			State, Station, Message string
			Progress                float64
		}{})
		w := &states[len(states)-1]
		if err := json.Unmarshal([]byte(strings.TrimPrefix(l, "data: ")), w); err != nil {
			t.Fatal(err)
		}
		if w.Progress < last {
			t.Errorf("progress fell from %g to %g", last, w.Progress)
		}
		last = w.Progress
	}
	return states
}

// apply makes an edit, in the queue if it takes long, and returns what came of it.
func apply(t *testing.T, doc string, base int64, e map[string]any) meta {
	t.Helper()
	m := ask[struct {
		Meta meta
		Work int64
	}](t, "POST", doc+"/edits", map[string]any{"base": base, "edit": e})
	if m.Work == 0 {
		return m.Meta
	}
	states := ended(t, m.Work)
	if last := states[len(states)-1]; last.State != "done" {
		t.Fatalf("%v ended as %q: %s", e, last.State, last.Message)
	}
	return ask[meta](t, "GET", doc+"/meta", nil)
}

// A change is answered with what is different, the rows of the card and the tray with it, so
// that a bench need ask for nothing else; sent again with its key it is answered and not made.
func TestAChangeIsAnsweredWithAPatch(t *testing.T) {
	doc := lamp(t)
	m := apply(t, doc, ask[meta](t, "GET", doc+"/meta", nil).Revision, edit("recognise", map[string]any{}))
	body := map[string]any{"base": m.Revision, "edit": edit("rename", map[string]any{"part": 3, "name": "wick <b>"}), "key": "once",
		"shown": map[string]any{"station": "Parts", "part": 3, "worklog": true}}
	a := ask[wire.Answer](t, "POST", doc+"/edits", body)
	p := a.Patch
	if p == nil || p.From != m.Revision || a.Meta.Revision != m.Revision+1 || len(p.Parts) != 1 || p.Parts[0].As.Name != "wick <b>" || len(p.Corners)+len(p.Faces)+len(p.Fresh) > 0 || p.PartCount != len(m.Parts) {
		t.Fatalf("%+v", a)
	}
	if a.Card == nil || a.Card.Whole != "" || len(a.Card.Rows) != 1 || !strings.Contains(a.Card.Rows[3], "wick &lt;b&gt;") {
		t.Errorf("card %+v", a.Card)
	}
	if !strings.Contains(a.Tray, "wick &lt;b&gt;") || !strings.Contains(a.Worklog, "rename a part to wick &lt;b&gt;") {
		t.Errorf("tray %s, worklog %s", a.Tray, a.Worklog)
	}
	if again := ask[wire.Answer](t, "POST", doc+"/edits", body); again.Meta.Revision != a.Meta.Revision {
		t.Errorf("sent again it made revision %d", again.Meta.Revision)
	}
	back := ask[wire.Answer](t, "POST", doc+"/undo", map[string]any{"base": a.Meta.Revision, "shown": map[string]any{"station": "Sheet", "part": -1}})
	if back.Patch == nil || len(back.Patch.Parts) != 1 || back.Worklog != "" {
		t.Errorf("undone: %+v", back.Patch)
	}
	// In another unit every length of it reads otherwise: the card comes whole.
	set := ask[wire.Meta](t, "GET", doc+"/meta", nil).Settings
	set.Unit = "mm"
	back = ask[wire.Answer](t, "POST", doc+"/edits", map[string]any{"base": back.Meta.Revision, "edit": edit("settings", map[string]any{"settings": set}), "shown": map[string]any{"station": "Parts", "part": -1}})
	if back.Patch != nil || back.Card == nil || back.Card.Whole == "" {
		t.Errorf("in another unit: %+v", back.Card)
	}
	// Other parts are other rows: the card comes whole.
	first := facesOf(t, doc, 3)
	if off := ask[wire.Answer](t, "POST", doc+"/edits", map[string]any{"base": back.Meta.Revision, "edit": edit("part-off", map[string]any{"faces": first[:1]}), "shown": map[string]any{"station": "Parts", "part": -1}}); off.Patch == nil || off.Card.Whole == "" {
		t.Errorf("parted off: %+v", off.Card)
	}
}

func TestTheWayOfADocument(t *testing.T) {
	doc := lamp(t)
	m := ask[meta](t, "GET", doc+"/meta", nil)
	if m.Revision != 0 && m.Revision != 1 || len(m.Parts) != 25 {
		t.Fatalf("as it came: revision %d, %d parts", m.Revision, len(m.Parts))
	}
	change := func(e map[string]any) {
		t.Helper()
		m = apply(t, doc, m.Revision, e)
	}
	change(edit("recognise", map[string]any{}))
	if len(m.Parts) < 60 || m.LastEdit != "recognise parts" {
		t.Fatalf("recognised: %d parts, last edit %q", len(m.Parts), m.LastEdit)
	}
	swept := 0
	for _, p := range m.Parts {
		if p.Shape == "swept" {
			swept++
			if len(p.Fit.Spine) < 3 || p.Fit.Radius <= 0 {
				t.Errorf("%s has a spine of %d points, radius %g", p.Name, len(p.Fit.Spine), p.Fit.Radius)
			}
		}
	}
	if swept != 7 { // six rods and the handle
		t.Errorf("%d swept parts", swept)
	}
	change(edit("open", map[string]any{}))
	change(edit("flatten", map[string]any{}))
	change(edit("weigh", map[string]any{"parts": []int{0}, "weight": 1.5}))
	if len(m.Shells) < 60 {
		t.Errorf("%d shells after flattening", len(m.Shells))
	}

	// A stale edit changes nothing and says which revision is newer.
	code, b := call(t, "POST", doc+"/edits", map[string]any{"base": m.Revision - 1, "edit": edit("pack", map[string]any{})})
	var p struct {
		Error    string
		Revision int64
	}
	if err := json.Unmarshal(b, &p); err != nil || code != http.StatusConflict || p.Revision != m.Revision || !strings.Contains(p.Error, "changed elsewhere") {
		t.Errorf("stale: %d %s", code, b)
	}
	before := m.Revision
	m = ask[struct{ Meta meta }](t, "POST", doc+"/undo", map[string]any{"base": m.Revision}).Meta
	if m.Revision != before+1 || m.NextEdit != "give 1 part ×1.5 room" {
		t.Errorf("undo: revision %d, next edit %q", m.Revision, m.NextEdit)
	}
	m = ask[struct{ Meta meta }](t, "POST", doc+"/redo", map[string]any{"base": m.Revision}).Meta
	if m.LastEdit != "give 1 part ×1.5 room" {
		t.Errorf("redo: last edit %q", m.LastEdit)
	}

	// Blocks are marked and hold what they say.
	for path, mark := range map[string]string{"/mesh.bin": "MVM1", "/layout.bin": "MVL4"} {
		code, b := call(t, "GET", doc+path, nil)
		if code != 200 || string(b[:4]) != mark {
			t.Fatalf("%s: %d, marked %q", path, code, b[:4])
		}
		at, arrays := 8, int(binary.LittleEndian.Uint32(b[4:]))
		for range arrays {
			n := int(binary.LittleEndian.Uint32(b[at:]))
			at += 4 + (n+3)/4*4
		}
		if at != len(b) {
			t.Errorf("%s: %d arrays end at %d of %d bytes", path, arrays, at, len(b))
		}
	}

	// Pages and fragments.
	for path, says := range map[string]string{
		doc: "lamp", doc + "/card": "glass wall", doc + "/worklog": "recognise parts", "/projects": "lamp",
		doc + "/tray?station=Parts&part=0": "reads as", doc + "/tray?station=Project&part=0": "Kinds of projection", doc + "/tray?station=Seams": "Looking for missing cuts",
		doc + "/tray?station=Flow": "Choose one to work on it", doc + "/tray?station=Sheet": "Pack", doc + "/tray?station=Proof": "findings", doc + "/tray?station=Nowhere": "Parts",
	} {
		if code, b := call(t, "GET", path, nil); code != 200 || !strings.Contains(string(b), says) {
			t.Errorf("GET %s: %d, without %q", path, code, says)
		}
	}
	code, b = call(t, "GET", doc+"/cover/sheet.png", nil)
	if img, err := png.Decode(bytes.NewReader(b)); code != 200 || err != nil || img.Bounds().Dx() != 240 {
		t.Errorf("picture: %d %v", code, err)
	}
	for path, says := range map[string]string{"/deliver/model.obj": "\nvt ", "/deliver/template.svg?size=512": "<svg", "/deliver/report.json": `"parts"`, "/deliver/template.png?size=128": "PNG"} {
		if code, b := call(t, "GET", doc+path, nil); code != 200 || !bytes.Contains(b, []byte(says)) {
			t.Errorf("GET %s: %d, without %q", path, code, says)
		}
	}
}

func TestPickVerbs(t *testing.T) {
	doc := lamp(t)
	pick := func(verb string, faces []int, angle float64) (int, string) {
		code, b := call(t, "POST", doc+"/pick", map[string]any{"verb": verb, "faces": faces, "angle_deg": angle})
		return code, string(b)
	}
	count := func(s string) int {
		var v struct{ Faces []int }
		if err := json.Unmarshal([]byte(s), &v); err != nil {
			t.Fatal(err)
		}
		return len(v.Faces)
	}
	for _, c := range []struct {
		verb  string
		least int
		most  int
	}{{"grow", 4, 40}, {"shrink", 0, 0}, {"size", 1, 2000}, {"crease", 2, 2000}, {"facing", 1, 2000}, {"material", 100, 6882}, {"unmapped", 6882, 6882}, {"invert", 6881, 6881}} {
		code, b := pick(c.verb, []int{0}, 25)
		if n := count(b); code != 200 || n < c.least || n > c.most {
			t.Errorf("%s: %d faces, %d", c.verb, n, code)
		}
	}
	for _, c := range []struct {
		verb  string
		faces []int
		angle float64
		says  string
	}{{"lick", []int{0}, 25, "no pick called"}, {"crease", []int{99999}, 25, "there is no face 99999"}, {"crease", []int{-1}, 25, "there is no face -1"}, {"facing", []int{0}, 0, "not possible"}} {
		if code, b := pick(c.verb, c.faces, c.angle); code != http.StatusBadRequest || !strings.Contains(b, c.says) {
			t.Errorf("%s %v %g: %d %s", c.verb, c.faces, c.angle, code, b)
		}
	}
}

func TestRequestsThatCannotBe(t *testing.T) {
	doc := lamp(t)
	m := ask[meta](t, "GET", doc+"/meta", nil)
	for _, c := range []struct {
		method, path string
		body         any
		code         int
		says         string
	}{
		{"GET", "/documents/999999", nil, 404, ""},
		{"GET", "/documents/lamp/meta", nil, 404, "no longer there"},
		{"GET", doc + "/deliver/model.step", nil, 404, ""},
		{"GET", doc + "/deliver/template.svg?size=12", nil, 400, "64 to 8192"},
		{"POST", doc + "/pick-edges", map[string]any{"verb": "run", "edges": []int{-3}}, 400, "no edge -3"},
		{"POST", doc + "/pick-edges", map[string]any{"verb": "path", "edges": []int{1}}, 400, "pick an edge first"},
		{"POST", doc + "/pick-edges", map[string]any{"verb": "around", "faces": []int{-1}}, 400, "no face -1"},
		{"POST", doc + "/pick-edges", map[string]any{"verb": "above", "angle_deg": 200}, 400, "not possible"},
		{"POST", doc + "/pick-edges", map[string]any{"verb": "spiral"}, 400, "no pick called"},
		{"POST", doc + "/ghost", map[string]any{"edit": edit("join", map[string]any{"edges": []int{}})}, 422, "no edges are picked"},
		{"POST", doc + "/edits", map[string]any{"base": m.Revision, "edit": edit("view-from", map[string]any{"sides": map[string]any{"front": -1}})}, 422, "viewing sides"},
		{"POST", doc + "/undo", map[string]any{"base": m.Revision}, 422, "nothing to undo"},
		{"POST", doc + "/edits", map[string]any{"base": m.Revision, "edit": edit("explode", nil)}, 422, `no edit called \"explode\"`},
		{"POST", doc + "/edits", map[string]any{"base": m.Revision, "edit": edit("merge", map[string]any{"parts": []int{0}})}, 422, "two parts or more"},
		{"POST", doc + "/edits", map[string]any{"base": m.Revision, "edit": edit("cut", map[string]any{"edgez": []int{0}})}, 422, "not complete"},
		{"POST", doc + "/run", map[string]any{"base": m.Revision + 7}, 409, "changed elsewhere"},
	} {
		code, b := call(t, c.method, c.path, c.body)
		if code != c.code || !strings.Contains(string(b), c.says) {
			t.Errorf("%s %s: %d %s, want %d and %q", c.method, c.path, code, b, c.code, c.says)
		}
	}
	if now := ask[meta](t, "GET", doc+"/meta", nil); now.Revision != m.Revision {
		t.Errorf("refused requests made revision %d of %d", now.Revision, m.Revision)
	}
	// From another site nothing may be changed.
	req, err := http.NewRequest(http.MethodPost, site.URL+doc+"/undo", strings.NewReader(`{}`))
	if err != nil {
		t.Fatal(err)
	}
	req.Header.Set("Origin", "http://elsewhere.example")
	if code, _ := send(t, req); code != http.StatusForbidden {
		t.Errorf("a change from another site: %d", code)
	}
	// Nor under a name that somebody made lead here.
	for host, want := range map[string]int{"rebound.example": http.StatusMisdirectedRequest, "rebound.example:80": http.StatusMisdirectedRequest, "127.0.0.1.rebound.example": http.StatusMisdirectedRequest,
		"localhost:9": http.StatusOK, "[::1]:9": http.StatusOK, "192.0.2.7": http.StatusOK, "Bench.Fennhollow.example.": http.StatusOK} {
		req, err := http.NewRequest(http.MethodGet, site.URL+doc+"/meta", nil)
		if err != nil {
			t.Fatal(err)
		}
		req.Host = host
		if code, _ := send(t, req); code != want {
			t.Errorf("asked as %s: %d, want %d", host, code, want)
		}
	}
	// Files that cannot be read leave nothing behind.
	_, before := call(t, "GET", "/projects", nil)
	if code, b := sent(t, "a.step", []byte("x")); code != http.StatusUnprocessableEntity || !strings.Contains(string(b), "a.step") {
		t.Errorf("a format nobody knows: %d %s", code, b)
	}
	for name, text := range map[string]string{"empty.obj": "", "range.obj": "v 0 0 0\nf 1 2 3\n", "p.obj": "\x89PNG\r\n\x1a\n"} {
		code, b := sent(t, name, []byte(text))
		var at struct{ Upload, Work int64 }
		if err := json.Unmarshal(b, &at); err != nil || code != http.StatusAccepted {
			t.Fatalf("%s: %d %s", name, code, b)
		}
		if s := ended(t, at.Work); s[len(s)-1].State != "failed" || s[len(s)-1].Message == "" {
			t.Errorf("%s: %+v", name, s)
		}
		if _, page := call(t, "GET", "/projects", nil); !strings.Contains(string(page), name) {
			t.Errorf("%s: nothing on the page says that it failed", name)
		}
		if code, _ := call(t, "GET", fmt.Sprintf("/uploads/%d", at.Upload), nil); code != http.StatusSeeOther {
			t.Errorf("%s: where it is seen: %d", name, code)
		}
		if code, _ := call(t, "POST", fmt.Sprintf("/uploads/%d/forget", at.Upload), nil); code != http.StatusNoContent {
			t.Errorf("%s: forgetting it: %d", name, code)
		}
	}
	if _, after := call(t, "GET", "/projects", nil); !bytes.Equal(before, after) {
		t.Error("a refused file changed the projects")
	}
}

// The whole job runs in the queue, tells its progress and ends in one state.
func TestWholeJobInTheQueue(t *testing.T) {
	doc := lamp(t)
	m := ask[meta](t, "GET", doc+"/meta", nil)
	work := ask[struct{ Work int64 }](t, "POST", doc+"/run", map[string]any{"base": m.Revision}).Work
	states := ended(t, work)
	if last := states[len(states)-1]; last.State != "done" {
		t.Fatalf("the job ended as %q: %s", last.State, last.Message)
	}
	m = ask[meta](t, "GET", doc+"/meta", nil)
	if m.LastEdit != "pack the sheet" || len(m.Shells) < 60 {
		t.Errorf("after the job: %q, %d shells", m.LastEdit, len(m.Shells))
	}
	if code, _ := call(t, "GET", "/works/424242/events", nil); code != 404 {
		t.Errorf("events of no work: %d", code)
	}
}

func TestHeadersKeepEverythingHere(t *testing.T) {
	for _, path := range []string{"/projects", "/static/bench.js", "/static/app.css"} {
		res, err := http.Get(site.URL + path)
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		if csp := res.Header.Get("Content-Security-Policy"); !strings.HasPrefix(csp, "default-src 'self'") || !strings.Contains(csp, "form-action 'self'") || res.StatusCode != 200 {
			t.Errorf("%s: %d, policy %q", path, res.StatusCode, csp)
		}
	}
}
