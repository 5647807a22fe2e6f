package web_test

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/labstack/echo/v5"

	"morvek/people"
	"morvek/people/password"
	"morvek/store"
	"morvek/web"
	"morvek/web/gate"
	"morvek/workspace/workspacetest"
)

// Every route has a row in the table of rights, and every row a route: whether people sign in or not.
func TestEveryRouteHasARight(t *testing.T) {
	p, err := people.New(context.Background(), db, cheap)
	if err != nil {
		t.Fatal(err)
	}
	h, err := web.New(db, nil, nil, slog.New(slog.DiscardHandler), web.Config{People: p, Plain: true})
	if err != nil {
		t.Fatal(err)
	}
	there := map[string]bool{}
	for _, r := range h.(*echo.Echo).Router().Routes() {
		there[r.Method+" "+r.Path] = true
		if _, ok := gate.Table[r.Method+" "+r.Path]; !ok {
			t.Errorf("%s %s has no row", r.Method, r.Path)
		}
	}
	for route := range gate.Table {
		if !there[route] && !strings.Contains(route, "/paintshop") { // it is there where sheets are exchanged
			t.Errorf("nothing answers %s", route)
		}
	}
}

var cheap = password.Cost{Memory: 64, Time: 1, Lanes: 1}

// guest is somebody with a browser.
type guest struct {
	t    *testing.T
	site string
	*http.Client
}

func newGuest(t *testing.T, site string) guest {
	jar, err := cookiejar.New(nil)
	if err != nil {
		t.Fatal(err)
	}
	return guest{t, site, &http.Client{Jar: jar}}
}

// ask asks for a page, or sends a form; it returns the status, the page, and where it led.
func (g guest) ask(method, path string, form url.Values) (int, string, string) {
	g.t.Helper()
	req, err := http.NewRequest(method, g.site+path, strings.NewReader(form.Encode()))
	if err != nil {
		g.t.Fatal(err)
	}
	req.Header.Set("Accept", "text/html")
	if form != nil {
		req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	}
	res, err := g.Do(req)
	if err != nil {
		g.t.Fatal(err)
	}
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	if err != nil {
		g.t.Fatal(err)
	}
	return res.StatusCode, string(b), res.Request.URL.RequestURI()
}

// is checks the status of an answer and what its page says.
func (g guest) is(want int, says, method, path string, form url.Values) string {
	g.t.Helper()
	code, page, _ := g.ask(method, path, form)
	if code != want || !strings.Contains(page, says) {
		g.t.Errorf("%s %s: %d, want %d with %q: %.600s", method, path, code, want, says, page)
	}
	return page
}

var linkIn = regexp.MustCompile(`value="http://[^/]+(/invitations/[\w-]+)"`)

// link is the link that a page shows.
func (g guest) link(page string) string {
	g.t.Helper()
	m := linkIn.FindStringSubmatch(page)
	if m == nil {
		g.t.Fatalf("no link: %.400s", page)
	}
	return m[1]
}

// From the first steward to a project with an editor and a viewer, by the pages.
func TestPeopleComeIn(t *testing.T) {
	ctx := context.Background()
	p, err := people.New(ctx, db, cheap)
	if err != nil {
		t.Fatal(err)
	}
	h, err := web.New(db, docs, queue, slog.New(slog.DiscardHandler), web.Config{People: p, Plain: true})
	if err != nil {
		t.Fatal(err)
	}
	site := httptest.NewServer(h)
	defer site.Close()
	secret, err := p.Invite(ctx, store.Invitation{Steward: true})
	if err != nil {
		t.Fatal(err)
	}

	steward := newGuest(t, site.URL)
	if _, _, at := steward.ask("GET", "/documents/1?map=1", nil); at != "/sign-in?to=%2Fdocuments%2F1%3Fmap%3D1" {
		t.Errorf("who is not signed in lands at %s", at)
	}
	steward.is(200, "You are invited to Morvek", "GET", people.Link(secret), nil)
	steward.is(422, "at least", "POST", people.Link(secret), url.Values{"name": {"Ada Fennhollow"}, "password": {"short"}})
	steward.is(200, "Ada Fennhollow", "POST", people.Link(secret), url.Values{"name": {"Ada Fennhollow"}, "password": {"a password of some length"}})
	steward.is(410, "used already", "GET", people.Link(secret), nil)
	_, page, at := steward.ask("POST", "/projects", url.Values{"title": {"Light ships"}})
	var project int64
	if _, err := fmt.Sscanf(at, "/projects/%d", &project); err != nil {
		t.Fatalf("%s: %.300s", at, page)
	}
	in := fmt.Sprintf("/projects/%d", project)
	document := newModel(t, project)
	at = fmt.Sprintf("/documents/%d", document)

	come := func(name string, role store.Role) guest {
		link := steward.link(steward.is(200, "Hand over this link", "POST", in+"/people", url.Values{"do": {"invite"}, "role": {string(role)}}))
		g := newGuest(t, site.URL)
		g.is(200, "You are invited to Light ships", "GET", link, nil)
		g.is(200, name, "POST", link, url.Values{"name": {name}, "password": {"a password of some length"}})
		return g
	}
	editor, viewer := come("Bo", store.Editor), come("Cy", store.Viewer)
	stranger := newGuest(t, site.URL)
	link := steward.link(steward.is(200, "Hand over", "POST", "/people", url.Values{"do": {"invite"}}))
	stranger.is(200, "Dee", "POST", link, url.Values{"name": {"Dee"}, "password": {"a password of some length"}})

	edit := func(g guest) int {
		body := fmt.Sprintf(`{"base": 1, "edit": {"kind": "settings", "params": {"settings": {}}}, "key": "%p"}`, &g)
		req, _ := http.NewRequest("POST", site.URL+at+"/edits", strings.NewReader(body))
		req.Header.Set("Content-Type", "application/json")
		res, err := g.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		return res.StatusCode
	}
	for name, c := range map[string]struct {
		guest
		sees, edits, shelves, invites int
		in                            string
	}{
		"steward":  {steward, 200, 200, 200, 200, "Light ships"},
		"editor":   {editor, 200, 409, 200, 403, "Light ships"},
		"viewer":   {viewer, 200, 403, 403, 403, "Light ships"},
		"stranger": {stranger, 404, 404, 404, 404, ""},
	} {
		if code, _, _ := c.ask("GET", at, nil); code != c.sees {
			t.Errorf("%s sees the bench: %d, want %d", name, code, c.sees)
		}
		if _, page, _ := c.ask("GET", "/projects", nil); strings.Contains(page, "Light ships") != (c.in != "") {
			t.Errorf("%s: the project is listed: %v", name, c.in == "")
		}
		if code := edit(c.guest); code != c.edits && (c.edits == 403 || c.edits == 404 || code == 403 || code == 404) {
			t.Errorf("%s edits: %d, want %d", name, code, c.edits)
		}
		if code, _, _ := c.ask("POST", at+"/shelf", url.Values{"do": {"rename"}, "title": {"Lamp"}}); code != c.shelves {
			t.Errorf("%s renames: %d, want %d", name, code, c.shelves)
		}
		if code, _, _ := c.ask("POST", in+"/people", url.Values{"do": {"invite"}, "role": {"viewer"}}); code != c.invites {
			t.Errorf("%s invites: %d, want %d", name, code, c.invites)
		}
	}
	if !strings.Contains(viewer.is(200, "look only", "GET", at, nil), `data-look="yes"`) {
		t.Error("the bench of who may look only does not know")
	}
	editor.is(403, "only an owner", "POST", in, url.Values{"do": {"delete"}})
	viewer.is(403, "only a steward", "GET", "/people", nil)
	if log, err := db.Worklog(ctx, document); err != nil || len(log) > 0 && log[0].Who == "" {
		t.Errorf("the worklog does not say who: %+v, %v", log, err)
	}

	// What is somebody else's is reached by no number in an address or a body.
	_, _, own := stranger.ask("POST", "/projects", url.Values{"title": {"Elsewhere"}})
	var theirs int64
	if _, err := fmt.Sscanf(own, "/projects/%d", &theirs); err != nil {
		t.Fatal(own)
	}
	mine := newModel(t, theirs)
	to := fmt.Sprintf("/documents/%d", mine)
	stranger.is(404, "", "GET", fmt.Sprintf("%s/compare?of=%d", to, document), nil)
	stranger.is(404, "", "GET", fmt.Sprintf("%s/compare.bin?of=%d", to, document), nil)
	stranger.is(404, "", "GET", fmt.Sprintf("%s/revision?of=%d", to, document), nil)
	stranger.is(404, "", "POST", to+"/shelf", url.Values{"do": {"move"}, "to": {fmt.Sprint(project)}})
	stranger.is(404, "", "POST", fmt.Sprintf("/documents/%d/shelf", document), url.Values{"do": {"move"}, "to": {fmt.Sprint(theirs)}})
	if page := stranger.is(200, "Elsewhere", "GET", fmt.Sprintf("/projects?undo=documents/%d", document), nil); strings.Contains(page, "Lamp") {
		t.Error("the name of a model of others is told")
	}
	token := regexp.MustCompile(`value="(mvk_[\w-]+)"`).FindStringSubmatch(stranger.is(200, "shown only now", "POST", "/you", url.Values{"do": {"token"}, "name": {"job"}}))
	if token == nil {
		t.Fatal("no token")
	}
	api := func(method, path, body string) (int, string) {
		req, _ := http.NewRequest(method, site.URL+"/api/v1"+path, strings.NewReader(body))
		req.Header.Set("Authorization", "Bearer "+token[1])
		res, err := http.DefaultClient.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		b, _ := io.ReadAll(res.Body)
		return res.StatusCode, string(b)
	}
	if code, b := api("GET", "/documents", ""); code != 200 || json.Valid([]byte(b)) && strings.Contains(b, fmt.Sprintf(`"id":%d,`, document)) || !strings.Contains(b, fmt.Sprint(mine)) {
		t.Errorf("a program lists %d %s", code, b)
	}
	if code, b := api("POST", fmt.Sprintf("/documents/%d/revisions/preview", mine), fmt.Sprintf(`{"of": %d}`, document)); code != 404 {
		t.Errorf("a program revises what is not its own: %d %s", code, b)
	}
	req, _ := http.NewRequest("POST", fmt.Sprintf("%s/documents?project=%d", site.URL, project), strings.NewReader("--x\r\nContent-Disposition: form-data; name=\"model\"; filename=\"a.obj\"\r\n\r\nv 0 0 0\r\n--x--\r\n"))
	req.Header.Set("Content-Type", "multipart/form-data; boundary=x")
	res, err := stranger.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	res.Body.Close()
	if res.StatusCode != 404 {
		t.Errorf("a stranger brings a model in: %d", res.StatusCode)
	}

	// A steward helps who forgot a password; who may not come in any more is out at once.
	who, err := db.PersonCalled(ctx, "bo")
	if err != nil {
		t.Fatal(err)
	}
	link = steward.link(steward.is(200, "Hand over", "POST", "/people", url.Values{"do": {"reset"}, "of": {fmt.Sprint(who.ID)}}))
	fresh := newGuest(t, site.URL)
	fresh.is(200, "A new password for Bo", "GET", link, nil)
	fresh.is(200, "Light ships", "POST", link, url.Values{"password": {"another password of Bo"}})
	if _, _, at := editor.ask("GET", "/projects", nil); !strings.HasPrefix(at, "/sign-in") {
		t.Errorf("with the old password one is still in, at %s", at)
	}
	editor.is(401, "do not belong together", "POST", "/sign-in", url.Values{"name": {"Bo"}, "password": {"a password of some length"}})
	editor.is(200, "Light ships", "POST", "/sign-in", url.Values{"name": {"bo"}, "password": {"another password of Bo"}, "to": {in}})
	steward.is(200, "may not come in", "POST", "/people", url.Values{"do": {"leave"}, "of": {fmt.Sprint(who.ID)}})
	if _, _, at := editor.ask("GET", in, nil); !strings.HasPrefix(at, "/sign-in") {
		t.Errorf("who may not come in is at %s", at)
	}
	steward.is(422, "an owner at least", "POST", in+"/people", url.Values{"do": {"remove"}, "of": {fmt.Sprint(stewardID(t))}})
	steward.ask("POST", "/sign-out", url.Values{})
	if _, _, at := steward.ask("GET", in, nil); !strings.HasPrefix(at, "/sign-in") {
		t.Errorf("signed out one is at %s", at)
	}
}

func stewardID(t *testing.T) int64 {
	t.Helper()
	p, err := db.PersonCalled(context.Background(), "Ada Fennhollow")
	if err != nil {
		t.Fatal(err)
	}
	return p.ID
}

// newModel is a model of ours in a project.
func newModel(t *testing.T, project int64) int64 {
	t.Helper()
	id := workspacetest.NewCan(t, db, 12)
	if err := db.MoveDocument(context.Background(), id, project); err != nil {
		t.Fatal(err)
	}
	return id
}
