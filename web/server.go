// Package web is the bench and the other pages: Echo handlers by page, rendered
// by html/template, with everything they need embedded.
package web

import (
	"embed"
	"errors"
	"fmt"
	"html/template"
	"io"
	"io/fs"
	"log/slog"
	"net/http"
	"strconv"
	"strings"

	"github.com/labstack/echo/v4"
	"github.com/labstack/echo/v4/middleware"

	"morvek/core/document"
	"morvek/core/report"
	"morvek/core/words"
	"morvek/jobs"
	"morvek/store"
	"morvek/workspace"
)

//go:embed templates/*.html
var templateFiles embed.FS

//go:embed all:static/dist
var staticFiles embed.FS

// Server answers requests.
type Server struct {
	store *store.Store
	docs  *workspace.Documents
	queue *jobs.Queue
	log   *slog.Logger
	pages *template.Template
	stop  <-chan struct{}
}

// Config is what the application is told besides its data.
type Config struct {
	Hosts    []string        // names it is served under besides addresses and localhost, in lower case
	Stopping <-chan struct{} // closed when it is about to stop: streams end; nil for never
}

// maxUpload bounds a model file.
const maxUpload = 512 << 20

// New returns the handler of the whole application.
func New(s *store.Store, docs *workspace.Documents, q *jobs.Queue, log *slog.Logger, cfg Config) (http.Handler, error) {
	srv := &Server{store: s, docs: docs, queue: q, log: log, stop: cfg.Stopping}
	var err error
	srv.pages, err = template.New("").Funcs(template.FuncMap{
		"thousands": thousands, "rowin": func(r report.Row, v cardView) cardRowView { return cardRowView{r, v.Stations, v.Unit} }, "mark": markGlyph, "add": func(a, b int) int { return a + b },
		"tint": func(p document.PartID) int { return int(p) % 12 }, "lower": strings.ToLower, "upper": strings.ToUpper, "length": words.Length, "mul100": func(v float64) float64 { return 100 * v },
	}).ParseFS(templateFiles, "templates/*.html")
	if err != nil {
		return nil, err
	}
	e := echo.New()
	e.HideBanner, e.HidePort = true, true
	e.Renderer = srv
	e.HTTPErrorHandler = srv.fail
	e.Use(requestLog(log), secure, ourHosts(cfg.Hosts), sameOrigin(), whole)
	e.Use(middleware.GzipWithConfig(middleware.GzipConfig{Level: 1, MinLength: 1024, Skipper: func(c echo.Context) bool {
		return strings.HasSuffix(c.Path(), "/events") || strings.HasSuffix(c.Path(), "/live")
	}}))

	dist, err := fs.Sub(staticFiles, "static/dist")
	if err != nil {
		return nil, err
	}
	files := http.StripPrefix("/static/", http.FileServerFS(dist))
	e.GET("/static/*", echo.WrapHandler(files))

	e.GET("/", srv.start)
	e.GET("/projects", srv.projects)
	e.POST("/documents", srv.upload)
	srv.document(e.Group("/documents/:id"))
	e.GET("/works/:id/events", srv.events)
	e.POST("/works/:id/cancel", srv.cancel)
	return e, nil
}

// document answers what is asked of a document, seen through the map that is told as ?map=2,
// else through its first.
func (s *Server) document(d *echo.Group) {
	d.GET("", s.bench)
	d.GET("/mesh.bin", s.meshBlock)
	d.GET("/layout.bin", s.layoutBlock)
	d.GET("/meta", s.meta)
	d.GET("/card", s.card)
	d.GET("/tray", s.tray)
	d.GET("/worklog", s.worklog)
	d.GET("/suggestions", s.suggestions)
	d.GET("/exposure.bin", s.exposureBlock)
	d.POST("/exposure", s.look)
	d.POST("/pick", s.pick)
	d.POST("/pick-edges", s.pickEdges)
	d.POST("/ghost", s.ghost)
	d.POST("/live", s.live)
	d.POST("/projections", s.projections)
	d.GET("/jigs", s.jigs)
	d.POST("/jigs", s.keepJig)
	d.DELETE("/jigs/:jig", s.dropJig)
	d.POST("/edits", s.edit)
	d.POST("/undo", s.undo)
	d.POST("/redo", s.redo)
	d.POST("/run", s.run)
	d.GET("/deliver/:file", s.deliver)
	d.GET("/picture", s.picture)
	d.GET("/maps", s.maps)
}

// Render implements echo.Renderer.
func (s *Server) Render(w io.Writer, name string, data any, _ echo.Context) error {
	return s.pages.ExecuteTemplate(w, name, data)
}

type problem struct {
	Error    string `json:"error"`
	Revision int64  `json:"revision,omitempty"` // the newer one, when stale
}

// fail answers with a sentence and the status that fits.
func (s *Server) fail(err error, c echo.Context) {
	if c.Response().Committed {
		return
	}
	code, text := http.StatusInternalServerError, workspace.Words(err)
	var he *echo.HTTPError
	switch {
	case errors.As(err, &he):
		code, text = he.Code, fmt.Sprint(he.Message)
	case errors.Is(err, store.ErrNotFound):
		code = http.StatusNotFound
	case errors.Is(err, workspace.ErrNoMap):
		code = http.StatusGone
	case errors.Is(err, store.ErrStale), errors.Is(err, store.ErrBusy):
		code = http.StatusConflict
	case errors.Is(err, document.ErrRefused), errors.Is(err, store.ErrNothing):
		code = http.StatusUnprocessableEntity
	case c.Request().Context().Err() != nil: // we are stopping, or the browser went away
		code, text = http.StatusServiceUnavailable, "this was cut off before it was done; load the page again to see what is stored"
	case store.Away(err):
		code = http.StatusServiceUnavailable
	default:
		s.log.Error("request failed", "path", c.Request().URL.Path, "err", err)
	}
	p := problem{Error: text}
	if id, err := strconv.ParseInt(c.Param("id"), 10, 64); err == nil && code == http.StatusConflict {
		if d, err := s.store.Document(c.Request().Context(), id); err == nil {
			p.Revision = d.Revision
		}
	}
	if strings.Contains(c.Request().Header.Get("Accept"), "text/html") && c.Request().Header.Get("HX-Request") == "" {
		_ = c.Render(code, "error.html", text)
		return
	}
	_ = c.JSON(code, p)
}

func id(c echo.Context) (int64, error) {
	n, err := strconv.ParseInt(c.Param("id"), 10, 64)
	if err != nil {
		return 0, store.ErrNotFound
	}
	return n, nil
}

// ref is the document that is asked for, and the map it is to be seen through.
func ref(c echo.Context) (r workspace.Ref, err error) {
	if r.Document, err = id(c); err != nil {
		return r, err
	}
	if p := c.QueryParam("map"); p != "" {
		n, err := strconv.ParseInt(p, 10, 32)
		if err != nil || n < 1 {
			return r, workspace.ErrNoMap
		}
		r.Map = document.MapID(n)
	}
	return r, nil
}

func (s *Server) open(c echo.Context) (*workspace.Opened, error) {
	r, err := ref(c)
	if err != nil {
		return nil, err
	}
	return s.docs.Through(c.Request().Context(), r)
}

// thousands writes a count with thin gaps.
func thousands(n int) string {
	s := strconv.Itoa(n)
	for i := len(s) - 3; i > 0; i -= 3 {
		s = s[:i] + "\u202f" + s[i:]
	}
	return s
}

// markGlyph is the shape of a mark on the card, readable without colour.
func markGlyph(m report.Mark) string {
	switch m {
	case report.Suggested:
		return "◇"
	case report.ByHand:
		return "✓"
	case report.NotNeeded:
		return "–"
	}
	return ""
}
