package compare

import (
	"fmt"
	"net/http"
	"strconv"

	"github.com/labstack/echo/v5"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/revise"
	"morvek/people"
	"morvek/store"
	"morvek/web/desk"
	"morvek/workspace"
)

// revisionView is a model that came in beside the one it is to be the next revision of.
type revisionView struct {
	store.Document
	Before, After side
	Maps          []document.MapHead // of the model before
	Views         []pair
}

// revision shows what the next revision of a model would keep of its map, before it does.
func (p *Compare) revision(c *echo.Context) error {
	o, from, err := p.revised(c)
	if err != nil {
		return err
	}
	before, err := p.Docs.Through(c.Request().Context(), from)
	if err != nil {
		return err
	}
	v := revisionView{Document: o.Row, Before: side{Opened: before, Asked: store.Now}, After: side{Opened: o, Asked: store.Now}, Maps: before.Doc.State.Maps()}
	models := newPair("piece", "changes", "parts")
	models.Ways, models.Apart = true, true
	v.Views = []pair{models}
	return c.Render(http.StatusOK, "revision.html", v)
}

// revised is the document that came in, and the one of which it is to be the next revision: ?of, its map
// ?wasmap.
func (p *Compare) revised(c *echo.Context) (o *workspace.Opened, from workspace.Ref, err error) {
	id, err := desk.ID(c)
	if err != nil {
		return nil, from, err
	}
	if from.Document, err = strconv.ParseInt(c.QueryParam("of"), 10, 64); err != nil || from.Document == id {
		return nil, from, store.ErrNotFound
	}
	if err := p.AllowedOf(c, people.View, store.ADocument, from.Document); err != nil {
		return nil, from, err
	}
	if n, err := strconv.ParseInt(c.QueryParam("wasmap"), 10, 32); err == nil && n > 0 {
		from.Map = document.MapID(n)
	}
	if o, err = p.Docs.Get(c.Request().Context(), id); err == nil {
		err = workspace.Revisable(o)
	}
	return o, from, err
}

// partFate is what becomes of the faces of a part, by their fate; Now and Was are a face of it.
type partFate struct {
	Name  string      `json:"name"`
	Now   mesh.FaceID `json:"now"`
	Was   mesh.FaceID `json:"was"`
	Faces [4]int      `json:"faces"`
}

// outlookAnswer is what becomes of both models; a digit for the fate of each face.
type outlookAnswer struct {
	After  string            `json:"after"`
	Before string            `json:"before"`
	Faces  [4]int            `json:"faces"`
	Moved  int               `json:"moved"` // of those that are adapted
	Part   []document.PartID `json:"part"`  // of each face of the model that came in
	Parts  []partFate        `json:"parts"`
}

func digits(fates []revise.Fate) string {
	b := make([]byte, len(fates))
	for i, f := range fates {
		b[i] = '0' + byte(f)
	}
	return string(b)
}

// outlook foresees the revision, telling how far it is; it ends when the browser lets go of it.
func (p *Compare) outlook(c *echo.Context) error {
	o, from, err := p.revised(c)
	if err != nil {
		return err
	}
	return desk.Lines(c, func(send func(any)) error {
		look, err := p.Docs.Foresee(c.Request().Context(), o, from, func(what string, done float64) { send(map[string]any{"what": what, "done": done}) })
		if err == nil {
			send(map[string]any{"outlook": newOutlook(look)})
		}
		return err
	})
}

func newOutlook(look revise.Outlook) outlookAnswer {
	v := outlookAnswer{After: digits(look.After), Before: digits(look.Before), Moved: look.Moved, Part: look.Part, Parts: []partFate{}}
	v.Faces = [4]int{look.Kept, look.Moved + look.Remeshed, look.New, look.Gone}
	for _, q := range look.Parts {
		v.Parts = append(v.Parts, partFate(q))
	}
	return v
}

// take queues the revision.
func (p *Compare) take(c *echo.Context) error {
	o, from, err := p.revised(c)
	if err != nil {
		return err
	}
	if _, err := p.Docs.Through(c.Request().Context(), from); err != nil {
		return err
	}
	if _, err := p.Queue.Revise(c.Request().Context(), o, from, desk.Who(c)); err != nil {
		return err
	}
	return c.JSON(http.StatusAccepted, map[string]string{"url": fmt.Sprintf("/documents/%d", o.Row.ID)})
}
