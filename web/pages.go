package web

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"path/filepath"
	"strconv"
	"strings"
	"unicode/utf8"

	"github.com/labstack/echo/v4"

	"morvek/core/document"
	"morvek/core/meshio"
	"morvek/core/meshio/format"
	"morvek/core/proof"
	"morvek/core/report"
	"morvek/core/segment"
	"morvek/core/sheet"
	"morvek/core/template"
	"morvek/store"
	"morvek/workspace"
)

// start opens the bench where one left off; a newcomer gets the first model of the
// newest project, as it came, with the others a click away.
func (s *Server) start(c echo.Context) error {
	ctx := c.Request().Context()
	if k, err := c.Cookie(benchCookie); err == nil {
		if id, err := strconv.ParseInt(k.Value, 10, 64); err == nil {
			if _, err := s.store.Document(ctx, id); err == nil {
				return c.Redirect(http.StatusSeeOther, fmt.Sprintf("/documents/%d", id))
			}
		}
	}
	list, err := s.store.Projects(ctx)
	if err != nil {
		return err
	}
	if len(list) > 0 {
		docs, err := s.store.Documents(ctx, list[0].ID)
		if err != nil {
			return err
		}
		if len(docs) > 0 {
			return c.Redirect(http.StatusSeeOther, fmt.Sprintf("/documents/%d", docs[0].ID))
		}
	}
	return c.Redirect(http.StatusSeeOther, "/projects")
}

// benchCookie remembers which document was open last.
const benchCookie = "bench"

type projectView struct {
	store.Project
	Documents []store.Document
}

func (s *Server) projects(c echo.Context) error {
	ctx := c.Request().Context()
	list, err := s.store.Projects(ctx)
	if err != nil {
		return err
	}
	var out []projectView
	for _, p := range list {
		docs, err := s.store.Documents(ctx, p.ID)
		if err != nil {
			return err
		}
		out = append(out, projectView{p, docs})
	}
	return c.Render(http.StatusOK, "projects.html", map[string]any{"Projects": out, "Formats": meshio.Names(false), "Endings": meshio.Endings(false)})
}

// upload brings in a model; a file that cannot be read leaves nothing behind.
func (s *Server) upload(c echo.Context) error {
	ctx := c.Request().Context()
	c.Request().Body = http.MaxBytesReader(c.Response(), c.Request().Body, maxUpload)
	tooLarge := echo.NewHTTPError(http.StatusRequestEntityTooLarge, fmt.Sprintf("the file is larger than %d MB; split the model or bring in fewer objects at a time", maxUpload>>20))
	if c.Request().ContentLength > maxUpload {
		c.Response().Header().Set("Connection", "close") // or the server waits for the body first
		return tooLarge
	}
	mr, err := c.Request().MultipartReader()
	if err != nil {
		return echo.NewHTTPError(http.StatusBadRequest, "no file came along; choose one that ends in "+meshio.Endings(false))
	}
	var name string
	var data []byte
	for {
		part, err := mr.NextPart()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return echo.NewHTTPError(http.StatusBadRequest, "the upload broke off; try again")
		}
		if part.FormName() != "model" {
			continue
		}
		name = filepath.Base(part.FileName())
		if data, err = io.ReadAll(part); err != nil {
			var big *http.MaxBytesError
			if errors.As(err, &big) {
				return tooLarge
			}
			return echo.NewHTTPError(http.StatusBadRequest, "the upload broke off; try again")
		}
	}
	if !utf8.ValidString(name) || strings.ContainsRune(name, 0) {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "the name of this file cannot be kept; give it another one")
	}
	if name == "" {
		return echo.NewHTTPError(http.StatusBadRequest, "no file came along; choose one that ends in "+meshio.Endings(false))
	}
	m, err := meshio.Read(ctx, name, bytes.NewReader(data))
	if err != nil {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, name+": "+workspace.Words(err))
	}
	state, err := document.New(m, document.Guess(m, document.DefaultSettings())).State.MarshalBinary()
	if err != nil {
		return err
	}
	project, err := s.uploadProject(c)
	if err != nil {
		return err
	}
	title := strings.TrimSuffix(name, filepath.Ext(name))
	doc, err := s.store.CreateDocument(ctx, store.NewDocument{Project: project, Title: title, About: "brought in from " + name, FileName: name,
		Source: data, Faces: m.NumFaces(), Points: m.NumPoints(), State: state})
	if err != nil {
		return err
	}
	return c.JSON(http.StatusCreated, map[string]string{"url": fmt.Sprintf("/documents/%d", doc)})
}

// uploadProject is the newest project, or a first one.
func (s *Server) uploadProject(c echo.Context) (int64, error) {
	list, err := s.store.Projects(c.Request().Context())
	if err != nil {
		return 0, err
	}
	if len(list) > 0 {
		return list[0].ID, nil
	}
	return s.store.CreateProject(c.Request().Context(), "My models")
}

type benchView struct {
	store.Document
	Map      document.MapID // it is seen through
	Diagonal string
	Unit     string
	Units    []string
	Up       string
	Ups      []string
	Stations [6]string
	Work     int64 // long work under way, 0 for none
	Siblings []store.Document
	Formats  []format.Format // the model can be delivered in
}

func (s *Server) bench(c echo.Context) error {
	o, err := s.open(c)
	if err != nil {
		return err
	}
	set := o.Doc.State.Settings
	v := benchView{Document: o.Row, Map: o.Doc.State.Shown.ID, Diagonal: strconv.FormatFloat(o.Doc.Mesh.Diagonal(), 'g', 3, 64), Unit: set.Unit, Units: document.Units, Up: string(set.Up), Ups: document.Ups, Stations: report.Stations, Formats: meshio.Formats}
	if w, err := s.store.RunningWork(c.Request().Context(), o.Row.ID); err == nil {
		v.Work = w.ID
	}
	if v.Siblings, err = s.store.Documents(c.Request().Context(), o.Row.ProjectID); err != nil {
		return err
	}
	c.SetCookie(&http.Cookie{Name: benchCookie, Value: strconv.FormatInt(o.Row.ID, 10), Path: "/", MaxAge: 365 * 24 * 3600, HttpOnly: true, SameSite: http.SameSiteLaxMode})
	return c.Render(http.StatusOK, "bench.html", v)
}

type trayView struct {
	Station  string
	Part     *partView
	Crease   float64
	Mirror   string // where the model mirrors, in words
	Mapped   bool
	Fresh    bool // nothing was done yet
	ToDo     int
	Totals   proof.Totals
	Findings []findingView
	Found    int // findings before folding
	Unit     string
	Document int64
	Size     int
	Packing  string // what packing keeps to, in words
	Rules    string // which part rules the scale, in words
	Parts    int
	Health   []report.HealthReport

	Audit      *auditView
	Flow       flowView // of the part
	Recognised bool
	Dial       float64
	Detail     float64
	Sides      []sideView
	Picks      []document.PickSet
	Pins       int
	Tiling     bool    // the shown map is
	Reach      float64 // of a falloff to begin with, model units
}

// sideView is how much the piece is looked at from one side.
type sideView struct {
	Name   string
	Weight float64
}

func (s *Server) tray(c echo.Context) error {
	o, err := s.open(c)
	if err != nil {
		return err
	}
	part, err := strconv.Atoi(c.QueryParam("part"))
	if err != nil {
		part = -1
	}
	v, err := newTrayView(c.Request().Context(), o, c.QueryParam("station"), part)
	if err != nil {
		return err
	}
	return c.Render(http.StatusOK, "tray.html", v)
}

// newTrayView is the tray of a station for a part, -1 for none.
func newTrayView(ctx context.Context, o *workspace.Opened, station string, part int) (v trayView, err error) {
	r := o.Proof()
	st := o.Doc.State
	v = trayView{Station: station, Totals: r.Totals, Unit: st.Settings.Unit, Document: o.Row.ID,
		Size: st.Settings.Sheet.Size, Crease: st.Settings.CreaseDeg, Parts: len(st.Parts), Health: report.HealthReports(o.Doc)}
	v.Packing = packingWords(st.Settings)
	if v.Station == "Sheet" {
		if p, share := segment.Rules(o.Doc); p >= 0 && share > rulesFrom {
			v.Rules = fmt.Sprintf("%s is as long as %.0f %% of the sheet", st.Parts[p].Name, 100*share)
		}
	}
	v.Fresh = o.Row.Head == 0
	v.Recognised, v.Dial, v.Detail, v.Picks = st.Recognised(), st.Settings.Dial, st.Settings.Detail(), st.Wishes.Picks
	v.Pins, v.Tiling = len(st.Wishes.Pins), st.Shown.Purpose == document.Tiling
	v.Reach, _ = strconv.ParseFloat(strconv.FormatFloat(o.Doc.Mesh.Diagonal()/20, 'g', 1, 64), 64)
	look := st.Settings.Viewed()
	v.Sides = []sideView{{"front", look.Front}, {"back", look.Back}, {"left", look.Left}, {"right", look.Right}, {"above", look.Above}, {"below", look.Below}}
	v.Mapped = r.Totals.Unmapped < o.Doc.Mesh.NumFaces()
	known := false
	for i, n := range report.Stations {
		if n == v.Station {
			v.ToDo, known = o.Card().ToDo[i], true
		}
	}
	if !known {
		v.Station = report.Stations[0]
	}
	if v.Station == report.Stations[0] { // finding the mirror takes a while, once
		if mirror, ok := o.Doc.Mirror(); ok {
			v.Mirror = mirrorWords(mirror)
		}
	}
	if part >= 0 && part < len(st.Parts) {
		v.Part = newPartView(o, document.PartID(part), v.Station == report.Stations[0])
		v.Flow = newFlowView(o, document.PartID(part))
	}
	v.Findings, v.Found = foldFindings(r.Findings, st), len(r.Findings)
	if v.Mapped && v.Station == "Proof" {
		v.Audit, err = newAuditView(ctx, o)
	}
	return v, err
}

// rulesFrom is the share of the sheet from which a shell is said to rule the scale.
const rulesFrom = 0.85

// packingWords says what packing keeps to.
func packingWords(s document.Settings) string {
	turns := map[sheet.Turns]string{sheet.NoTurns: "no turns", sheet.HalfTurns: "half turns only", sheet.QuarterTurns: "quarter turns", sheet.AnyTurns: "any turns"}[s.Turns]
	words := fmt.Sprintf("%d px, shells %g px apart and %g px from the border, %s", s.Sheet.Size, s.Sheet.Padding, s.Sheet.Margin, turns)
	if s.Sheet.Tiles > 1 {
		words += fmt.Sprintf(", on %d tiles", s.Sheet.Tiles)
	}
	if s.Repeats == document.Stack {
		words += ", equal parts stacked"
	}
	return words
}

type worklogView struct {
	Edits []store.Edit
	Head  int
}

func (s *Server) worklog(c echo.Context) error {
	o, err := s.open(c)
	if err != nil {
		return err
	}
	edits, err := s.store.Worklog(c.Request().Context(), o.Row.ID)
	if err != nil {
		return err
	}
	return c.Render(http.StatusOK, "worklog.html", worklogView{edits, o.Row.Head})
}

// deliver hands out the mesh with its map, the painter's template or the report.
func (s *Server) deliver(c echo.Context) error {
	o, err := s.open(c)
	if err != nil {
		return err
	}
	size := o.Doc.State.Settings.Sheet.Size
	if q := c.QueryParam("size"); q != "" {
		if size, err = strconv.Atoi(q); err != nil || size < 64 || size > 8192 {
			return echo.NewHTTPError(http.StatusBadRequest, "a template can be 64 to 8192 px large")
		}
	}
	base := strings.TrimSuffix(o.Row.FileName, filepath.Ext(o.Row.FileName)) + mapSuffix(o.Doc.State)
	var b bytes.Buffer
	var kind, name string
	switch file := c.Param("file"); file {
	case "template.svg", "template.png":
		kind, name = map[bool]string{true: "image/svg+xml", false: "image/png"}[file == "template.svg"], base+"-"+file
		if t := report.Template(o.Doc); !template.Fits(t, size) {
			return echo.NewHTTPError(http.StatusBadRequest, fmt.Sprintf("a template of %d tiles of %d px is too large; choose a smaller size", t.Tiles, size))
		} else {
			err = template.Write(&b, file, t, size)
		}
	case "report.json":
		r, rerr := report.Of(c.Request().Context(), o.Doc, o.Row.FileName)
		if rerr != nil {
			return rerr
		}
		c.Response().Header().Set("Content-Disposition", fmt.Sprintf("attachment; filename=%q", base+"-report.json"))
		return c.JSONPretty(http.StatusOK, r, " ")
	default:
		if !meshio.Writable(file) || !strings.HasPrefix(file, "model.") {
			return store.ErrNotFound
		}
		f, _ := meshio.Of(file)
		kind, name = f.Media, base+filepath.Ext(file)
		err = f.Write(&b, o.Doc.Source, o.Doc.UV())
	}
	if err != nil {
		return err
	}
	c.Response().Header().Set("Content-Disposition", fmt.Sprintf("attachment; filename=%q", name))
	return c.Blob(http.StatusOK, kind, b.Bytes())
}

// picture is a small picture of the sheet for the projects page.
func (s *Server) picture(c echo.Context) error {
	o, err := s.open(c)
	if err != nil {
		return err
	}
	var b bytes.Buffer
	t := report.Template(o.Doc)
	for i := range t.Shells {
		t.Shells[i].Name, t.Shells[i].Inner = "", nil
	}
	if err := template.PNG(&b, t, 240); err != nil {
		return err
	}
	c.Response().Header().Set("Cache-Control", "private, max-age=60")
	return c.Blob(http.StatusOK, "image/png", b.Bytes())
}
