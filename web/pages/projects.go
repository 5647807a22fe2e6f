package pages

import (
	"cmp"
	"fmt"
	"net/http"
	"slices"
	"strconv"

	"github.com/labstack/echo/v5"

	"morvek/core/meshio"
	"morvek/people"
	"morvek/store"
	"morvek/web/desk"
)

// start opens the bench where one left off; a newcomer gets the first model of the
// newest project, as it came, with the others a click away.
func (p *Pages) start(c *echo.Context) error {
	ctx := c.Request().Context()
	if k, err := c.Cookie(desk.LastOpened); err == nil {
		if id, err := strconv.ParseInt(k.Value, 10, 64); err == nil {
			if _, err := p.Store.Document(ctx, id); err == nil && p.AllowedOf(c, people.View, store.ADocument, id) == nil {
				return c.Redirect(http.StatusSeeOther, fmt.Sprintf("/documents/%d", id))
			}
		}
	}
	list, err := p.Projects(c, people.View)
	if err != nil {
		return err
	}
	if len(list) > 0 {
		docs, err := p.Store.Documents(ctx, list[0].ID)
		if err != nil {
			return err
		}
		if len(docs) > 0 {
			return c.Redirect(http.StatusSeeOther, fmt.Sprintf("/documents/%d", docs[0].ID))
		}
	}
	return c.Redirect(http.StatusSeeOther, "/projects")
}

// projectView is a project with what it holds, by where that stands.
type projectView struct {
	store.Project
	InUse, PutAway, Gone []store.Shelved
	Uploads              []store.Upload // that are being read or could not be
	Others               []store.Project
	Change, Own          bool // what whoever asks may do with it
}

func (p *Pages) view(c *echo.Context, q store.Project, all []store.Project) (v projectView, err error) {
	ctx := c.Request().Context()
	v.Project, v.Change, v.Own = q, p.Allowed(c, people.Change, q.ID) == nil, p.Allowed(c, people.Own, q.ID) == nil
	for _, o := range all {
		if o.ID != q.ID && o.Stand == store.InUse {
			v.Others = append(v.Others, o)
		}
	}
	list, err := p.Store.Shelf(ctx, q.ID)
	if err != nil {
		return v, err
	}
	for _, d := range list {
		at := map[store.Stand]*[]store.Shelved{store.InUse: &v.InUse, store.PutAway: &v.PutAway, store.Gone: &v.Gone}[d.Stand]
		*at = append(*at, d)
	}
	v.Uploads, err = p.Store.OpenUploads(ctx, q.ID)
	return v, err
}

// projectsView is the page of all projects, or of one.
type projectsView struct {
	Projects, Away   []projectView // in use; put away or deleted
	One              *projectView  // the page is of this one only
	Held             *holdings     // by that
	Members          *membersView  // of that
	Seat             string        // who is signed in
	Undo             *undoView     // what was deleted or put away just now
	Formats, Endings string
}

// membersView is who belongs to a project.
type membersView struct {
	Project, You int64
	Own          bool // whoever asks decides that
	Unowned      bool // nobody else does
	Members      []store.Member
	Invitations  []store.Invitation
}

// seat is the name of who is signed in, "" where nobody signs in.
func seat(c *echo.Context) string {
	who, _ := desk.Seated(c)
	return who.Name
}

// undoView offers to take something back.
type undoView struct{ Says, To string }

// all lists the projects in which whoever asks has a right, those put away and deleted too.
func (p *Pages) all(c *echo.Context, right people.Right) ([]store.Project, error) {
	list, err := p.Store.AllProjects(c.Request().Context())
	if err != nil {
		return nil, err
	}
	return desk.Mine(p.Desk, c, right, list, func(q store.Project) int64 { return q.ID })
}

func (p *Pages) projects(c *echo.Context) error {
	all, err := p.all(c, people.View)
	if err != nil {
		return err
	}
	out := projectsView{Seat: seat(c), Formats: meshio.Names(false), Endings: meshio.Endings(false)}
	for _, q := range all {
		v, err := p.view(c, q, all)
		if err != nil {
			return err
		}
		if q.Stand == store.InUse {
			out.Projects = append(out.Projects, v)
		} else {
			out.Away = append(out.Away, v)
		}
	}
	if out.Undo, err = p.undone(c); err != nil {
		return err
	}
	return c.Render(http.StatusOK, "projects.html", out)
}

// holdings is what a project has besides documents.
type holdings struct {
	Jigs     []store.Jig
	Cloths   []store.Cloth
	Pictures []paintedOn // the newest first
}

// paintedOn is a picture and the document that it was painted on.
type paintedOn struct {
	Of store.Shelved
	store.Picture
}

// project is the page of one project.
func (p *Pages) project(c *echo.Context) error {
	ctx := c.Request().Context()
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	q, err := p.Store.Project(ctx, id)
	if err != nil {
		return err
	}
	all, err := p.all(c, people.Change)
	if err != nil {
		return err
	}
	v, err := p.view(c, q, all)
	if err != nil {
		return err
	}
	h := &holdings{}
	if h.Jigs, err = p.Store.Jigs(ctx, id); err != nil {
		return err
	}
	if h.Cloths, err = p.Store.Cloths(ctx, id); err != nil {
		return err
	}
	for _, d := range v.InUse {
		list, err := p.Store.AllPictures(ctx, d.ID)
		if err != nil {
			return err
		}
		for _, pic := range list {
			h.Pictures = append(h.Pictures, paintedOn{d, pic})
		}
	}
	slices.SortStableFunc(h.Pictures, func(a, b paintedOn) int { return cmp.Compare(b.ID, a.ID) })
	out := projectsView{Seat: seat(c), One: &v, Projects: []projectView{v}, Held: h, Formats: meshio.Names(false), Endings: meshio.Endings(false)}
	if who, ok := desk.Seated(c); ok {
		m := &membersView{Project: id, You: who.ID, Own: v.Own}
		if m.Members, err = p.Store.Members(ctx, id); err != nil {
			return err
		}
		m.Unowned = v.Own && !slices.ContainsFunc(m.Members, func(o store.Member) bool { return o.Role == store.Owner })
		if m.Invitations, err = p.Store.Invitations(ctx, id); err != nil {
			return err
		}
		out.Members = m
	}
	if out.Undo, err = p.undone(c); err != nil {
		return err
	}
	return c.Render(http.StatusOK, "projects.html", out)
}

// cover answers with a picture of a document from outside, :of is model or sheet.
func (p *Pages) cover(c *echo.Context) error {
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	v, err := p.Docs.Cover(c.Request().Context(), id)
	if err != nil {
		return err
	}
	c.Response().Header().Set("Cache-Control", "private, max-age=60")
	switch c.Param("of") {
	case "model.png":
		return c.Blob(http.StatusOK, "image/png", v.Model)
	case "sheet.png":
		return c.Blob(http.StatusOK, "image/png", v.Sheet)
	}
	return store.ErrNotFound
}

// state says in words how far a document is, once its cover is drawn.
func (p *Pages) state(c *echo.Context) error {
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	ctx := c.Request().Context()
	v, err := p.Docs.Cover(ctx, id)
	if err != nil {
		return err
	}
	d, err := p.Store.Document(ctx, id)
	if err != nil {
		return err
	}
	return c.Render(http.StatusOK, "docstate", store.Shelved{Cover: &v.Revision, Document: d, Parts: v.Parts, Shells: v.Shells, Findings: v.Findings, Open: v.Open, Coverage: v.Coverage})
}
