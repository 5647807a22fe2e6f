package web

import (
	"errors"
	"io"
	"net/http"
	"os"
	"time"

	"github.com/labstack/echo/v5"
)

// How slowly a body may come: it has a while to begin, and then comes this fast at least.
const (
	bodyBegins = 30 * time.Second
	bodyRate   = 32 << 10 // bytes a second
)

// patient gives up on bodies that do not come: each holds a connection, and many of them all.
func patient(begins time.Duration, rate int64) echo.MiddlewareFunc {
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			r := c.Request()
			if r.ContentLength == 0 || r.Body == nil || r.Body == http.NoBody {
				return next(c)
			}
			b := &slowBody{ReadCloser: r.Body, until: http.NewResponseController(c.Response()).SetReadDeadline, from: time.Now(), begins: begins, rate: rate}
			if b.until(b.from.Add(begins)) != nil {
				return next(c) // nobody can be cut off here, as in tests
			}
			r.Body = b
			return next(c)
		}
	}
}

// slowBody moves the time by which a body has to be here on as it comes.
type slowBody struct {
	io.ReadCloser
	until  func(time.Time) error
	from   time.Time
	begins time.Duration
	rate   int64
	read   int64
}

func (b *slowBody) Read(p []byte) (int, error) {
	n, err := b.ReadCloser.Read(p)
	b.read += int64(n)
	switch {
	case errors.Is(err, os.ErrDeadlineExceeded):
		return n, echo.NewHTTPError(http.StatusRequestTimeout, "what was sent comes too slowly; try again on a better line")
	case err != nil: // it is here, or lost: what is computed of it may take its time
		_ = b.until(time.Time{})
	default:
		_ = b.until(b.from.Add(b.begins + time.Duration(b.read/b.rate)*time.Second))
	}
	return n, err
}
