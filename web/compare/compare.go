// Package compare shows two states beside each other: what was done to a document, and what became
// of a model in its next revision.
package compare

import (
	"context"
	"embed"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"

	"github.com/labstack/echo/v5"

	"morvek/core/document"
	"morvek/core/report"
	"morvek/people"
	"morvek/store"
	"morvek/web/desk"
	"morvek/web/wire"
	"morvek/workspace"
)

// Templates are those of the pages that compare.
//
//go:embed *.html
var Templates embed.FS

// Compare answers what is asked of it.
type Compare struct{ *desk.Desk }

// Routes adds them to those of the application.
func (p *Compare) Routes(e *echo.Echo) {
	d := e.Group("/documents/:id")
	d.GET("/compare", p.page)
	d.GET("/compare.bin", p.changes)
	d.GET("/revision", p.revision)
	d.GET("/revision/outlook", p.outlook)
	d.POST("/revision", p.take)
}

// side is one of the two states.
type side struct {
	*workspace.Opened
	Asked  int // how many edits it is after, or store.Now
	Maps   []document.MapHead
	States []stateView // it can be of
}

// stateView is a state of a worklog, to choose.
type stateView struct {
	Seq  int
	Says string
}

// pageView is two states and what they differ by.
type pageView struct {
	store.Document
	Before, After side
	Siblings      []store.Document
	Differs       report.Differences
	Rows          []partView
	Views         []pair
	Query         string
	Same          bool // nothing differs
}

// partView is a part that differs, with what it says of both states.
type partView struct {
	report.PartDifference
	Shells, Stretch [2]string
}

func partViews(parts []report.PartDifference) (out []partView) {
	for _, p := range parts {
		v := partView{PartDifference: p}
		for i, r := range []*report.PartRow{p.Before, p.After} {
			v.Shells[i], v.Stretch[i] = "–", "–"
			if r != nil && r.Shells > 0 {
				v.Shells[i], v.Stretch[i] = strconv.Itoa(r.Shells), r.Stretch
			}
		}
		out = append(out, v)
	}
	return out
}

// Of names a side for the browser: the document, the mesh, the map and the state.
func (s side) Of() string {
	return fmt.Sprintf("%d %s %d %d", s.Row.ID, s.MeshKey(), s.Doc.State.Shown.ID, s.Asked)
}

// Shown is the map that is seen.
func (s side) Shown() document.MapID { return s.Doc.State.Shown.ID }

func (p *Compare) page(c *echo.Context) error {
	before, after, err := p.sides(c)
	if err != nil {
		return err
	}
	ctx := c.Request().Context()
	v := pageView{Document: after.Row, Before: before, After: after, Query: c.QueryString()}
	v.Views = []pair{newPair("piece", "changes", "parts", "cloth", "stretch", "grain"), newPair("sheet")}
	v.Views[1].Ways = true
	if v.Siblings, err = p.Store.Documents(ctx, after.Row.ProjectID); err != nil {
		return err
	}
	logs := map[int64][]stateView{} // of each document once
	for _, s := range []*side{&v.Before, &v.After} {
		id := s.Row.ID
		if logs[id] == nil {
			if logs[id], err = p.states(ctx, id); err != nil {
				return err
			}
		}
		s.States, s.Maps = withState(logs[id], s.Row.Head), s.Doc.State.Maps()
	}
	if v.Differs, err = differences(ctx, before, after); err != nil {
		return err
	}
	v.Rows = partViews(v.Differs.Parts)
	v.Same = len(v.Rows) == 0 && v.Differs.Counts[report.Stays] == len(v.Differs.Faces)
	return c.Render(http.StatusOK, "compare.html", v)
}

// differences measures both sides, the exposure of seams included.
func differences(ctx context.Context, before, after side) (d report.Differences, err error) {
	var seen [2]report.Seen
	for i, s := range []side{before, after} {
		r, err := s.Audit(ctx)
		if err != nil {
			return d, err
		}
		seen[i] = report.Seen{Doc: s.Doc, Proof: r}
	}
	return report.Compare(seen[0], seen[1]), nil
}

// changes hands out what became of each face.
func (p *Compare) changes(c *echo.Context) error {
	before, after, err := p.sides(c)
	if err != nil {
		return err
	}
	became := report.Changes(before.Doc, after.Doc)
	c.Response().Header().Set("Cache-Control", "no-store")
	return c.Blob(http.StatusOK, "application/octet-stream", wire.Changes(became, became))
}

// sides are what is asked for: ?is and ?was are how many edits of the worklog, nothing for now and for
// as it came; ?map and ?wasmap the maps they are seen through; ?of the document that was before, if it
// is another one.
func (p *Compare) sides(c *echo.Context) (before, after side, err error) {
	id, err := desk.ID(c)
	if err != nil {
		return before, after, err
	}
	if after, err = p.side(c, id, "is", "map"); err != nil {
		return before, after, err
	}
	if q := c.QueryParam("of"); q != "" {
		if id, err = strconv.ParseInt(q, 10, 64); err != nil {
			return before, after, store.ErrNotFound
		}
		if err := p.AllowedOf(c, people.View, store.ADocument, id); err != nil {
			return before, after, err
		}
	}
	before, err = p.side(c, id, "was", "wasmap")
	return before, after, err
}

// side opens one of the states; where it has no such map it is seen through its first.
func (p *Compare) side(c *echo.Context, id int64, state, shown string) (s side, err error) {
	s.Asked = store.Now
	if q := c.QueryParam(state); q != "" {
		if s.Asked, err = strconv.Atoi(q); err != nil || s.Asked < store.Now {
			return s, store.ErrNotFound
		}
	} else if state == "was" && c.QueryParam("of") == "" {
		s.Asked = 0
	}
	ref := workspace.First(id)
	if n, err := strconv.ParseInt(c.QueryParam(shown), 10, 32); err == nil && n > 0 {
		ref.Map = document.MapID(n)
	}
	ctx := c.Request().Context()
	if s.Opened, err = p.Docs.At(ctx, ref, s.Asked); errors.Is(err, workspace.ErrNoMap) {
		s.Opened, err = p.Docs.At(ctx, workspace.First(id), s.Asked)
	}
	return s, err
}

// states are those of a worklog up to the head, the newest first.
func (p *Compare) states(ctx context.Context, id int64) ([]stateView, error) {
	row, err := p.Store.Document(ctx, id)
	if err != nil {
		return nil, err
	}
	edits, err := p.Store.Worklog(ctx, id)
	if err != nil {
		return nil, err
	}
	out := []stateView{{store.Now, "now"}}
	for _, e := range edits {
		if e.Seq < row.Head {
			out = append(out, stateView{e.Seq, fmt.Sprintf("after %d: %s", e.Seq, e.Label)})
		}
	}
	return append(out, stateView{0, "as it came in"}), nil
}

// withState is a list of states with one that it does not reach back to.
func withState(list []stateView, seq int) []stateView {
	if n := len(list) - 2; seq > 0 && list[n].Seq > seq {
		return slices.Insert(slices.Clone(list), n+1, stateView{seq, fmt.Sprintf("after %d", seq)})
	}
	return list
}
