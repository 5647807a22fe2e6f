package bench

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"

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
	ctx, end := context.WithCancel(ctx)
	defer end()
	if b.Stopping != nil {
		go func() {
			select {
			case <-b.Stopping:
				end()
			case <-ctx.Done():
			}
		}()
	}
	res := c.Response()
	flush := http.NewResponseController(res)
	begun := false
	err = b.Docs.WatchWork(ctx, n, func(w store.Work) bool {
		if !begun {
			res.Header().Set("Content-Type", "text/event-stream")
			res.Header().Set("Cache-Control", "no-store")
			begun = true
		}
		line, err := json.Marshal(w)
		if err != nil {
			return false
		}
		fmt.Fprintf(res, "data: %s\n\n", line)
		return flush.Flush() == nil // else the browser went away
	})
	if begun {
		return nil // the browser connects again where it broke off
	}
	return err
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
