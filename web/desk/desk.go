// Package desk is what all rooms of the application work with: the open documents, the store
// and the queue, the templates, and how a request is read. It knows no room.
package desk

import (
	"fmt"
	"html/template"
	"log/slog"
	"net/http"
	"path/filepath"
	"strings"
	"unicode/utf8"

	"github.com/labstack/echo/v5"

	"morvek/core/meshio"
	"morvek/exchange"
	"morvek/jobs"
	"morvek/people"
	"morvek/store"
	"morvek/workspace"
)

// Desk is what rooms work with.
type Desk struct {
	Store     *store.Store
	Docs      *workspace.Documents
	Queue     *jobs.Queue
	Log       *slog.Logger
	Templates *template.Template
	Exchange  *exchange.Folder // where sheets go to be painted; nil for nowhere
	People    *people.People   // who sign in; nil: there is one seat, and whoever is there may do all
	Stopping  <-chan struct{}  // closed when the application is about to stop: streams end
}

// Open returns the document that a request asks for, seen through the map it tells, as it was once if
// it says so.
func (d *Desk) Open(c *echo.Context) (*workspace.Opened, error) {
	r, err := Ref(c)
	if err != nil {
		return nil, err
	}
	when, past, err := When(c)
	switch {
	case err != nil:
		return nil, err
	case past:
		return d.Docs.Was(c.Request().Context(), r, when)
	}
	return d.Docs.Through(c.Request().Context(), r)
}

// OpenNow returns the document that a request is about to change or to hand over, as it is now.
func (d *Desk) OpenNow(c *echo.Context) (*workspace.Opened, error) {
	r, err := Changing(c)
	if err != nil {
		return nil, err
	}
	return d.Docs.Through(c.Request().Context(), r)
}

// Changing returns the document that a request is to change: what it was cannot be changed.
func Changing(c *echo.Context) (workspace.Ref, error) {
	if _, past, err := When(c); past || err != nil {
		return workspace.Ref{}, echo.NewHTTPError(http.StatusUnprocessableEntity, "this is how it was once; go back to it, or to how it is now, to change something")
	}
	return Ref(c)
}

// MaxModel bounds a model file, in bytes.
const MaxModel = 512 << 20

// projectForUploads is the project that is asked for, 0 for the newest one that may be changed, or a first one.
func (d *Desk) projectForUploads(c *echo.Context, asked int64) (int64, error) {
	ctx := c.Request().Context()
	if asked != 0 {
		p, err := d.Store.Project(ctx, asked)
		if err == nil && p.Stand == store.Gone {
			err = store.ErrNotFound
		}
		if err == nil {
			err = d.Allowed(c, people.Change, asked)
		}
		return asked, err
	}
	list, err := d.Projects(c, people.Change)
	if err != nil {
		return 0, err
	}
	if len(list) > 0 {
		return list[0].ID, nil
	}
	return d.MakeProject(c, "My models")
}

// TakeModel keeps a model file for a project, 0 for the newest, and queues reading it; it returns the
// numbers of both. What cannot be read by its name is refused at once.
func (d *Desk) TakeModel(c *echo.Context, to int64, name string, data []byte) (upload, work int64, err error) {
	if !utf8.ValidString(name) || strings.ContainsRune(name, 0) {
		return 0, 0, echo.NewHTTPError(http.StatusUnprocessableEntity, "the name of this file cannot be kept; give it another one")
	}
	if err := meshio.Readable(name); err != nil {
		return 0, 0, echo.NewHTTPError(http.StatusUnprocessableEntity, fmt.Sprintf("%.80s: %s", name, workspace.Words(err)))
	}
	if ext := filepath.Ext(name); strings.TrimSpace(strings.TrimSuffix(name, ext)) == "" {
		name = "model" + ext // a file that is called by its ending alone
	}
	project, err := d.projectForUploads(c, to)
	if err != nil {
		return 0, 0, err
	}
	return d.Queue.Read(c.Request().Context(), store.NewUpload{Project: project, FileName: name, Source: data}, Who(c))
}

// Text renders a template.
func (d *Desk) Text(name string, data any) (string, error) {
	var b strings.Builder
	err := d.Templates.ExecuteTemplate(&b, name, data)
	return b.String(), err
}

// LastOpened is the cookie that remembers which document was open last.
const LastOpened = "bench"
