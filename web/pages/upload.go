package pages

import (
	"errors"
	"fmt"
	"io"
	"net/http"
	"path/filepath"
	"strconv"

	"github.com/labstack/echo/v5"

	"morvek/core/meshio"
	"morvek/web/desk"
)

// upload takes a model in and queues reading it.
func (p *Pages) upload(c *echo.Context) error {
	c.Request().Body = http.MaxBytesReader(c.Response(), c.Request().Body, desk.MaxModel)
	tooLarge := echo.NewHTTPError(http.StatusRequestEntityTooLarge, fmt.Sprintf("the file is larger than %d MB; split the model or bring in fewer objects at a time", desk.MaxModel>>20))
	if c.Request().ContentLength > desk.MaxModel {
		c.Response().Header().Set("Connection", "close") // or the server waits for the body first
		return tooLarge
	}
	mr, err := c.Request().MultipartReader()
	if err != nil {
		return echo.NewHTTPError(http.StatusBadRequest, "no file came along; choose one that ends in "+meshio.Endings(false))
	}
	var name string
	var data []byte
	for {
		part, err := mr.NextPart()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return echo.NewHTTPError(http.StatusBadRequest, "the upload broke off; try again")
		}
		if part.FormName() != "model" {
			continue
		}
		name = filepath.Base(part.FileName())
		if data, err = io.ReadAll(part); err != nil {
			var big *http.MaxBytesError
			if errors.As(err, &big) {
				return tooLarge
			}
			return echo.NewHTTPError(http.StatusBadRequest, "the upload broke off; try again")
		}
	}
	if name == "" {
		return echo.NewHTTPError(http.StatusBadRequest, "no file came along; choose one that ends in "+meshio.Endings(false))
	}
	var into int64
	if q := c.QueryParam("project"); q != "" {
		if into, err = strconv.ParseInt(q, 10, 64); err != nil {
			return echo.NewHTTPError(http.StatusBadRequest, "a project is a number")
		}
	}
	upload, work, err := p.TakeModel(c, into, name, data)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusAccepted, map[string]int64{"upload": upload, "work": work})
}

// uploaded leads to what was made of a file, or to where it is seen how far it is.
func (p *Pages) uploaded(c *echo.Context) error {
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	u, err := p.Store.Upload(c.Request().Context(), id)
	if err != nil {
		return err
	}
	if u.DocumentID == nil {
		return c.Redirect(http.StatusSeeOther, "/projects")
	}
	return c.Redirect(http.StatusSeeOther, fmt.Sprintf("/documents/%d/arrival", *u.DocumentID))
}

// forget drops a file that could not be read or was given up.
func (p *Pages) forget(c *echo.Context) error {
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	if err := p.Store.ForgetUpload(c.Request().Context(), id); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}
