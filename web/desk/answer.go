package desk

import (
	"fmt"
	"net/http"

	"github.com/labstack/echo/v5"
)

// Begun answers with the number of a work that was queued.
func Begun(c *echo.Context, work int64) error {
	return c.JSON(http.StatusAccepted, map[string]int64{"work": work})
}

// Attach says that what comes is a file to be kept, and what it is called.
func Attach(c *echo.Context, name string) {
	c.Response().Header().Set("Content-Disposition", fmt.Sprintf("attachment; filename=%q", name))
}

// Forever answers with a picture that never changes.
func Forever(c *echo.Context, media string, data []byte) error {
	c.Response().Header().Set("Cache-Control", "private, max-age=31536000, immutable")
	return c.Blob(http.StatusOK, media, data)
}

// Delivery answers with a delivery as a file.
func (d *Desk) Delivery(c *echo.Context, id int64) error {
	made, data, err := d.Store.Delivery(c.Request().Context(), id)
	if err != nil {
		return err
	}
	Attach(c, made.FileName)
	return c.Blob(http.StatusOK, "application/zip", data)
}
