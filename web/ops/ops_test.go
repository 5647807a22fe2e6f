package ops_test

import (
	"context"
	"errors"
	"net/http"
	"net/http/httptest"
	"os"
	"regexp"
	"strings"
	"testing"

	"github.com/labstack/echo/v5"

	"morvek/store"
	"morvek/store/storetest"
	"morvek/web/ops"
)

var (
	db  *store.Store
	url string
)

func TestMain(m *testing.M) {
	os.Exit(storetest.Run(func(s *store.Store, at string) (int, error) { db, url = s, at; return m.Run(), nil }))
}

func get(h http.Handler, path, id string) *httptest.ResponseRecorder {
	r := httptest.NewRequest(http.MethodGet, path, nil)
	r.Header.Set("X-Request-Id", id)
	w := httptest.NewRecorder()
	h.ServeHTTP(w, r)
	return w
}

// What was answered is counted by route, never by what stands in an address.
func TestFigures(t *testing.T) {
	f := ops.NewFigures(db)
	e := echo.New()
	e.Use(ops.Number(false), f.Count(func(c *echo.Context) bool { return c.Path() == "/events" }))
	e.GET("/documents/:id", func(c *echo.Context) error { return c.NoContent(http.StatusOK) })
	e.GET("/fails", func(*echo.Context) error { return errors.New("no") })
	e.GET("/events", func(c *echo.Context) error { return c.NoContent(http.StatusOK) })
	for _, path := range []string{"/documents/1", "/documents/2", "/fails", "/events", "/nowhere/at/all"} {
		if w := get(e, path, ""); !regexp.MustCompile(`^[0-9a-f]{16}$`).MatchString(w.Header().Get("X-Request-Id")) {
			t.Errorf("%s has no number", path)
		}
	}
	page := get(ops.Handler(f, db), "/metrics", "").Body.String()
	for _, want := range []string{
		`morvek_requests_total{method="GET",route="/documents/:id",status="200"} 2`,
		`morvek_requests_total{method="GET",route="/fails",status="500"} 1`,
		`morvek_request_seconds_count{route="/documents/:id"} 2`,
		`morvek_works{state="waiting"} 0`, "morvek_requests_under_way 0", "go_goroutines", "go_sql_open_connections",
	} {
		if !strings.Contains(page, want) {
			t.Errorf("no %s", want)
		}
	}
	if strings.Contains(page, `route="/events"} `) && strings.Contains(page, `seconds_count{route="/events"}`) || strings.Contains(page, "nowhere") {
		t.Error("streams are timed, or addresses counted")
	}
}

func TestHealth(t *testing.T) {
	own, err := store.Open(context.Background(), url)
	if err != nil {
		t.Fatal(err)
	}
	h := ops.Handler(ops.NewFigures(own), own)
	for path, want := range map[string]int{"/healthz": 200, "/readyz": 200} {
		if w := get(h, path, ""); w.Code != want {
			t.Errorf("%s: %d", path, w.Code)
		}
	}
	if err := own.Close(); err != nil {
		t.Fatal(err)
	}
	if w := get(h, "/readyz", ""); w.Code != 503 || get(h, "/healthz", "").Code != 200 {
		t.Errorf("without a database it is ready: %d", w.Code)
	}
}

// The number that a proxy gives stays where there is one, and only if it is one.
func TestNumbers(t *testing.T) {
	for _, c := range []struct {
		proxied  bool
		id, want string
	}{{true, "proxy-number_1", "^proxy-number_1$"}, {false, "proxy-number_1", "^[0-9a-f]{16}$"}, {true, "bad number\n", "^[0-9a-f]{16}$"}, {true, strings.Repeat("a", 65), "^[0-9a-f]{16}$"}} {
		e := echo.New()
		e.Use(ops.Number(c.proxied))
		e.GET("/", func(c *echo.Context) error { return c.NoContent(200) })
		if got := get(e, "/", c.id).Header().Get("X-Request-Id"); !regexp.MustCompile(c.want).MatchString(got) {
			t.Errorf("%+v: %q", c, got)
		}
	}
}
