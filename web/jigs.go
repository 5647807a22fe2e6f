package web

import (
	"encoding/json"
	"net/http"
	"strconv"
	"strings"

	"github.com/labstack/echo/v4"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/unroll"
	"morvek/store"
)

// jigs lists the jigs of the project a document belongs to.
func (s *Server) jigs(c echo.Context) error {
	o, err := s.open(c)
	if err != nil {
		return err
	}
	list, err := s.store.Jigs(c.Request().Context(), o.Row.ProjectID)
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
func (s *Server) keepJig(c echo.Context) error {
	o, err := s.open(c)
	if err != nil {
		return err
	}
	r, err := readBody[struct {
		Name       string            `json:"name"`
		Projection unroll.Projection `json:"projection"`
	}](c)
	if err != nil {
		return err
	}
	r.Name = strings.TrimSpace(r.Name)
	if r.Name == "" || len(r.Name) > 80 {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "a jig needs a name of 1 to 80 letters")
	}
	r.Projection.Origin = r3.Vec{}
	if err := r.Projection.Check(); err != nil {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, err.Error())
	}
	b, err := json.Marshal(r.Projection)
	if err != nil {
		return err
	}
	id, err := s.store.KeepJig(c.Request().Context(), o.Row.ProjectID, r.Name, b)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusCreated, map[string]int64{"id": id})
}

func (s *Server) dropJig(c echo.Context) error {
	o, err := s.open(c)
	if err != nil {
		return err
	}
	n, err := strconv.ParseInt(c.Param("jig"), 10, 64)
	if err != nil {
		return store.ErrNotFound
	}
	if err := s.store.DropJig(c.Request().Context(), o.Row.ProjectID, n); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}
