package bench

import (
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/core/edit"
	"morvek/core/lay"
	"morvek/web/desk"
	"morvek/web/wire"
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
	return desk.Lines(c, func(send func(any)) error {
		w.Watch(func(f lay.Frame) {
			v := wire.Frame{Iteration: f.Iteration, Said: f.Said, Corners: []int32{}, UV: []float32{}}
			for i, h := range f.Corners {
				v.Corners = append(v.Corners, int32(h))
				v.UV = append(v.UV, float32(f.UV[i].X), float32(f.UV[i].Y))
			}
			send(map[string]any{"frame": v})
		})
		v, err := dryRun(c.Request().Context(), o.Doc, w)
		if err == nil {
			send(map[string]any{"ghost": v})
		}
		return err
	})
}
