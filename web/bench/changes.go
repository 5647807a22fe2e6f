package bench

import (
	"encoding/json"
	"fmt"
	"net/http"
	"time"

	"github.com/labstack/echo/v5"

	"morvek/store"
	"morvek/web/desk"
)

// quiet is after what time without a change a stream says that it is there still.
const quiet = 20 * time.Second

// changes streams what others change on a document, until the browser goes away.
func (b *Bench) changes(c *echo.Context) error {
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	ctx := c.Request().Context()
	changes, end := b.Docs.Watch(id) // before looking how it is, so that nothing falls between
	defer end()
	now, err := b.Store.Document(ctx, id)
	if err != nil {
		return err
	}
	res := c.Response()
	flush := http.NewResponseController(res)
	res.Header().Set("Content-Type", "text/event-stream")
	res.Header().Set("Cache-Control", "no-store")
	send := func(told store.Change) error {
		line, err := json.Marshal(told)
		if err != nil {
			return err
		}
		fmt.Fprintf(res, "data: %s\n\n", line)
		return flush.Flush()
	}
	if send(store.Change{Document: id, Revision: now.Revision, Says: now.LastEdit}) != nil {
		return nil // the browser went away
	}
	for {
		select {
		case <-ctx.Done():
			return nil
		case <-b.Stopping:
			return nil
		case told, there := <-changes:
			if !there || send(told) != nil {
				return nil // it asks again
			}
		case <-time.After(quiet):
			fmt.Fprint(res, ": quiet\n\n")
			if flush.Flush() != nil {
				return nil
			}
		}
	}
}
