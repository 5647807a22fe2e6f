package project

import (
	"encoding/json"
	"errors"
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

// readJig reads a jig as it is kept: a projection without its place.
func readJig(c *echo.Context) (j store.Jig, err error) {
	body, err := desk.ReadBody[struct {
		Name       string            `json:"name"`
		Projection unroll.Projection `json:"projection"`
	}](c)
	if err != nil {
		return j, err
	}
	if j.Name = strings.TrimSpace(body.Name); j.Name == "" || len(j.Name) > 80 {
		return j, echo.NewHTTPError(http.StatusUnprocessableEntity, "a jig needs a name of 1 to 80 letters")
	}
	body.Projection.Origin = r3.Vec{}
	if err := body.Projection.Check(); err != nil {
		return j, echo.NewHTTPError(http.StatusUnprocessableEntity, err.Error())
	}
	j.Projection, err = json.Marshal(body.Projection)
	return j, err
}

func (r room) keepJig(c *echo.Context) error {
	o, err := r.Open(c)
	if err != nil {
		return err
	}
	j, err := readJig(c)
	if err != nil {
		return err
	}
	id, err := r.Store.KeepJig(c.Request().Context(), o.Row.ProjectID, j.Name, j.Projection)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusCreated, map[string]int64{"id": id})
}

// named is the jig that is asked for, by its number, and the project it is to be of.
func (r room) named(c *echo.Context) (project, id int64, err error) {
	o, err := r.Open(c)
	if err != nil {
		return 0, 0, err
	}
	if id, err = strconv.ParseInt(c.Param("jig"), 10, 64); err != nil {
		return 0, 0, store.ErrNotFound
	}
	return o.Row.ProjectID, id, nil
}

// changeJig gives a jig another name or size.
func (r room) changeJig(c *echo.Context) error {
	project, id, err := r.named(c)
	if err != nil {
		return err
	}
	j, err := readJig(c)
	if err != nil {
		return err
	}
	j.ProjectID, j.ID = project, id
	err = r.Store.ChangeJig(c.Request().Context(), j)
	if errors.Is(err, store.ErrTaken) {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "another jig is called "+j.Name+"; forget that one first or choose another name")
	}
	if err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

func (r room) dropJig(c *echo.Context) error {
	project, id, err := r.named(c)
	if err != nil {
		return err
	}
	if err := r.Store.DropJig(c.Request().Context(), project, id); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}
