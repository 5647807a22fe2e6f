package bench

import (
	"context"
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/core/document"
	"morvek/store"
	"morvek/workspace"
)

type worklogView struct {
	Edits []store.Edit
	Head  int
	ID    int64
	Map   document.MapID // that is shown
}

// Before is how many edits were made before one of them.
func (worklogView) Before(seq int) int { return seq - 1 }

func newWorklogView(edits []store.Edit, o *workspace.Opened) worklogView {
	return worklogView{edits, o.Row.Head, o.Row.ID, o.Doc.State.Shown.ID}
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
	return c.Render(http.StatusOK, "worklog.html", newWorklogView(edits, o))
}

func (b *Bench) worklogText(ctx context.Context, o *workspace.Opened) (string, error) {
	edits, err := b.Store.Worklog(ctx, o.Row.ID)
	if err != nil {
		return "", err
	}
	return b.Text("worklog.html", newWorklogView(edits, o))
}
