package gate_test

import (
	"context"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/labstack/echo/v5"

	"morvek/people"
	"morvek/people/password"
	"morvek/store"
	"morvek/store/storetest"
	"morvek/web/desk"
	"morvek/web/gate"
)

var (
	db  *store.Store
	who *people.People
)

func TestMain(m *testing.M) {
	os.Exit(storetest.Run(func(s *store.Store, _ string) (int, error) {
		var err error
		db = s
		if who, err = people.New(context.Background(), s, password.Cost{Memory: 64, Time: 1, Lanes: 1}); err != nil {
			return 0, err
		}
		return m.Run(), nil
	}))
}

// things are one of each that belongs to a project.
func things(t *testing.T, project int64) map[store.Thing]int64 {
	t.Helper()
	ctx := context.Background()
	document, err := db.CreateDocument(ctx, store.NewDocument{Project: project, Title: "lamp", FileName: "lamp.obj", Source: []byte("v 0 0 0"), Faces: 1, Points: 3, State: []byte("state 0")})
	if err != nil {
		t.Fatal(err)
	}
	out := map[store.Thing]int64{store.AProject: project, store.ADocument: document}
	one := func(of store.Thing, q string, args ...any) {
		var id int64
		if err := db.DB().QueryRowContext(ctx, q, args...).Scan(&id); err != nil {
			t.Fatalf("%s: %v", of, err)
		}
		out[of] = id
	}
	one(store.AnUpload, `insert into uploads (project_id, file_name, source) values ($1, 'a.obj', 'x') returning id`, project)
	one(store.AWork, `insert into works (upload_id, kind, args) values ($1, 'read', '{}') returning id`, out[store.AnUpload])
	one(store.ADelivery, `insert into deliveries (document_id, revision, file_name, asked, files, bytes, data) values ($1, 1, 'a.zip', '{}', '[]', 1, 'x') returning id`, document)
	one(store.APicture, `insert into pictures (document_id, map, tile, name, sha256, media, width, height, data) values ($1, 1, 0, 'a', 'x', 'image/png', 1, 1, 'x') returning id`, document)
	one(store.ACloth, `insert into cloths (project_id, name, media, width, height, data) values ($1, 'a', 'image/png', 1, 1, 'x') returning id`, project)
	return out
}

// person comes in with a role in a project, or none.
func person(t *testing.T, name string, project int64, role store.Role, steward bool) int64 {
	t.Helper()
	ctx := context.Background()
	secret, err := who.Invite(ctx, store.Invitation{Steward: steward})
	if err != nil {
		t.Fatal(err)
	}
	id, err := who.Accept(ctx, secret, 0, name, "the password of "+name)
	if err != nil {
		t.Fatal(err)
	}
	if role != store.Nobody {
		if err := db.SetRole(ctx, project, id, role); err != nil {
			t.Fatal(err)
		}
	}
	return id
}

// reached is what every route answers whom the gate lets through.
const reached = 299

// Every route × everybody: nobody signed in, who has no role, each role, an owner of another project, a steward.
func TestTheGateLetsThroughWhoMay(t *testing.T) {
	ctx := context.Background()
	d := &desk.Desk{Store: db, People: who}
	g := gate.New(d, false)
	e := echo.NewWithConfig(echo.Config{HTTPErrorHandler: func(c *echo.Context, err error) {
		code := http.StatusInternalServerError
		if he, ok := err.(*echo.HTTPError); ok { //nolint:errorlint // the gate makes them itself
			code = he.Code
		} else if err == store.ErrNotFound { //nolint:errorlint // likewise
			code = http.StatusNotFound
		}
		_ = c.String(code, err.Error())
	}})
	e.Use(g.Guard)
	e.POST("/let-in/:id", func(c *echo.Context) error {
		id, err := desk.ID(c)
		if err != nil {
			return err
		}
		p, err := db.Person(ctx, id)
		if err != nil {
			return err
		}
		return g.SignIn(c, p)
	})
	gate.Table["POST /let-in/:id"] = gate.Row{Right: people.Anyone}
	defer delete(gate.Table, "POST /let-in/:id")
	for route := range gate.Table {
		method, path, _ := strings.Cut(route, " ")
		if path != "/let-in/:id" {
			e.Add(method, path, func(c *echo.Context) error { return c.NoContent(reached) })
		}
	}
	site := httptest.NewServer(e)
	defer site.Close()

	project, err := db.CreateProject(ctx, "Ours")
	if err != nil {
		t.Fatal(err)
	}
	other, err := db.CreateProject(ctx, "Theirs")
	if err != nil {
		t.Fatal(err)
	}
	of := things(t, project)
	owner := person(t, "owner", project, store.Owner, false)
	seats := map[string]struct {
		id   int64
		role store.Role
	}{
		"nobody":  {0, store.Nobody},
		"no role": {person(t, "no role", 0, store.Nobody, false), store.Nobody},
		"viewer":  {person(t, "viewer", project, store.Viewer, false), store.Viewer},
		"editor":  {person(t, "editor", project, store.Editor, false), store.Editor},
		"owner":   {owner, store.Owner},
		"theirs":  {person(t, "theirs", other, store.Owner, false), store.Nobody},
		"steward": {person(t, "steward", 0, store.Nobody, true), store.Nobody},
	}
	client := &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	asked := 0
	for name, seat := range seats {
		var cookies []*http.Cookie
		if seat.id != 0 {
			res, err := client.Post(fmt.Sprintf("%s/let-in/%d", site.URL, seat.id), "", nil)
			if err != nil {
				t.Fatal(err)
			}
			res.Body.Close()
			if cookies = res.Cookies(); len(cookies) != 1 || !cookies[0].HttpOnly || cookies[0].SameSite != http.SameSiteLaxMode {
				t.Fatalf("%s: cookies %v", name, cookies)
			}
		}
		for route, row := range gate.Table {
			method, path, _ := strings.Cut(route, " ")
			if path == "/let-in/:id" {
				continue
			}
			var want int
			has := people.Gives(seat.role)
			switch {
			case row.Right == people.Anyone:
				want = reached
			case seat.id == 0:
				want = http.StatusUnauthorized
			case row.Right == people.Signed:
				want = reached
			case row.Right == people.Steward:
				want = map[bool]int{true: reached, false: http.StatusForbidden}[name == "steward"]
			case has >= row.Right:
				want = reached
			case has < people.View:
				want = http.StatusNotFound
			default:
				want = http.StatusForbidden
			}
			path = strings.ReplaceAll(path, ":id", fmt.Sprint(of[row.Of]))
			for _, p := range []string{":secret", ":name", ":file", ":of", ":cloth", ":picture", ":moment", ":jig", ":sheet", "*"} {
				path = strings.ReplaceAll(path, p, "1")
			}
			req, err := http.NewRequestWithContext(ctx, method, site.URL+path, nil)
			if err != nil {
				t.Fatal(err)
			}
			for _, k := range cookies {
				req.AddCookie(k)
			}
			res, err := client.Do(req)
			if err != nil {
				t.Fatal(err)
			}
			b, _ := io.ReadAll(res.Body)
			res.Body.Close()
			asked++
			if res.StatusCode != want {
				t.Errorf("%s asks %s: %d, want %d: %s", name, route, res.StatusCode, want, b)
			}
		}
	}
	if asked < 7*100 {
		t.Errorf("only %d were asked", asked)
	}

	// A token does what its person may, and not through the pages; a session is over with its password.
	token, err := who.NewToken(ctx, seats["viewer"].id, "job")
	if err != nil {
		t.Fatal(err)
	}
	for path, want := range map[string]int{
		fmt.Sprintf("GET /api/v1/documents/%d", of[store.ADocument]):        reached,
		fmt.Sprintf("POST /api/v1/documents/%d/edits", of[store.ADocument]): http.StatusForbidden,
		fmt.Sprintf("GET /documents/%d", of[store.ADocument]):               http.StatusUnauthorized,
	} {
		method, path, _ := strings.Cut(path, " ")
		for bearer, want := range map[string]int{token: want, token[:len(token)-1]: http.StatusUnauthorized, "": http.StatusUnauthorized} {
			req, _ := http.NewRequestWithContext(ctx, method, site.URL+path, nil)
			req.Header.Set("Authorization", "Bearer "+bearer)
			res, err := client.Do(req)
			if err != nil {
				t.Fatal(err)
			}
			res.Body.Close()
			if res.StatusCode != want {
				t.Errorf("%s with a token: %d, want %d", path, res.StatusCode, want)
			}
		}
	}
	res, err := client.Post(fmt.Sprintf("%s/let-in/%d", site.URL, owner), "", nil)
	if err != nil {
		t.Fatal(err)
	}
	res.Body.Close()
	get := func() int {
		req, _ := http.NewRequestWithContext(ctx, "GET", fmt.Sprintf("%s/projects/%d", site.URL, project), nil)
		req.AddCookie(res.Cookies()[0])
		r, err := client.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		r.Body.Close()
		return r.StatusCode
	}
	if get() != reached {
		t.Error("an owner is not let in")
	}
	p, err := db.Person(ctx, owner)
	if err != nil {
		t.Fatal(err)
	}
	if err := who.ChangePassword(ctx, p, "the password of owner", "another password of owner"); err != nil {
		t.Fatal(err)
	}
	if code := get(); code != http.StatusUnauthorized {
		t.Errorf("with a password that is not his any more: %d", code)
	}
}

// The cookie of who is signed in goes to us alone, and over TLS alone unless somebody said otherwise.
func TestTheCookieOfWhoIsSignedIn(t *testing.T) {
	id := person(t, "with a cookie", 0, store.Nobody, false)
	p, err := db.Person(context.Background(), id)
	if err != nil {
		t.Fatal(err)
	}
	for _, secure := range []bool{true, false} {
		g := gate.New(&desk.Desk{Store: db, People: who}, secure)
		e := echo.New()
		e.Use(g.Guard)
		e.GET("/sign-in", func(c *echo.Context) error { return g.SignIn(c, p) })
		w := httptest.NewRecorder()
		e.ServeHTTP(w, httptest.NewRequest("GET", "/sign-in", nil))
		k := w.Result().Cookies()
		if len(k) != 1 || k[0].Secure != secure || !k[0].HttpOnly || k[0].SameSite != http.SameSiteLaxMode || k[0].Path != "/" || k[0].Domain != "" || strings.HasPrefix(k[0].Name, "__Host-") != secure {
			t.Errorf("%v", k)
		}
	}
}

// What may be done by who only looks is what computes and changes nothing.
func TestLookingChangesNothing(t *testing.T) {
	computes := []string{"/pick", "/pick-edges", "/ghost", "/live", "/exposure", "/projections", "/flattenings", "/deliveries", "/previews", "/revisions/preview"}
	for route, row := range gate.Table {
		method, path, _ := strings.Cut(route, " ")
		ok := method == "GET" || row.Right >= people.Change || row.Of == ""
		for _, c := range computes {
			ok = ok || strings.HasSuffix(path, c)
		}
		if !ok {
			t.Errorf("%s asks for no right to change", route)
		}
	}
}

func TestAddressesToGoOnTo(t *testing.T) {
	for to, want := range map[string]string{
		"/documents/3?map=2": "/documents/3?map=2", "": "/", "//elsewhere.example/": "/", "https://elsewhere.example/": "/",
		"javascript:alert(1)": "/", "/\\elsewhere.example": "/", "documents": "/", "/a\nb": "/",
	} {
		if got := gate.Within(to); got != want {
			t.Errorf("%q leads to %q, want %q", to, got, want)
		}
	}
}

// Bounds are each one's own, and refusals say when to come again.
func TestBounds(t *testing.T) {
	e := echo.New()
	e.Use(gate.Limit(gate.Bounds{Every: time.Hour, Burst: 5, Streams: 2}))
	hold, open := make(chan struct{}), make(chan struct{}, 4)
	e.GET("/documents/:id/events", func(c *echo.Context) error {
		open <- struct{}{}
		<-hold
		return c.NoContent(200)
	})
	e.GET("/projects", func(c *echo.Context) error { return c.NoContent(200) })
	e.IPExtractor = echo.ExtractIPFromXFFHeader()
	ask := func(path, from string) int {
		r := httptest.NewRequest("GET", path, nil)
		r.RemoteAddr = "127.0.0.1:1"
		r.Header.Set("X-Forwarded-For", from)
		w := httptest.NewRecorder()
		e.ServeHTTP(w, r)
		if w.Code == http.StatusTooManyRequests && w.Header().Get("Retry-After") == "" {
			t.Error("it does not say when to come again")
		}
		return w.Code
	}
	done := make(chan int, 2)
	for range 2 {
		go func() { done <- ask("/documents/1/events", "203.0.113.7") }()
		<-open
	}
	if code := ask("/documents/1/events", "203.0.113.7"); code != http.StatusTooManyRequests {
		t.Errorf("a third stream: %d", code)
	}
	close(hold)
	if a, b := <-done, <-done; a != 200 || b != 200 {
		t.Errorf("%d, %d", a, b)
	}
	for i, want := range []int{200, 200, 429} {
		if code := ask("/projects", "203.0.113.7"); code != want {
			t.Errorf("request %d: %d, want %d", i, code, want)
		}
	}
	if code := ask("/projects", "203.0.113.8"); code != 200 {
		t.Errorf("somebody else: %d", code)
	}
}
