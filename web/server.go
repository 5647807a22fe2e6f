// Package web answers over HTTP: the middlewares, the templates and the table of stations, with
// everything they need embedded. What is answered lives in the rooms below.
package web

import (
	"embed"
	"html/template"
	"io/fs"
	"log/slog"
	"net/http"
	"time"

	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"

	"morvek/exchange"
	"morvek/jobs"
	"morvek/people"
	"morvek/store"
	"morvek/web/api"
	"morvek/web/bench"
	"morvek/web/compare"
	"morvek/web/desk"
	"morvek/web/gate"
	"morvek/web/help"
	"morvek/web/ops"
	"morvek/web/pages"
	"morvek/web/paintshop"
	"morvek/web/signin"
	"morvek/web/station"
	"morvek/web/station/flow"
	"morvek/web/station/parts"
	"morvek/web/station/project"
	"morvek/web/station/proof"
	"morvek/web/station/seams"
	"morvek/web/station/sheet"
	"morvek/web/verbs"
	"morvek/workspace"
)

//go:embed all:static/dist
var staticFiles embed.FS

// Stations are those of the bench in the order of the columns of the route card.
var Stations = []station.Station{parts.Station, project.Station, seams.Station, flow.Station, sheet.Station, proof.Station}

// Verbs are those of all stations, then of each.
var Verbs = func() verbs.Sets {
	all := verbs.Sets{bench.Verbs}
	for _, s := range Stations {
		all = append(all, verbs.Set{Station: s.Name, Verbs: s.Verbs})
	}
	return all
}()

// Config is what the application is told besides its data.
type Config struct {
	People   *people.People   // who sign in; nil: there is one seat, for loopback only
	Plain    bool             // the cookie of who is signed in goes over plain HTTP too
	Proxied  bool             // it stands behind a proxy on this machine or net, which says where requests come from
	Hosts    []string         // names it is served under besides addresses and localhost, in lower case
	Stopping <-chan struct{}  // closed when it is about to stop: streams end; nil for never
	Memory   int64            // that requests may take at a time, in bytes; 0: a GiB
	Figures  *ops.Figures     // counted for whoever runs it; nil: not
	Exchange *exchange.Folder // where sheets go to be painted; nil for nowhere
}

// usualMemory is how much memory requests take at a time as a rule, in bytes.
const usualMemory = 1 << 30

// New returns the handler of the whole application.
func New(s *store.Store, docs *workspace.Documents, q *jobs.Queue, log *slog.Logger, cfg Config) (http.Handler, error) {
	t, err := templates()
	if err != nil {
		return nil, err
	}
	d := &desk.Desk{People: cfg.People, Store: s, Docs: docs, Queue: q, Log: log, Templates: t, Exchange: cfg.Exchange, Stopping: cfg.Stopping}
	e := echo.NewWithConfig(echo.Config{Logger: log, Renderer: &echo.TemplateRenderer{Template: t}, HTTPErrorHandler: fail(d)})
	e.IPExtractor = echo.ExtractIPDirect()
	if cfg.Proxied {
		e.IPExtractor = echo.ExtractIPFromXFFHeader()
	}
	e.Use(ops.Number(cfg.Proxied), requestLog(log))
	if cfg.Figures != nil {
		e.Use(cfg.Figures.Count(gate.IsStream))
	}
	e.Use(secure, ourHosts(cfg.Hosts), sameOrigin(), patient(bodyBegins, bodyRate), whole)
	if cfg.People != nil {
		g := gate.New(d, !cfg.Plain)
		e.Use(g.Guard)
		(&signin.Pages{Desk: d, Gate: g}).Routes(e)
	}
	memory := cfg.Memory
	if memory <= 0 {
		memory = usualMemory
	}
	e.Use(gate.Limit(gate.Usual), gate.Spare(gate.NewRoom(memory, 256, 20*time.Second), d.Docs.Faces))
	e.Use(middleware.GzipWithConfig(middleware.GzipConfig{Level: 1, MinLength: 1024, Skipper: gate.IsStream}))
	dist, err := fs.Sub(staticFiles, "static/dist")
	if err != nil {
		return nil, err
	}
	e.GET("/static/*", echo.WrapHandler(http.StripPrefix("/static/", http.FileServerFS(dist))))
	ops.Routes(e, s)
	(&pages.Pages{Desk: d}).Routes(e)
	(&compare.Compare{Desk: d}).Routes(e)
	(&api.API{Desk: d}).Routes(e)
	(&help.Help{Desk: d, Verbs: Verbs}).Routes(e)
	if cfg.Exchange != nil {
		(&paintshop.Shop{Folder: cfg.Exchange}).Routes(e)
	}
	(&bench.Bench{Desk: d, Stations: Stations}).Routes(e)
	return e, nil
}

// templates are those of all rooms.
func templates() (*template.Template, error) {
	t := template.New("").Funcs(bench.Words).Funcs(pages.Words).Funcs(Verbs.Words())
	from := []fs.FS{pages.Templates, signin.Templates, compare.Templates, help.Templates, paintshop.Templates, bench.Templates, station.Templates}
	for _, s := range Stations {
		from = append(from, s.Templates)
	}
	for _, f := range from {
		if _, err := t.ParseFS(f, "*.html"); err != nil {
			return nil, err
		}
	}
	return t, nil
}
