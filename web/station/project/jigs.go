package project

import (
	"encoding/json"
	"net/http"
	"strconv"
	"strings"

	"github.com/labstack/echo/v5"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/unroll"
	"morvek/store"
	"morvek/web/desk"
)

// jigs lists the jigs of the project a document belongs to.
func (r room) jigs(c *echo.Context) error {
	o, err := r.Open(c)
	if err != nil {
		return err
	}
	list, err := r.Store.Jigs(c.Request().Context(), o.Row.ProjectID)
	if err != nil {
		return err
	}
	type jig struct {
		ID         int64           `json:"id"`
		Name       string          `json:"name"`
		Projection json.RawMessage `json:"projection"`
	}
	out := []jig{}
	for _, j := range list {
		out = append(out, jig{j.ID, j.Name, j.Projection})
	}
	return c.JSON(http.StatusOK, out)
}

// keepJig stores a projection without its place.
func (r room) keepJig(c *echo.Context) error {
	o, err := r.Open(c)
	if err != nil {
		return err
	}
	body, err := desk.ReadBody[struct {
		Name       string            `json:"name"`
		Projection unroll.Projection `json:"projection"`
	}](c)
	if err != nil {
		return err
	}
	body.Name = strings.TrimSpace(body.Name)
	if body.Name == "" || len(body.Name) > 80 {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "a jig needs a name of 1 to 80 letters")
	}
	body.Projection.Origin = r3.Vec{}
	if err := body.Projection.Check(); err != nil {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, err.Error())
	}
	b, err := json.Marshal(body.Projection)
	if err != nil {
		return err
	}
	id, err := r.Store.KeepJig(c.Request().Context(), o.Row.ProjectID, body.Name, b)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusCreated, map[string]int64{"id": id})
}

func (r room) dropJig(c *echo.Context) error {
	o, err := r.Open(c)
	if err != nil {
		return err
	}
	n, err := strconv.ParseInt(c.Param("jig"), 10, 64)
	if err != nil {
		return store.ErrNotFound
	}
	if err := r.Store.DropJig(c.Request().Context(), o.Row.ProjectID, n); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}
