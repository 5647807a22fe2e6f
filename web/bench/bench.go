// Package bench is the page where a document is worked on: the two views, the route card, the
// trays of the stations, and what changes the document.
package bench

import (
	"embed"
	"net/http"
	"strconv"

	"github.com/labstack/echo/v5"

	"morvek/core/document"
	"morvek/core/report"
	"morvek/people"
	"morvek/store"
	"morvek/web/desk"
	"morvek/web/station"
)

// Templates are those of the bench without its trays.
//
//go:embed *.html
var Templates embed.FS

// Bench answers what is asked of it.
type Bench struct {
	*desk.Desk
	Stations []station.Station // in the order of the columns of the card
}

// Routes adds those of the bench and its stations.
func (b *Bench) Routes(e *echo.Echo) {
	d := e.Group("/documents/:id")
	d.GET("", b.page)
	d.GET("/mesh.bin", b.meshBlock)
	d.GET("/layout.bin", b.layoutBlock)
	d.GET("/meta", b.meta)
	d.GET("/card", b.card)
	d.GET("/tray", b.tray)
	d.GET("/maps", b.maps)
	d.GET("/worklog", b.worklog)
	d.GET("/events", b.changes)
	d.POST("/moments", b.name)
	d.DELETE("/moments/:moment", b.unname)
	d.POST("/go-back", b.goBack)
	d.POST("/end-history", b.endHistory)
	d.GET("/exposure.bin", b.exposureBlock)
	d.GET("/images.bin", b.imagesBlock)
	d.GET("/field", b.field)
	d.POST("/exposure", b.look)
	d.POST("/pick", b.pick)
	d.POST("/pick-edges", b.pickEdges)
	d.POST("/ghost", b.ghost)
	d.POST("/live", b.live)
	d.POST("/edits", b.edit)
	d.POST("/undo", b.undo)
	d.POST("/redo", b.redo)
	d.POST("/run", b.run)
	for _, s := range b.Stations {
		if s.Routes != nil {
			s.Routes(d, b.Desk)
		}
	}
	e.GET("/works/:id/events", b.events)
	e.POST("/works/:id/cancel", b.cancel)
}

type pageView struct {
	store.Document
	Mesh     string         // names the mesh, for caches
	Map      document.MapID // it is seen through
	Diagonal string
	Unit     string
	Units    []string
	Up       string
	Ups      []string
	Work     int64 // long work under way, 0 for none
	Siblings []store.Document
	Shows    []string // what model and sheet can show
	Counts   []report.Counted
	Past     *pastView // a state that was; nil: how it is now
	Seat     string    // who is signed in; "" where nobody signs in
	Look     bool      // whoever asks may look at this project, not change it
}

// shows is what model and sheet can show, as the page and its script call it.
var shows = []string{"parts", "cloth", "stretch", "area", "density", "grain", "exposure", "painted"}

func (b *Bench) page(c *echo.Context) error {
	o, err := b.Open(c)
	if err != nil {
		return err
	}
	set := o.Doc.State.Settings
	v := pageView{Document: o.Row, Mesh: o.MeshKey(), Map: o.Doc.State.Shown.ID, Diagonal: strconv.FormatFloat(o.Doc.Mesh.Diagonal(), 'g', 3, 64),
		Unit: set.Unit, Units: document.Units, Up: string(set.Up), Ups: document.Ups, Counts: report.Counts(o.Doc), Shows: shows}
	if who, ok := desk.Seated(c); ok {
		v.Seat, v.Look = who.Name, b.Allowed(c, people.Change, o.Row.ProjectID) != nil
	}
	if v.Past, err = b.past(c, o); err != nil {
		return err
	}
	if w, err := b.Store.RunningWork(c.Request().Context(), o.Row.ID); err == nil {
		v.Work = w.ID
	}
	if v.Siblings, err = b.Store.Documents(c.Request().Context(), o.Row.ProjectID); err != nil {
		return err
	}
	c.SetCookie(&http.Cookie{Name: desk.LastOpened, Value: strconv.FormatInt(o.Row.ID, 10), Path: "/", MaxAge: 365 * 24 * 3600, HttpOnly: true, SameSite: http.SameSiteLaxMode})
	return c.Render(http.StatusOK, "bench.html", v)
}
