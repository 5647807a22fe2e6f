package web

import (
	"errors"
	"net/http"
	"strings"

	"github.com/labstack/echo/v5"

	"morvek/core/document"
	"morvek/jobs"
	"morvek/store"
	"morvek/web/desk"
	"morvek/web/gate"
	"morvek/web/ops"
	"morvek/workspace"
)

type problem struct {
	Error    string `json:"error"`
	Revision int64  `json:"revision,omitempty"` // the newer one, when stale
	Request  string `json:"request,omitempty"`  // its number in the log, when it is our fault

	Stale bool `json:"stale,omitempty"` // it was meant for an earlier revision

	Sealed document.MapID `json:"sealed,omitempty"` // the map, when that is why
}

// fail answers errors with a sentence and the status that fits.
func fail(d *desk.Desk) echo.HTTPErrorHandler {
	return func(c *echo.Context, err error) {
		if committed(c) {
			return
		}
		code, text := said(d, c, err)
		p := problem{Error: text, Stale: errors.Is(err, store.ErrStale)}
		var sealed *document.Sealed
		if errors.As(err, &sealed) {
			p.Sealed = sealed.Map.ID
		}
		if code >= http.StatusInternalServerError {
			p.Request = ops.NumberOf(c)
		}
		if id, err := desk.ID(c); err == nil && code == http.StatusConflict {
			if row, err := d.Store.Document(c.Request().Context(), id); err == nil {
				p.Revision = row.Revision
			}
		}
		if code == http.StatusUnauthorized {
			if page(c) {
				_ = c.Redirect(http.StatusSeeOther, gate.SignInPage(c.Request().URL))
				return
			}
			if errors.Is(err, desk.ErrSignIn) {
				p.Error = "you are not signed in, or not any more; sign in in another tab of this browser, then go on here"
			}
			c.Response().Header().Set("WWW-Authenticate", `Bearer realm="Morvek"`)
		}
		if strings.Contains(c.Request().Header.Get("Accept"), "text/html") && c.Request().Header.Get("HX-Request") == "" {
			_ = c.Render(code, "error.html", text)
			return
		}
		_ = c.JSON(code, p)
	}
}

// page tells whether somebody follows a link to a page.
func page(c *echo.Context) bool {
	r := c.Request()
	return r.Method == http.MethodGet && strings.Contains(r.Header.Get("Accept"), "text/html") && r.Header.Get("HX-Request") == ""
}

// said is the status and the sentence of an error; what nobody foresaw is logged.
func said(d *desk.Desk, c *echo.Context, err error) (code int, text string) {
	code, text = http.StatusInternalServerError, workspace.Words(err)
	var he *echo.HTTPError
	switch {
	case errors.As(err, &he):
		return he.Code, he.Message
	case errors.Is(err, store.ErrNotFound):
		code = http.StatusNotFound
	case errors.Is(err, workspace.ErrNoMap):
		code = http.StatusGone
	case errors.Is(err, jobs.ErrMany):
		code, text = http.StatusTooManyRequests, jobs.ErrMany.Error()
	case store.Full(err):
		code = http.StatusInsufficientStorage
		d.Log.Error("the database is full", "request", ops.NumberOf(c), "err", err)
	case errors.Is(err, store.ErrStale), errors.Is(err, store.ErrBusy):
		code = http.StatusConflict
	case errors.Is(err, document.ErrRefused), errors.Is(err, store.ErrNothing), errors.Is(err, store.ErrLastOwner):
		code = http.StatusUnprocessableEntity
	case c.Request().Context().Err() != nil: // we are stopping, or the browser went away
		return http.StatusServiceUnavailable, "this was cut off before it was done; load the page again to see what is stored"
	case store.Away(err):
		code = http.StatusServiceUnavailable
	case echo.StatusCode(err) != 0: // nothing answers there
		code = echo.StatusCode(err)
		text = http.StatusText(code)
	default:
		d.Log.Error("request failed", "request", ops.NumberOf(c), "path", logged(c), "err", err)
	}
	return code, text
}

// committed tells whether an answer is on its way.
func committed(c *echo.Context) bool {
	r, err := echo.UnwrapResponse(c.Response())
	return err == nil && r.Committed
}
