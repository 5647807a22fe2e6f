// Package pages is what is not the bench: the projects, bringing a model in, and taking what was
// made of it away.
package pages

import (
	"embed"
	"fmt"
	"net/http"
	"strconv"

	"github.com/labstack/echo/v5"

	"morvek/core/meshio"
	"morvek/store"
	"morvek/web/desk"
)

// Templates are those of the pages, and the head that the bench has too.
//
//go:embed *.html
var Templates embed.FS

// Pages answers what is asked of them.
type Pages struct{ *desk.Desk }

// Routes adds them to those of the application.
func (p *Pages) Routes(e *echo.Echo) {
	e.GET("/", p.start)
	e.GET("/projects", p.projects)
	e.POST("/documents", p.upload)
	e.GET("/uploads/:id", p.uploaded)
	e.POST("/uploads/:id/forget", p.forget)
	d := e.Group("/documents/:id")
	d.GET("/deliver/:file", p.deliver)
	d.GET("/deliveries", p.deliveries)
	d.POST("/deliveries", p.order)
	d.GET("/cloths", p.cloths)
	d.POST("/cloths", p.keepCloth)
	d.DELETE("/cloths/:cloth", p.dropCloth)
	e.GET("/cloths/:id", p.cloth)
	d.GET("/report", p.reportPage)
	d.GET("/practice", p.practice)
	e.POST("/practice", p.readPractice)
	e.GET("/practice/schema.json", p.practiceSchema)
	d.GET("/report.pdf", p.reportPDF)
	d.GET("/painted", p.painted)
	d.POST("/painted", p.paint)
	d.DELETE("/painted/:picture", p.unpaint)
	e.GET("/pictures/:id", p.paintedPicture)
	e.POST("/works/:id/send", p.send)
	e.GET("/works/:id/delivery", p.ordered)
	e.GET("/deliveries/:id", p.delivered)
	d.GET("/picture", p.picture)
	d.GET("/arrival", p.arrival)
	d.GET("/arrival/faces", p.ailing)
	d.GET("/arrival/weld", p.welding)
	d.POST("/arrival", p.arrive)
}

// start opens the bench where one left off; a newcomer gets the first model of the
// newest project, as it came, with the others a click away.
func (p *Pages) start(c *echo.Context) error {
	ctx := c.Request().Context()
	if k, err := c.Cookie(desk.LastOpened); err == nil {
		if id, err := strconv.ParseInt(k.Value, 10, 64); err == nil {
			if _, err := p.Store.Document(ctx, id); err == nil {
				return c.Redirect(http.StatusSeeOther, fmt.Sprintf("/documents/%d", id))
			}
		}
	}
	list, err := p.Store.Projects(ctx)
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

type projectView struct {
	store.Project
	Documents []store.Document
	Uploads   []store.Upload // that are being read or could not be
}

func (p *Pages) projects(c *echo.Context) error {
	ctx := c.Request().Context()
	list, err := p.Store.Projects(ctx)
	if err != nil {
		return err
	}
	var out []projectView
	for _, q := range list {
		docs, err := p.Store.Documents(ctx, q.ID)
		if err != nil {
			return err
		}
		ups, err := p.Store.OpenUploads(ctx, q.ID)
		if err != nil {
			return err
		}
		out = append(out, projectView{q, docs, ups})
	}
	return c.Render(http.StatusOK, "projects.html", map[string]any{"Projects": out, "Formats": meshio.Names(false), "Endings": meshio.Endings(false)})
}
