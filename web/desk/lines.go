package desk

import (
	"encoding/json"
	"net/http"
	"sync"

	"github.com/labstack/echo/v5"
)

// Lines begins an answer that is sent as it comes to be, a line of JSON each; what it returns sends
// one, from any goroutine.
func Lines(c *echo.Context) func(v any) {
	res := c.Response()
	flush := http.NewResponseController(res)
	res.Header().Set("Content-Type", "application/x-ndjson")
	res.Header().Set("Cache-Control", "no-store")
	var mu sync.Mutex
	return func(v any) {
		b, err := json.Marshal(v)
		if err != nil {
			return
		}
		mu.Lock()
		defer mu.Unlock()
		_, _ = res.Write(append(b, '\n')) // a browser that went away ends the context
		_ = flush.Flush()
	}
}
