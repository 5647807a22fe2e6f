package pages

import (
	"net/http"
	"strings"
	"unicode/utf8"

	"github.com/labstack/echo/v5"

	"morvek/core/picture"
	"morvek/store"
	"morvek/web/desk"
)

// cloths lists the pictures of a project that are laid on models.
func (p *Pages) cloths(c *echo.Context) error {
	o, err := p.Open(c)
	if err != nil {
		return err
	}
	list, err := p.Store.Cloths(c.Request().Context(), o.Row.ProjectID)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, list)
}

// longestClothName bounds the name of a picture, in letters.
const longestClothName = 40

// keepCloth takes a picture as the body of the request; ?name= is what it is called.
func (p *Pages) keepCloth(c *echo.Context) error {
	o, err := p.Open(c)
	if err != nil {
		return err
	}
	name := strings.TrimSpace(c.QueryParam("name"))
	if n := utf8.RuneCountInString(name); n < 1 || n > longestClothName || !utf8.ValidString(name) || strings.ContainsFunc(name, func(r rune) bool { return r < ' ' }) {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "a picture needs a name of 1 to 40 letters")
	}
	data, err := desk.PictureBody(c)
	if err != nil {
		return err
	}
	k, err := picture.Check(data)
	if err != nil {
		return err
	}
	kept, err := p.Store.KeepCloth(c.Request().Context(), o.Row.ProjectID, store.Cloth{Name: name, Media: k.Media(), Width: k.Width, Height: k.Height}, data)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, kept)
}

func (p *Pages) dropCloth(c *echo.Context) error {
	o, err := p.Open(c)
	if err != nil {
		return err
	}
	n, err := desk.Number(c, "cloth")
	if err != nil {
		return err
	}
	if err := p.Store.DropCloth(c.Request().Context(), o.Row.ProjectID, n); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

// cloth hands a picture out; one of a number never changes.
func (p *Pages) cloth(c *echo.Context) error {
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	k, data, err := p.Store.Cloth(c.Request().Context(), id)
	if err != nil {
		return err
	}
	return desk.Forever(c, k.Media, data)
}
