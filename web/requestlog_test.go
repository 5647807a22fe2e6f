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

	"morvek/web/ops"
)

func TestTheRequestLogHasOneLineForEachRequest(t *testing.T) {
	said := func(level slog.Level, path string) string {
		var out strings.Builder
		e := echo.New()
		e.Use(ops.Number(false), requestLog(slog.New(slog.NewTextHandler(&out, &slog.HandlerOptions{Level: level}))))
		e.GET("/works", func(c *echo.Context) error { return c.String(http.StatusOK, "done") })
		e.GET("/fails", func(*echo.Context) error { return errors.New("no") })
		e.GET("/invitations/:secret", func(c *echo.Context) error { return c.NoContent(http.StatusOK) })
		e.GET("/static/*", func(c *echo.Context) error { return c.String(http.StatusOK, "a file") })
		e.ServeHTTP(httptest.NewRecorder(), httptest.NewRequest(http.MethodGet, path, nil))
		return out.String()
	}
	for _, c := range []struct {
		level      slog.Level
		path, want string
	}{
		{slog.LevelInfo, "/works", `method=GET path=/works request=[0-9a-f]{16} who="" status=200 bytes=4 took=\S+\n$`},
		{slog.LevelInfo, "/fails", `path=/fails request=[0-9a-f]{16} who="" status=500 `},
		{slog.LevelInfo, "/static/app.js", `^$`},
		{slog.LevelDebug, "/static/app.js", `path=/static/app.js request=[0-9a-f]{16} who="" status=200`},
		{slog.LevelWarn, "/works", `^$`},
		{slog.LevelInfo, "/invitations/lets-somebody-in", `path=/invitations/:secret request=`},
	} {
		if got := said(c.level, c.path); !regexp.MustCompile(c.want).MatchString(got) || strings.Count(got, "\n") > 1 {
			t.Errorf("at %v, %s: %q", c.level, c.path, got)
		}
	}
}
