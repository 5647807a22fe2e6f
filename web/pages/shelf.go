package pages

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"github.com/labstack/echo/v5"

	"morvek/people"
	"morvek/store"
	"morvek/web/desk"
)

// longestTitle bounds titles, in letters.
const longestTitle = 80

// title is what was written as one.
func title(c *echo.Context) (string, error) {
	t := strings.TrimSpace(c.FormValue("title"))
	if t == "" || utf8.RuneCountInString(t) > longestTitle || !utf8.ValidString(t) || strings.ContainsFunc(t, unicode.IsControl) {
		return "", echo.NewHTTPError(http.StatusUnprocessableEntity, fmt.Sprintf("a title has 1 to %d letters, all of one line", longestTitle))
	}
	return t, nil
}

// stands are where something goes by what is asked for.
var stands = map[string]store.Stand{"archive": store.PutAway, "delete": store.Gone, "restore": store.InUse}

// makeProject makes a project.
func (p *Pages) makeProject(c *echo.Context) error {
	t, err := title(c)
	if err != nil {
		return err
	}
	id, err := p.MakeProject(c, t)
	if err != nil {
		return err
	}
	return c.Redirect(http.StatusSeeOther, fmt.Sprintf("/projects/%d", id))
}

// shelveProject renames a project, puts it away, deletes it or takes it back.
func (p *Pages) shelveProject(c *echo.Context) error {
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	switch do := c.FormValue("do"); do {
	case "rename":
		t, err := title(c)
		if err != nil {
			return err
		}
		if err := p.Store.RenameProject(c.Request().Context(), id, t); err != nil {
			return err
		}
		return back(c, "")
	case "archive", "delete", "restore":
		if err := p.Allowed(c, people.Own, id); err != nil {
			return err
		}
		return put(c, id, do, "projects", p.Store.PlaceProject)
	}
	return echo.NewHTTPError(http.StatusUnprocessableEntity, "nobody knows how to do this to a project")
}

// shelve renames a document, copies or moves it, puts it away, deletes it or takes it back.
func (p *Pages) shelve(c *echo.Context) error {
	ctx := c.Request().Context()
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	do := c.FormValue("do")
	switch do {
	case "rename", "duplicate":
		t, err := title(c)
		if err != nil {
			return err
		}
		if do == "rename" {
			err = p.Store.RenameDocument(ctx, id, t)
		} else {
			_, err = p.Store.DuplicateDocument(ctx, id, t)
		}
		if err != nil {
			return err
		}
		return back(c, "")
	case "move":
		to, err := strconv.ParseInt(c.FormValue("to"), 10, 64)
		if err != nil {
			return store.ErrNotFound
		}
		if err := p.Allowed(c, people.Change, to); err != nil {
			return err
		}
		if err := p.Store.MoveDocument(ctx, id, to); err != nil {
			return err
		}
		return back(c, "")
	case "archive", "delete", "restore":
		return put(c, id, do, "documents", p.Store.PlaceDocument)
	}
	return echo.NewHTTPError(http.StatusUnprocessableEntity, "nobody knows how to do this to a model")
}

// put puts a project or a document where it is asked to stand, and offers to undo that.
func put(c *echo.Context, id int64, do, kind string, place func(context.Context, int64, store.Stand) error) error {
	if err := place(c.Request().Context(), id, stands[do]); err != nil {
		return err
	}
	if do == "restore" {
		return back(c, "")
	}
	return back(c, fmt.Sprintf("%s/%d", kind, id))
}

// back leads to the page that was asked from, which offers to undo something; from a project that is gone
// to that of all.
func back(c *echo.Context, undo string) error {
	to := "/projects"
	if from, err := url.Parse(c.Request().Referer()); err == nil && strings.HasPrefix(from.Path, "/projects/") && !strings.HasPrefix(undo, "projects/") {
		to = from.Path
	}
	if undo != "" {
		to += "?" + url.Values{"undo": {undo}}.Encode()
	}
	return c.Redirect(http.StatusSeeOther, to)
}

// undone says what was deleted or put away just now, as the address of the page tells.
func (p *Pages) undone(c *echo.Context) (*undoView, error) {
	kind, number, _ := strings.Cut(c.QueryParam("undo"), "/")
	id, err := strconv.ParseInt(number, 10, 64)
	of, known := map[string]store.Thing{"projects": store.AProject, "documents": store.ADocument}[kind]
	if err != nil || !known || p.AllowedOf(c, people.View, of, id) != nil {
		return nil, nil
	}
	ctx := c.Request().Context()
	did := map[store.Stand]string{store.PutAway: "is archived", store.Gone: "is deleted"}
	switch kind {
	case "projects":
		q, err := p.Store.Project(ctx, id)
		if err != nil || did[q.Stand] == "" {
			return nil, nil //nolint:nilerr // it is gone for good, or back: there is nothing to undo
		}
		return &undoView{q.Title + " " + did[q.Stand] + ".", fmt.Sprintf("/projects/%d", id)}, nil
	case "documents":
		title, stand, err := p.Store.Standing(ctx, id)
		if err != nil || did[stand] == "" {
			return nil, nil //nolint:nilerr // likewise
		}
		return &undoView{title + " " + did[stand] + ".", fmt.Sprintf("/documents/%d/shelf", id)}, nil
	}
	return nil, nil
}
