// Package pages is what is not the bench: the projects, bringing a model in, and taking what was
// made of it away.
package pages

import (
	"embed"
	"encoding/json"
	"html/template"

	"github.com/labstack/echo/v5"

	"morvek/store"
	"morvek/web/desk"
)

// Templates are those of the pages, and the head that the bench has too.
//
//go:embed *.html
var Templates embed.FS

// Words is what their templates write besides those of the bench.
var Words = template.FuncMap{
	"bytes": func(n int64) string { return megabytes(int(n)) },
	"projectstitle": func(v projectsView) string {
		if v.One != nil {
			return v.One.Title
		}
		return "Projects"
	},
	"docin": func(d store.Shelved, of projectView) docView { return docView{d, of.Others, of.Change} },
	"jigkind": func(j store.Jig) string {
		var p struct {
			Kind string `json:"kind"`
		}
		_ = json.Unmarshal(j.Projection, &p) // it is ours
		return p.Kind
	},
}

// docView is a document on the shelf, and where it can be moved to.
type docView struct {
	store.Shelved
	Others []store.Project
	Change bool // whoever asks may
}

// Pages answers what is asked of them.
type Pages struct{ *desk.Desk }

// Routes adds them to those of the application.
func (p *Pages) Routes(e *echo.Echo) {
	e.GET("/", p.start)
	e.GET("/projects", p.projects)
	e.POST("/projects", p.makeProject)
	e.GET("/projects/:id", p.project)
	e.POST("/projects/:id", p.shelveProject)
	e.POST("/documents", p.upload)
	e.GET("/uploads/:id", p.uploaded)
	e.POST("/uploads/:id/forget", p.forget)
	d := e.Group("/documents/:id")
	d.GET("/cover/:of", p.cover)
	d.GET("/state", p.state)
	d.POST("/shelf", p.shelve)
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
	d.GET("/arrival", p.arrival)
	d.GET("/arrival/faces", p.ailing)
	d.GET("/arrival/weld", p.welding)
	d.POST("/arrival", p.arrive)
}
