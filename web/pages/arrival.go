package pages

import (
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/labstack/echo/v5"

	"morvek/core/document"
	"morvek/core/mend"
	"morvek/core/mesh"
	"morvek/core/proof"
	"morvek/core/report"
	"morvek/core/words"
	"morvek/store"
	"morvek/web/desk"
	"morvek/workspace"
)

// arrivalView is a model that came in, before anything was done to it.
type arrivalView struct {
	store.Document
	Mesh     string // names the mesh, for caches
	Counts   []report.Counted
	Diagonal float64
	Unit     string
	Units    []string
	Up       string
	Ups      []string
	Asks     string // about the unit
	Baked    []string
	Lost     []string
	Health   []ailmentView
	Weld     float64 // the distance points are welded within, in model units
	Merges   int     // faces that merging triangles leaves, 0 where there is nothing to merge
	Merged   bool    // they are
	Maps     []mapView
	Before   []store.Document // models it can be the next revision of
	Begun    bool             // there are edits: nothing can be repaired any more
	Done     []mend.Repair    // on arrival
}

type ailmentView struct {
	Kind, Name, Note, Repair, Does string
	Count                          int
	Place                          int // of its faces in the list that is asked for
}

type mapView struct {
	In      document.MapID // which one of the file
	Name    string
	Is      string // what it is worth, in words
	Junk    bool
	Dropped bool
}

// arrival shows what came in and asks how to begin.
func (p *Pages) arrival(c *echo.Context) error {
	o, err := p.Open(c)
	if err != nil {
		return err
	}
	d := o.Doc
	m, set := d.Source, d.State.Settings
	v := arrivalView{Document: o.Row, Mesh: o.MeshKey(), Diagonal: m.Diagonal(), Unit: set.Unit, Units: document.Units, Up: string(set.Up), Ups: document.Ups, Baked: m.Baked, Lost: m.Lost,
		Begun: o.Row.Head > 0 || o.Row.NextEdit != "", Weld: mend.DefaultWeld * m.Diagonal(),
		Counts: report.Counts(d)}
	siblings, err := p.Store.Documents(c.Request().Context(), o.Row.ProjectID)
	if err != nil {
		return err
	}
	for _, s := range siblings {
		if s.ID != o.Row.ID && s.Head > 0 { // something was done to it
			v.Before = append(v.Before, s)
		}
	}
	was, err := p.Docs.Arrived(c.Request().Context(), o.Row)
	if err != nil {
		return err
	}
	done := was.Repairs
	for _, r := range mend.Repairs() {
		if slices.Contains(done, r.Kind) {
			v.Done = append(v.Done, r)
		}
	}
	if was.Weld > 0 {
		v.Weld = was.Weld
	}
	v.Merged = set.Merged
	if n := merging(d); n < m.NumFaces() {
		v.Merges = n
	}
	if set.Unit != document.DefaultSettings().Unit {
		v.Asks = fmt.Sprintf("In metres it would be %s across, so it is taken to be in %s.", far(m.Diagonal()), set.Unit)
	}
	does := map[string]string{}
	for _, r := range mend.Repairs() {
		does[r.Kind] = r.Says
	}
	for i, a := range report.HealthReports(d) {
		if slices.Contains(done, a.Repair) {
			a.Repair = "" // was done, and this is left
		}
		v.Health = append(v.Health, ailmentView{Kind: a.Kind, Name: a.Name(), Note: a.Aside(), Repair: a.Repair, Does: does[a.Repair], Count: a.Count, Place: i})
	}
	for _, n := range was.Drop {
		v.Maps = append(v.Maps, mapView{In: n, Name: fmt.Sprintf("Map %d", n), Is: "left out", Dropped: true})
	}
	in := document.MapID(0) // of the file
	for _, h := range d.State.Maps() {
		for in++; slices.Contains(was.Drop, in); {
			in++
		}
		if s, ok := d.State.Through(h.ID); ok && s.Map.AnyMapped() {
			is, junk := worth(proof.Measure(d.With(s).ProofInput()).Totals, m.NumFaces())
			v.Maps = append(v.Maps, mapView{In: in, Name: h.Name, Is: is, Junk: junk})
		}
	}
	return c.Render(http.StatusOK, "arrival.html", v)
}

// mostMerged bounds the models of which it is counted what merging makes of them.
const mostMerged = 400_000

// merging is how many faces are left when triangles are merged.
func merging(d *document.Document) int {
	switch m := d.Source; {
	case d.State.Settings.Merged:
		return d.Mesh.NumFaces()
	case m.NumFaces() > mostMerged:
		return m.NumFaces()
	default:
		return mesh.Merge(d.Mesh).Mesh.NumFaces()
	}
}

// far is a length in metres, kilometres too.
func far(metres float64) string {
	if metres >= 1000 {
		return fmt.Sprintf("%.3g km", metres/1000)
	}
	return fmt.Sprintf("%.3g m", metres)
}

// From what share of overlapping faces and from what stretch on a map is called junk.
const (
	junkOverlap = 0.02
	junkStretch = 1.5
)

// worth says what a map that came along is worth.
func worth(t proof.Totals, faces int) (is string, junk bool) {
	var all []string
	if t.Unmapped > 0 {
		all = append(all, fmt.Sprintf("%d of %s not mapped", t.Unmapped, words.Count(faces, "face")))
	}
	if t.OverlapShare > junkOverlap {
		all, junk = append(all, fmt.Sprintf("%.0f %% lie on each other", 100*min(1, t.OverlapShare))), true
	}
	if !(t.L2 <= junkStretch) {
		all, junk = append(all, "stretched or collapsed"), true
	}
	if t.Mirrored > 0 {
		all = append(all, fmt.Sprintf("%d mirrored", t.Mirrored))
	}
	if t.Outside > 0 {
		all = append(all, fmt.Sprintf("%d outside the sheet", t.Outside))
	}
	if len(all) == 0 {
		return fmt.Sprintf("%s, fill %.0f %%", words.Count(t.Shells, "shell"), 100*t.Coverage), false
	}
	return strings.Join(all, ", "), junk
}

// ailing answers with the faces of each line of the health list, as the views number them.
func (p *Pages) ailing(c *echo.Context) error {
	o, err := p.Open(c)
	if err != nil {
		return err
	}
	out := [][]mesh.FaceID{}
	for _, a := range o.Doc.Health() {
		list := []mesh.FaceID{}
		for _, f := range a.Faces {
			list = append(list, o.Doc.Reduced.Carrier(o.Doc.Source, f))
		}
		out = append(out, list)
	}
	return c.JSON(http.StatusOK, out)
}

// welding tells how many points would be welded within a distance.
func (p *Pages) welding(c *echo.Context) error {
	o, err := p.Open(c)
	if err != nil {
		return err
	}
	within, err := strconv.ParseFloat(c.QueryParam("within"), 64)
	if err != nil || !(within >= 0) {
		return echo.NewHTTPError(http.StatusBadRequest, "a distance is a number from 0")
	}
	n := 0
	for _, x := range mend.Find(o.Doc.Source, mend.Options{Weld: within}, "weld") {
		n = x.Count
	}
	return c.JSON(http.StatusOK, map[string]int{"points": n})
}

type arrivalRequest struct {
	workspace.Arrival
	Base int64 `json:"base"`
	Run  bool  `json:"run"`

	Revises int64 `json:"revises,omitempty"` // the document it is the next revision of
}

// arrive begins as it was asked for, with the whole job if that was asked too.
func (p *Pages) arrive(c *echo.Context) error {
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	r, err := desk.ReadBody[arrivalRequest](c)
	if err != nil {
		return err
	}
	o, err := p.Docs.Arrive(c.Request().Context(), id, r.Base, r.Arrival)
	if err != nil {
		return err
	}
	if r.Revises != 0 { // what it would keep is looked at first
		return c.JSON(http.StatusOK, map[string]string{"url": fmt.Sprintf("/documents/%d/revision?of=%d", id, r.Revises)})
	}
	if r.Run {
		if _, err := p.Queue.Run(c.Request().Context(), o.Ref(), o.Row.Revision, desk.Who(c)); err != nil {
			return err
		}
	}
	return c.JSON(http.StatusOK, map[string]string{"url": fmt.Sprintf("/documents/%d", id)})
}
