package bench

import (
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/web/desk"
	"morvek/web/wire"
	"morvek/workspace"
)

// answerChange answers a change of the revision base, which the browser saw through the map
// that it told, with what it led to.
func (b *Bench) answerChange(c *echo.Context, base int64, now *workspace.Opened, with *wire.Shown) error {
	if with == nil {
		return c.JSON(http.StatusOK, wire.Answer{Meta: wire.NewMeta(now)})
	}
	ctx := c.Request().Context()
	was, by, ok := now.Since()
	if from, err := desk.Ref(c); !ok || err != nil || was.Row.Revision != base || from.Map != 0 && from.Map != now.Doc.State.Shown.ID {
		was = nil // it knows something else
	}
	var a wire.Answer
	if was != nil {
		if p, ok := wire.NewPatch(was, now, by); ok {
			a.Meta, a.Patch = wire.Brief(now), &p
		}
	}
	if a.Patch == nil { // the unit may be another one too: the card is told anew as well
		a.Meta, was = wire.NewMeta(now), nil
	}
	card, err := b.newCardPatch(was, now)
	if err != nil {
		return err
	}
	a.Card = &card
	if a.Tray, err = b.trayText(ctx, now, with); err != nil {
		return err
	}
	if with.Worklog {
		if a.Worklog, err = b.worklogText(c, now); err != nil {
			return err
		}
	}
	return c.JSON(http.StatusOK, a)
}
