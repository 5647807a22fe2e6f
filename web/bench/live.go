package bench

import (
	"errors"
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/lay"
	"morvek/web/desk"
	"morvek/web/wire"
	"morvek/workspace"
)

// live makes an edit as a dry run and sends what shells look like on their way, a line
// of JSON each, then the ghost of the result. It ends when the browser lets go of it.
func (b *Bench) live(c *echo.Context) error {
	o, err := b.Open(c)
	if err != nil {
		return err
	}
	_, e, err := readEdit(c)
	if err != nil {
		return err
	}
	w, ok := e.(edit.Live)
	if !ok {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "this edit is done at once; there is nothing to watch")
	}
	send := desk.Lines(c)
	w.Watch(func(f lay.Frame) {
		v := wire.Frame{Iteration: f.Iteration, Said: f.Said, Corners: []int32{}, UV: []float32{}}
		for i, h := range f.Corners {
			v.Corners = append(v.Corners, int32(h))
			v.UV = append(v.UV, float32(f.UV[i].X), float32(f.UV[i].Y))
		}
		send(map[string]any{"frame": v})
	})
	ctx := c.Request().Context()
	v, err := dryRun(ctx, o.Doc, w)
	switch {
	case ctx.Err() != nil:
		return ctx.Err()
	case errors.Is(err, document.ErrRefused):
		send(map[string]string{"error": workspace.Words(err)})
		return nil
	case err != nil:
		return err
	}
	send(map[string]any{"ghost": v})
	return nil
}
