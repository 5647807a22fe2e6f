package pages

import (
	"fmt"
	"io"
	"net/http"
	"strconv"
	"strings"
	"unicode/utf8"

	"github.com/labstack/echo/v5"

	"morvek/core/picture"
	"morvek/web/desk"
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
	return c.JSON(http.StatusOK, list)
}

// paint takes a picture that was painted, as the body of the request; ?tile=1 for the second tile,
// ?name= what it is called.
func (p *Pages) paint(c *echo.Context) error {
	o, err := p.Open(c)
	if err != nil {
		return err
	}
	tile := 0
	if q := c.QueryParam("tile"); q != "" {
		if tile, err = strconv.Atoi(q); err != nil {
			return echo.NewHTTPError(http.StatusBadRequest, "a tile is a number from 0")
		}
	}
	data, err := io.ReadAll(http.MaxBytesReader(c.Response(), c.Request().Body, picture.MostBytes))
	if err != nil {
		return echo.NewHTTPError(http.StatusRequestEntityTooLarge, fmt.Sprintf("the picture is larger than %d MB, or the upload broke off", picture.MostBytes>>20))
	}
	name := c.QueryParam("name")
	if !utf8.ValidString(name) || strings.ContainsRune(name, 0) || len(name) > 200 || name == "" {
		name = "picture"
	}
	kept, _, err := p.Docs.Paint(c.Request().Context(), o, tile, name, data)
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
	n, err := strconv.ParseInt(c.Param("picture"), 10, 64)
	if err != nil {
		return echo.NewHTTPError(http.StatusBadRequest, "a picture is a number")
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
	c.Response().Header().Set("Cache-Control", "private, max-age=31536000, immutable")
	return c.Blob(http.StatusOK, pic.Media, data)
}
