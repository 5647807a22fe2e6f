package bench

import (
	"encoding/json"
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/core/edit"
	"morvek/store"
	"morvek/web/desk"
	"morvek/web/wire"
	"morvek/workspace"
)

type editRequest struct {
	Base  int64           `json:"base"`
	Edit  json.RawMessage `json:"edit"`
	Key   string          `json:"key,omitempty"`   // of the edit: sent again, it is made once
	Shown *wire.Shown     `json:"shown,omitempty"` // what comes along with the answer; none: all is told
	Offer bool            `json:"offer,omitempty"` // nobody asked for it: a refusal is an answer like others
}

// readEdit reads an edit and what comes with it.
func readEdit(c *echo.Context) (r editRequest, e edit.Edit, err error) {
	if r, err = desk.ReadBody[editRequest](c); err != nil {
		return r, nil, err
	}
	e, err = edit.Decode(r.Edit)
	return r, e, err
}

func (b *Bench) edit(c *echo.Context) error {
	to, err := desk.Changing(c)
	if err != nil {
		return err
	}
	r, err := desk.ReadBody[editRequest](c)
	if err != nil {
		return err
	}
	if err := b.Fresh(c.Request().Context(), to.Document, r.Base, r.Key); err != nil {
		return err
	}
	e, err := edit.Decode(r.Edit)
	if err != nil {
		return err
	}
	made, err := b.Make(c.Request().Context(), to, r.Base, store.By{Key: r.Key, Who: desk.Who(c)}, e)
	switch {
	case err != nil:
		return err
	case made.Work != 0:
		return desk.Begun(c, made.Work)
	case made.Before:
		return c.JSON(http.StatusOK, wire.Answer{Meta: wire.NewMeta(made.Now)})
	}
	return b.answerChange(c, r.Base, made.Now, r.Shown)
}

func (b *Bench) undo(c *echo.Context) error { return b.step(c, true) }
func (b *Bench) redo(c *echo.Context) error { return b.step(c, false) }

func (b *Bench) step(c *echo.Context, back bool) error {
	from, err := desk.Changing(c)
	if err != nil {
		return err
	}
	r, err := desk.ReadBody[editRequest](c)
	if err != nil {
		return err
	}
	o, err := b.Docs.Step(c.Request().Context(), from.Document, r.Base, desk.Who(c), back)
	if err != nil {
		return err
	}
	if seen, err := o.Through(from.Map); err == nil && !movedShells(o) { // what changed is seen from where one looks
		o = seen
	}
	return b.answerChange(c, r.Base, o, r.Shown)
}

// movedShells tells whether a document differs from the revision before in the map it is seen
// through.
func movedShells(o *workspace.Opened) bool {
	_, by, ok := o.Since()
	return !ok || !by.Map.Empty() || by.Shown != nil
}
