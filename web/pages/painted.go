package pages

import (
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/exchange"
	"morvek/store"
	"morvek/web/desk"
	"morvek/workspace"
)

// painted lists what was painted on the map that is asked for.
func (p *Pages) painted(c *echo.Context) error {
	o, err := p.Open(c)
	if err != nil {
		return err
	}
	list, err := p.Store.Pictures(c.Request().Context(), o.Row.ID, int32(o.Doc.State.Shown.ID))
	if err != nil {
		return err
	}
	v := paintedView{Pictures: list}
	if p.Exchange != nil {
		v.Sends, v.Trouble, v.Sent = true, p.Exchange.Trouble(o.Ref()), p.Exchange.Sent(o.Ref())
	}
	return c.JSON(http.StatusOK, v)
}

// paintedView is what was painted on a map, and how sheets go to be painted.
type paintedView struct {
	Pictures []store.Picture `json:"pictures"`
	Sends    bool            `json:"sends"`             // there is a folder for that
	Sent     string          `json:"sent,omitempty"`    // the folder of this sheet
	Trouble  string          `json:"trouble,omitempty"` // with what was painted there last
}

// send puts what a work made into the folder where it is painted.
func (p *Pages) send(c *echo.Context) error {
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	if p.Exchange == nil {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "there is no folder for sheets that are painted; start the server with --exchange")
	}
	ctx := c.Request().Context()
	d, err := p.Store.DeliveryOf(ctx, id)
	if err != nil {
		return err
	}
	order, err := asked(d)
	if err != nil {
		return err
	}
	if len(order.Maps) != 1 {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "one map at a time can be painted")
	}
	o, err := p.Docs.Through(ctx, workspace.Ref{Document: d.DocumentID, Map: order.Maps[0]})
	if err != nil {
		return err
	}
	_, data, err := p.Store.Delivery(ctx, d.ID)
	if err != nil {
		return err
	}
	set := o.Doc.State.Settings.Sheet
	s := exchange.Sheet{Document: d.DocumentID, Map: int32(order.Maps[0]), Title: o.Row.Title + ", " + o.Doc.State.Shown.Name, Tiles: set.Tiles, Wide: set.Wide, Revision: d.Revision}
	name, err := p.Exchange.Put(s, data)
	if err != nil {
		p.Log.Error("sending a sheet", "err", err)
		return echo.NewHTTPError(http.StatusInsufficientStorage, "the sheet could not be written into the exchange folder; is there room, and may it be written to?")
	}
	return c.JSON(http.StatusOK, map[string]string{"sheet": name})
}

// paint takes a picture that was painted.
func (p *Pages) paint(c *echo.Context) error {
	kept, err := p.TakePainted(c)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, kept)
}

// unpaint takes a picture away.
func (p *Pages) unpaint(c *echo.Context) error {
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	n, err := desk.Number(c, "picture")
	if err != nil {
		return err
	}
	if err := p.Store.DropPicture(c.Request().Context(), id, n); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

// paintedPicture hands a picture out; one of a number never changes.
func (p *Pages) paintedPicture(c *echo.Context) error {
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	pic, data, err := p.Store.Picture(c.Request().Context(), id)
	if err != nil {
		return err
	}
	return desk.Forever(c, pic.Media, data)
}
