package bench

import (
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/core/proof"
	"morvek/web/wire"
)

// mostWorst is how many of the worst places are listed.
const mostWorst = 10

// field answers with the iso-lines and the worst places of ?of, something that is measured of every face.
func (b *Bench) field(c *echo.Context) error {
	o, err := b.Open(c)
	if err != nil {
		return err
	}
	of := proof.Measured(c.QueryParam("of"))
	var exposure []float32
	if of == proof.OfExposure {
		if exposure, _, err = b.Docs.Exposure(c.Request().Context(), o); err != nil {
			return err
		}
	}
	f, ok := o.Proof().Field(o.Doc.Mesh, of, exposure)
	if !ok {
		return echo.NewHTTPError(http.StatusNotFound, "this is not measured, or not yet")
	}
	c.Response().Header().Set("Cache-Control", "no-store")
	return c.JSON(http.StatusOK, wire.NewField(f, o.Doc.State, mostWorst))
}
