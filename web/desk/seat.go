package desk

import (
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/people"
	"morvek/store"
)

// seatKey is where the seat of a request stands.
const seatKey = "seat"

// Sit says who asks.
func Sit(c *echo.Context, who store.Person) { c.Set(seatKey, who) }

// Seated is who asks; false where nobody signs in, or this one has not.
func Seated(c *echo.Context) (store.Person, bool) {
	p, ok := c.Get(seatKey).(store.Person)
	return p, ok
}

// ErrSignIn is the answer to somebody who has to sign in first.
var ErrSignIn = echo.NewHTTPError(http.StatusUnauthorized, "sign in first")

// Allowed refuses whoever asks what his role in a project does not give: as if there were nothing, where he may
// not even look.
func (d *Desk) Allowed(c *echo.Context, right people.Right, project int64) error {
	if d.People == nil { // one seat: whoever is there may do all
		return nil
	}
	who, ok := Seated(c)
	if !ok {
		return ErrSignIn
	}
	role, err := d.Store.RoleOf(c.Request().Context(), who.ID, project)
	if err != nil {
		return err
	}
	switch has := people.Gives(role); {
	case has >= right:
		return nil
	case has < people.View:
		return store.ErrNotFound
	case right == people.Own:
		return echo.NewHTTPError(http.StatusForbidden, "only an owner of this project may do that")
	}
	return echo.NewHTTPError(http.StatusForbidden, "you may look at this project, not change it; an owner of it can let you")
}

// AllowedOf refuses likewise, by something that belongs to a project.
func (d *Desk) AllowedOf(c *echo.Context, right people.Right, of store.Thing, id int64) error {
	if d.People == nil {
		return nil
	}
	project, err := d.Store.ProjectOf(c.Request().Context(), of, id)
	if err != nil {
		return err
	}
	return d.Allowed(c, right, project)
}

// Mine keeps of a list what whoever asks may look at, by the project it belongs to.
func Mine[T any](d *Desk, c *echo.Context, right people.Right, list []T, project func(T) int64) ([]T, error) {
	if d.People == nil {
		return list, nil
	}
	who, ok := Seated(c)
	if !ok {
		return nil, ErrSignIn
	}
	roles, err := d.Store.Roles(c.Request().Context(), who.ID)
	if err != nil {
		return nil, err
	}
	var out []T
	for _, x := range list {
		if people.Gives(roles[project(x)]) >= right {
			out = append(out, x)
		}
	}
	return out, nil
}

// Projects lists the projects in use in which whoever asks has a right, the newest first.
func (d *Desk) Projects(c *echo.Context, right people.Right) ([]store.Project, error) {
	list, err := d.Store.Projects(c.Request().Context())
	if err != nil {
		return nil, err
	}
	return Mine(d, c, right, list, func(p store.Project) int64 { return p.ID })
}

// MakeProject makes a project that whoever asks owns.
func (d *Desk) MakeProject(c *echo.Context, title string) (int64, error) {
	ctx := c.Request().Context()
	id, err := d.Store.CreateProject(ctx, title)
	if err != nil {
		return 0, err
	}
	if who, ok := Seated(c); ok {
		err = d.Store.SetRole(ctx, id, who.ID, store.Owner)
	}
	return id, err
}
