package bench

import (
	"context"
	"net/http"
	"strconv"

	"github.com/labstack/echo/v5"

	"morvek/core/document"
	"morvek/web/wire"
	"morvek/workspace"
)

func (b *Bench) tray(c *echo.Context) error {
	o, err := b.Open(c)
	if err != nil {
		return err
	}
	part, err := strconv.Atoi(c.QueryParam("part"))
	if err != nil {
		part = -1
	}
	text, err := b.trayText(c.Request().Context(), o, &wire.Shown{Station: c.QueryParam("station"), Part: part})
	if err != nil {
		return err
	}
	return c.HTML(http.StatusOK, text)
}

// trayText is the tray of the station that is shown, the first for one that nobody knows.
func (b *Bench) trayText(ctx context.Context, o *workspace.Opened, with *wire.Shown) (string, error) {
	part := document.PartID(with.Part)
	if part < 0 || int(part) >= len(o.Doc.State.Parts) {
		part = document.NoPart
	}
	at := b.Stations[0]
	for _, s := range b.Stations {
		if s.Name == with.Station {
			at = s
		}
	}
	v, err := at.Tray(ctx, o, part)
	if err != nil {
		return "", err
	}
	return b.Text(at.Template(), v)
}
