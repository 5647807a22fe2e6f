package web

import (
	"errors"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"regexp"
	"strings"
	"testing"

	"github.com/labstack/echo/v5"
)

func TestTheRequestLogHasOneLineForEachRequest(t *testing.T) {
	said := func(level slog.Level, path string) string {
		var out strings.Builder
		e := echo.New()
		e.Use(requestLog(slog.New(slog.NewTextHandler(&out, &slog.HandlerOptions{Level: level}))))
		e.GET("/works", func(c *echo.Context) error { return c.String(http.StatusOK, "done") })
		e.GET("/fails", func(*echo.Context) error { return errors.New("no") })
		e.GET("/static/*", func(c *echo.Context) error { return c.String(http.StatusOK, "a file") })
		e.ServeHTTP(httptest.NewRecorder(), httptest.NewRequest(http.MethodGet, path, nil))
		return out.String()
	}
	for _, c := range []struct {
		level      slog.Level
		path, want string
	}{
		{slog.LevelInfo, "/works", `method=GET path=/works status=200 bytes=4 took=\S+\n$`},
		{slog.LevelInfo, "/fails", `path=/fails status=500 `},
		{slog.LevelInfo, "/static/app.js", `^$`},
		{slog.LevelDebug, "/static/app.js", `path=/static/app.js status=200`},
		{slog.LevelWarn, "/works", `^$`},
	} {
		if got := said(c.level, c.path); !regexp.MustCompile(c.want).MatchString(got) || strings.Count(got, "\n") > 1 {
			t.Errorf("at %v, %s: %q", c.level, c.path, got)
		}
	}
}
