package desk

import (
	"encoding/json"
	"errors"
	"net/http"
	"sync"

	"github.com/labstack/echo/v5"

	"morvek/core/document"
	"morvek/workspace"
)

// Lines answers with what comes to be, a line of JSON each; send may be called from any goroutine. What
// do refuses is the last line. It ends when the browser lets go of it.
func Lines(c *echo.Context, do func(send func(v any)) error) error {
	res := c.Response()
	flush := http.NewResponseController(res)
	res.Header().Set("Content-Type", "application/x-ndjson")
	res.Header().Set("Cache-Control", "no-store")
	var mu sync.Mutex
	send := func(v any) {
		b, err := json.Marshal(v)
		if err != nil {
			return
		}
		mu.Lock()
		defer mu.Unlock()
		_, _ = res.Write(append(b, '\n')) // a browser that went away ends the context
		_ = flush.Flush()
	}
	err := do(send)
	switch ctx := c.Request().Context(); {
	case ctx.Err() != nil:
		return ctx.Err()
	case errors.Is(err, document.ErrRefused):
		send(map[string]string{"error": workspace.Words(err)})
		return nil
	}
	return err
}
