// Package signin is the pages of people: signing in and out, invitations, one's own page, who belongs to
// a project, and, for stewards, all who may come in.
package signin

import (
	"embed"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/labstack/echo/v5"

	"morvek/people"
	"morvek/people/password"
	"morvek/store"
	"morvek/web/desk"
	"morvek/web/gate"
)

// Templates are those of the pages.
//
//go:embed *.html
var Templates embed.FS

// Pages answers what is asked of them.
type Pages struct {
	*desk.Desk
	Gate *gate.Gate
}

// Routes adds them to those of the application.
func (p *Pages) Routes(e *echo.Echo) {
	e.GET("/sign-in", p.form)
	e.POST("/sign-in", p.signIn)
	e.POST("/sign-out", p.signOut)
	e.GET("/invitations/:secret", p.invited)
	e.POST("/invitations/:secret", p.accept)
	e.GET("/you", p.you)
	e.POST("/you", p.change)
	e.POST("/projects/:id/people", p.members)
	e.GET("/people", p.all)
	e.POST("/people", p.steward)
}

// formView is a form with what went wrong.
type formView struct {
	To, Name, Wrong string
	Nobody          bool // has been invited yet
}

func (p *Pages) form(c *echo.Context) error {
	if _, ok := desk.Seated(c); ok {
		return c.Redirect(http.StatusSeeOther, gate.Within(c.QueryParam("to")))
	}
	list, err := p.Store.People(c.Request().Context())
	if err != nil {
		return err
	}
	return c.Render(http.StatusOK, "signin.html", formView{To: c.QueryParam("to"), Nobody: len(list) == 0})
}

// wrong is the status of what went wrong with a form; 0 if it is not the doing of whoever filled it in.
func wrong(err error) int {
	switch {
	case errors.Is(err, people.ErrTooOften):
		return http.StatusTooManyRequests
	case errors.Is(err, people.ErrUnknown):
		return http.StatusUnauthorized
	case errors.Is(err, people.ErrOver):
		return http.StatusGone
	case errors.Is(err, password.ErrLength), errors.Is(err, people.ErrName), errors.Is(err, people.ErrTaken), errors.Is(err, store.ErrLastOwner):
		return http.StatusUnprocessableEntity
	}
	return 0
}

func (p *Pages) signIn(c *echo.Context) error {
	v := formView{To: c.FormValue("to"), Name: c.FormValue("name")}
	who, err := p.People.SignIn(c.Request().Context(), v.Name, c.FormValue("password"), c.RealIP())
	if code := wrong(err); code != 0 {
		v.Wrong = err.Error()
		return c.Render(code, "signin.html", v)
	}
	if err != nil {
		return err
	}
	if err := p.Gate.SignIn(c, who); err != nil {
		return err
	}
	return c.Redirect(http.StatusSeeOther, gate.Within(v.To))
}

func (p *Pages) signOut(c *echo.Context) error {
	if err := p.Gate.SignOut(c); err != nil {
		return err
	}
	return c.Redirect(http.StatusSeeOther, "/sign-in")
}

// invitedView is what an invitation lets one do.
type invitedView struct {
	formView
	Project string // that it leads into
	Role    store.Role
	Steward bool
	Person  string // whose password is made anew
	As      string // who is signed in
}

func (p *Pages) invited(c *echo.Context) error {
	v, err := p.invitation(c)
	if code := wrong(err); code != 0 {
		return c.Render(code, "error.html", err.Error())
	}
	if err != nil {
		return err
	}
	return c.Render(http.StatusOK, "invited.html", v)
}

func (p *Pages) invitation(c *echo.Context) (v invitedView, err error) {
	ctx := c.Request().Context()
	i, err := p.People.Invitation(ctx, c.Param("secret"))
	if err != nil {
		return v, err
	}
	v.Steward = i.Steward
	if who, ok := desk.Seated(c); ok {
		v.As = who.Name
	}
	if i.Project != nil {
		project, err := p.Store.Project(ctx, *i.Project)
		if err != nil {
			return v, err
		}
		v.Project, v.Role = project.Title, *i.Role
	}
	if i.Person != nil {
		who, err := p.Store.Person(ctx, *i.Person)
		if err != nil {
			return v, err
		}
		v.Person = who.Name
	}
	return v, nil
}

func (p *Pages) accept(c *echo.Context) error {
	ctx := c.Request().Context()
	v, err := p.invitation(c)
	if err == nil {
		var signedIn int64
		if who, ok := desk.Seated(c); ok && v.Person == "" {
			signedIn = who.ID
		}
		v.Name = c.FormValue("name")
		var id int64
		if id, err = p.People.Accept(ctx, c.Param("secret"), signedIn, v.Name, c.FormValue("password")); err == nil {
			who, err := p.Store.Person(ctx, id)
			if err != nil {
				return err
			}
			if err := p.Gate.SignIn(c, who); err != nil {
				return err
			}
			return c.Redirect(http.StatusSeeOther, "/projects")
		}
	}
	code := wrong(err)
	switch {
	case code == 0:
		return err
	case errors.Is(err, people.ErrOver):
		return c.Render(code, "error.html", err.Error())
	}
	v.Wrong = err.Error()
	return c.Render(code, "invited.html", v)
}

// youView is somebody's own page.
type youView struct {
	store.Person
	Tokens     []store.Token
	Token      string // that was made just now: it is shown once
	Says       string
	Wrong      string
	Short, Max int // of a password
}

func (p *Pages) you(c *echo.Context) error { return p.renderYou(c, http.StatusOK, youView{}) }

func (p *Pages) renderYou(c *echo.Context, code int, v youView) (err error) {
	v.Person, _ = desk.Seated(c)
	v.Short, v.Max = password.Shortest, password.Longest
	if v.Tokens, err = p.Store.Tokens(c.Request().Context(), v.Person.ID); err != nil {
		return err
	}
	return c.Render(code, "you.html", v)
}

// change changes what is one's own: the password, tokens.
func (p *Pages) change(c *echo.Context) (err error) {
	ctx := c.Request().Context()
	who, _ := desk.Seated(c)
	var v youView
	switch c.FormValue("do") {
	case "password":
		if err = p.People.ChangePassword(ctx, who, c.FormValue("old"), c.FormValue("password")); err == nil {
			if who, err = p.Store.Person(ctx, who.ID); err == nil {
				err = p.Gate.SignIn(c, who)
			}
			v.Says = "The password is changed. Wherever else you were signed in, you are not any more."
		}
	case "token":
		v.Token, err = p.People.NewToken(ctx, who.ID, c.FormValue("name"))
	case "drop-token":
		var id int64
		if id, err = strconv.ParseInt(c.FormValue("token"), 10, 64); err == nil {
			err = p.Store.DropToken(ctx, who.ID, id)
		}
		v.Says = "The token does not hold any more."
	default:
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "nobody knows how to do this")
	}
	if code := wrong(err); code != 0 {
		return p.renderYou(c, code, youView{Wrong: err.Error()})
	}
	if err != nil {
		return err
	}
	return p.renderYou(c, http.StatusOK, v)
}

var roles = []store.Role{store.Viewer, store.Editor, store.Owner}

// members changes who belongs to a project, and what they may do there.
func (p *Pages) members(c *echo.Context) error {
	ctx := c.Request().Context()
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	role := store.Role(c.FormValue("role"))
	number, _ := strconv.ParseInt(c.FormValue("of"), 10, 64) //nolint:errcheck // 0 is nobody
	switch c.FormValue("do") {
	case "invite":
		if !slices.Contains(roles, role) {
			return echo.NewHTTPError(http.StatusUnprocessableEntity, "choose what they may do")
		}
		secret, err := p.People.Invite(ctx, store.Invitation{Project: &id, Role: &role, MadeBy: desk.Who(c)})
		if err != nil {
			return err
		}
		return p.link(c, secret, fmt.Sprintf("/projects/%d", id))
	case "uninvite":
		err = p.Store.Uninvite(ctx, id, number)
	case "role":
		if !slices.Contains(roles, role) {
			return echo.NewHTTPError(http.StatusUnprocessableEntity, "choose what they may do")
		}
		if _, err = p.Store.Person(ctx, number); err == nil {
			err = p.Store.SetRole(ctx, id, number, role)
		}
	case "remove":
		err = p.Store.SetRole(ctx, id, number, store.Nobody)
	default:
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "nobody knows how to do this")
	}
	if code := wrong(err); code != 0 {
		return echo.NewHTTPError(code, err.Error())
	}
	if err != nil {
		return err
	}
	return c.Redirect(http.StatusSeeOther, fmt.Sprintf("/projects/%d#people", id))
}

// linkView is an invitation just made: its link is shown once.
type linkView struct{ Link, Back string }

func (p *Pages) link(c *echo.Context, secret, back string) error {
	r := c.Request()
	scheme := "http"
	if r.TLS != nil || c.Scheme() == "https" {
		scheme = "https"
	}
	return c.Render(http.StatusOK, "link.html", linkView{scheme + "://" + r.Host + people.Link(secret), back})
}

// allView is who may come in.
type allView struct {
	People []store.Person
	You    int64
}

func (p *Pages) all(c *echo.Context) error {
	list, err := p.Store.People(c.Request().Context())
	if err != nil {
		return err
	}
	who, _ := desk.Seated(c)
	return c.Render(http.StatusOK, "people.html", allView{list, who.ID})
}

// steward invites people into the installation, lets them choose a new password, and ends that they come in.
func (p *Pages) steward(c *echo.Context) error {
	ctx := c.Request().Context()
	do := c.FormValue("do")
	if do == "invite" {
		secret, err := p.People.Invite(ctx, store.Invitation{Steward: c.FormValue("steward") != "", MadeBy: desk.Who(c)})
		if err != nil {
			return err
		}
		return p.link(c, secret, "/people")
	}
	id, err := strconv.ParseInt(strings.TrimSpace(c.FormValue("of")), 10, 64)
	if err != nil {
		return store.ErrNotFound
	}
	if _, err := p.Store.Person(ctx, id); err != nil {
		return err
	}
	who, _ := desk.Seated(c)
	switch {
	case do == "reset":
		secret, err := p.People.Invite(ctx, store.Invitation{Person: &id, MadeBy: desk.Who(c)})
		if err != nil {
			return err
		}
		return p.link(c, secret, "/people")
	case id == who.ID:
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "ask another steward to do this to you: or nobody might be left who can")
	case do == "leave", do == "return":
		err = p.Store.Leave(ctx, id, do == "leave")
	default:
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "nobody knows how to do this")
	}
	if err != nil {
		return err
	}
	return c.Redirect(http.StatusSeeOther, "/people")
}
