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

func (b *Bench) run(c *echo.Context) error {
	o, err := b.OpenNow(c)
	if err != nil {
		return err
	}
	r, err := desk.ReadBody[editRequest](c)
	if err != nil {
		return err
	}
	if r.Base != o.Row.Revision {
		return store.ErrStale
	}
	w, err := b.Queue.Run(c.Request().Context(), o.Ref(), r.Base, desk.Who(c))
	if err != nil {
		return err
	}
	return desk.Begun(c, w)
}

// events streams the progress of a work until it is over.
func (b *Bench) events(c *echo.Context) error {
	n, err := desk.ID(c)
	if err != nil {
		return err
	}
	ctx := c.Request().Context()
	if _, err := b.Store.Work(ctx, n); err != nil {
		return err
	}
	res := c.Response()
	flush := http.NewResponseController(res)
	res.Header().Set("Content-Type", "text/event-stream")
	res.Header().Set("Cache-Control", "no-store")
	for {
		w, err := b.Store.Work(ctx, n)
		if err != nil {
			return nil // the browser reconnects
		}
		line, err := json.Marshal(w)
		if err != nil {
			return err
		}
		fmt.Fprintf(res, "data: %s\n\n", line)
		if err := flush.Flush(); err != nil {
			return nil // the browser went away
		}
		if w.Over() {
			return nil
		}
		select {
		case <-ctx.Done():
			return nil
		case <-b.Stopping:
			return nil
		case <-time.After(200 * time.Millisecond):
		}
	}
}

func (b *Bench) cancel(c *echo.Context) error {
	n, err := desk.ID(c)
	if err != nil {
		return err
	}
	if err := b.Queue.Cancel(c.Request().Context(), n); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}
