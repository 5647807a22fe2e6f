package desk

import (
	"fmt"
	"io"
	"net/http"
	"strconv"
	"strings"
	"unicode/utf8"

	"github.com/labstack/echo/v5"

	"morvek/core/picture"
	"morvek/store"
)

// TakePainted takes a picture that was painted on the map that is asked for, as the body of the request;
// ?tile=1 for the second tile, ?name= what it is called.
func (d *Desk) TakePainted(c *echo.Context) (kept store.Picture, err error) {
	o, err := d.OpenNow(c)
	if err != nil {
		return kept, err
	}
	tile := 0
	if q := c.QueryParam("tile"); q != "" {
		if tile, err = strconv.Atoi(q); err != nil {
			return kept, echo.NewHTTPError(http.StatusBadRequest, "a tile is a number from 0")
		}
	}
	data, err := PictureBody(c)
	if err != nil {
		return kept, err
	}
	name := c.QueryParam("name")
	if !utf8.ValidString(name) || strings.ContainsRune(name, 0) || len(name) > 200 || name == "" {
		name = "picture"
	}
	return d.Docs.Paint(c.Request().Context(), o, tile, name, data)
}

// PictureBody reads a picture that comes as the body of a request.
func PictureBody(c *echo.Context) ([]byte, error) {
	data, err := io.ReadAll(http.MaxBytesReader(c.Response(), c.Request().Body, picture.MostBytes))
	if err != nil {
		return nil, echo.NewHTTPError(http.StatusRequestEntityTooLarge, fmt.Sprintf("the picture is larger than %d MB, or the upload broke off", picture.MostBytes>>20))
	}
	return data, nil
}
