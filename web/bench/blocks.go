package bench

import (
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/web/desk"
	"morvek/web/wire"
)

func (b *Bench) meta(c *echo.Context) error {
	o, err := b.Open(c)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, wire.NewMeta(o))
}

func (b *Bench) meshBlock(c *echo.Context) error {
	o, err := b.Open(c)
	if err != nil {
		return err
	}
	c.Response().Header().Set("Cache-Control", "private, max-age=31536000, immutable") // the address carries the hash
	return c.Blob(http.StatusOK, "application/octet-stream", wire.Mesh(o.Doc.Mesh))
}

func (b *Bench) layoutBlock(c *echo.Context) error {
	o, err := b.Open(c)
	if err != nil {
		return err
	}
	c.Response().Header().Set("Cache-Control", "no-store")
	return c.Blob(http.StatusOK, "application/octet-stream", wire.Layout(o))
}

// imagesBlock hands out which faces and edges are each other's image in the plane of the model.
func (b *Bench) imagesBlock(c *echo.Context) error {
	o, err := b.Open(c)
	if err != nil {
		return err
	}
	im, ok := o.Doc.Images()
	if !ok {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "this model has no mirrored halves: less than nine tenths of it have an image in any plane")
	}
	c.Response().Header().Set("Cache-Control", "no-store")
	return c.Blob(http.StatusOK, "application/octet-stream", wire.Images(im.Face, im.Edge))
}

// look queues looking at every face from all sides, unless that was done before.
func (b *Bench) look(c *echo.Context) error {
	o, err := b.Open(c)
	if err != nil {
		return err
	}
	ctx := c.Request().Context()
	if _, known, err := b.Docs.Exposure(ctx, o); err != nil || known {
		return ready(c, err)
	}
	w, err := b.Queue.Look(ctx, o.Row.ID, desk.Who(c))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusAccepted, map[string]int64{"work": w})
}

func ready(c *echo.Context, err error) error {
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, map[string]bool{"ready": true})
}

// exposureBlock hands out the exposure of each face, 0 hidden to 1 open.
func (b *Bench) exposureBlock(c *echo.Context) error {
	o, err := b.Open(c)
	if err != nil {
		return err
	}
	v, known, err := b.Docs.Exposure(c.Request().Context(), o)
	if err != nil {
		return err
	}
	if !known {
		return echo.NewHTTPError(http.StatusNotFound, "nobody has looked at this model from these sides yet; ask for it first")
	}
	c.Response().Header().Set("Cache-Control", "no-store")
	return c.Blob(http.StatusOK, "application/octet-stream", wire.Exposure(v))
}
