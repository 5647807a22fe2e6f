package web

import (
	"log/slog"
	"time"

	"github.com/labstack/echo/v5"

	"morvek/web/desk"
	"morvek/web/ops"
)

// logged is what is asked for; what lets somebody in stays a secret.
func logged(c *echo.Context) string {
	if c.Path() == "/invitations/:secret" {
		return c.Path()
	}
	return c.Request().URL.Path
}

// requestLog writes a line for each request that was answered: at info what was asked of a
// document or a page, at debug the files of the page too.
func requestLog(log *slog.Logger) echo.MiddlewareFunc {
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			level := slog.LevelInfo
			if c.Path() == "/static/*" {
				level = slog.LevelDebug
			}
			ctx := c.Request().Context()
			if !log.Enabled(ctx, level) {
				return next(c)
			}
			from := time.Now()
			if err := next(c); err != nil {
				c.Echo().HTTPErrorHandler(c, err) // answered here, so that the line has its status
			}
			res, err := echo.UnwrapResponse(c.Response())
			if err != nil {
				return err
			}
			log.LogAttrs(ctx, level, "request", slog.String("method", c.Request().Method), slog.String("path", logged(c)), slog.String("request", ops.NumberOf(c)), slog.String("who", desk.Who(c)),
				slog.Int("status", res.Status), slog.Int64("bytes", res.Size), slog.Duration("took", time.Since(from).Round(10*time.Microsecond)))
			return nil
		}
	}
}
