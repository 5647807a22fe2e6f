package bench

import (
	"context"
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/store"
	"morvek/workspace"
)

type worklogView struct {
	Edits []store.Edit
	Head  int
}

func (b *Bench) worklog(c *echo.Context) error {
	o, err := b.Open(c)
	if err != nil {
		return err
	}
	edits, err := b.Store.Worklog(c.Request().Context(), o.Row.ID)
	if err != nil {
		return err
	}
	return c.Render(http.StatusOK, "worklog.html", worklogView{edits, o.Row.Head})
}

func (b *Bench) worklogText(ctx context.Context, o *workspace.Opened) (string, error) {
	edits, err := b.Store.Worklog(ctx, o.Row.ID)
	if err != nil {
		return "", err
	}
	return b.Text("worklog.html", worklogView{edits, o.Row.Head})
}
