// Package api is the same job over HTTP for programs: models in, the whole job or single edits, the
// report and deliveries out. Its path carries its version; openapi.json says all of it.
package api

import (
	_ "embed"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"path/filepath"

	"github.com/labstack/echo/v5"

	"morvek/core/delivery"
	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/meshio"
	"morvek/core/proof"
	"morvek/core/report"
	"morvek/people"
	"morvek/store"
	"morvek/web/desk"
	"morvek/workspace"
)

// Root is the path of this version.
const Root = "/api/v1"

// OpenAPI describes all of it, by the OpenAPI specification 3.1.
//
//go:embed openapi.json
var OpenAPI []byte

// API answers what is asked of it.
type API struct{ *desk.Desk }

// Routes adds those of this version.
func (a *API) Routes(e *echo.Echo) {
	g := e.Group(Root)
	g.GET("/openapi.json", func(c *echo.Context) error { return c.Blob(http.StatusOK, "application/json", OpenAPI) })
	g.GET("/edits", a.kinds)
	g.POST("/models", a.bring)
	g.GET("/uploads/:id", a.upload)
	g.GET("/works/:id", a.work)
	g.DELETE("/works/:id", a.cancel)
	g.GET("/works/:id/delivery", a.made)
	g.GET("/documents", a.documents)
	g.GET("/documents/:id", a.document)
	g.POST("/documents/:id/run", a.run)
	g.POST("/documents/:id/edits", a.edit)
	g.POST("/documents/:id/previews", a.preview)
	g.POST("/documents/:id/undo", func(c *echo.Context) error { return a.step(c, true) })
	g.POST("/documents/:id/redo", func(c *echo.Context) error { return a.step(c, false) })
	g.POST("/documents/:id/revisions", a.revise)
	g.POST("/documents/:id/revisions/preview", a.foresee)
	g.GET("/documents/:id/pictures", a.pictures)
	g.POST("/documents/:id/pictures", a.paint)
	g.GET("/documents/:id/report", a.report)
	g.POST("/documents/:id/deliveries", a.deliver)
	g.GET("/documents/:id/model/:file", a.model)
}

// documentView is a document as programs see it.
type documentView struct {
	ID       int64  `json:"id"`
	Title    string `json:"title"`
	File     string `json:"file"`
	Faces    int    `json:"faces"`
	Points   int    `json:"points"`
	Revision int64  `json:"revision"`
	Edits    int    `json:"edits"` // in force
	LastEdit string `json:"last_edit,omitempty"`

	Maps []mapView `json:"maps,omitempty"`
}

type mapView struct {
	document.MapHead
	Shells   int     `json:"shells"`
	Coverage float64 `json:"coverage"`
	Open     int     `json:"findings"` // that a painter would send back
}

func brief(d store.Document) documentView {
	return documentView{ID: d.ID, Title: d.Title, File: d.FileName, Faces: d.Faces, Points: d.Points, Revision: d.Revision, Edits: d.Head, LastEdit: d.LastEdit}
}

func whole(o *workspace.Opened) (documentView, error) {
	v := brief(o.Row)
	for _, h := range o.Doc.State.Maps() {
		seen, err := o.Through(h.ID)
		if err != nil {
			return v, err
		}
		p := seen.Proof()
		v.Maps = append(v.Maps, mapView{MapHead: h, Shells: p.Totals.Shells, Coverage: p.Totals.Coverage, Open: proof.Musts(p.Findings)})
	}
	return v, nil
}

// kinds lists the edits there are.
func (a *API) kinds(c *echo.Context) error {
	return c.JSON(http.StatusOK, map[string]any{"edits": edit.Kinds()})
}

// bring takes a model in, as the body of the request; ?name= is that of its file.
func (a *API) bring(c *echo.Context) error {
	name := filepath.Base(c.QueryParam("name"))
	data, err := io.ReadAll(http.MaxBytesReader(c.Response(), c.Request().Body, desk.MaxModel))
	if err != nil {
		return echo.NewHTTPError(http.StatusRequestEntityTooLarge, fmt.Sprintf("the file is larger than %d MB, or the upload broke off", desk.MaxModel>>20))
	}
	upload, work, err := a.TakeModel(c, 0, name, data)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusAccepted, map[string]int64{"upload": upload, "work": work})
}

// upload tells what became of a file.
func (a *API) upload(c *echo.Context) error {
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	u, err := a.Store.Upload(c.Request().Context(), id)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, struct {
		State    string `json:"state"`
		Message  string `json:"message,omitempty"`
		Work     int64  `json:"work"`
		Document *int64 `json:"document,omitempty"`
	}{u.State, u.Message, u.Work, u.DocumentID})
}

// work tells how far long work is.
func (a *API) work(c *echo.Context) error {
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	w, err := a.Store.Work(c.Request().Context(), id)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, w)
}

func (a *API) cancel(c *echo.Context) error {
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	if err := a.Queue.Cancel(c.Request().Context(), id); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

// made hands out the delivery that a work made.
func (a *API) made(c *echo.Context) error {
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	d, err := a.Store.DeliveryOf(c.Request().Context(), id)
	if err != nil {
		return err
	}
	return a.Delivery(c, d.ID)
}

func (a *API) documents(c *echo.Context) error {
	ctx := c.Request().Context()
	projects, err := a.Projects(c, people.View)
	if err != nil {
		return err
	}
	out := []documentView{}
	for _, p := range projects {
		list, err := a.Store.Documents(ctx, p.ID)
		if err != nil {
			return err
		}
		for _, d := range list {
			out = append(out, brief(d))
		}
	}
	return c.JSON(http.StatusOK, out)
}

func (a *API) document(c *echo.Context) error {
	o, err := a.Open(c)
	if err != nil {
		return err
	}
	return answer(c, o)
}

func answer(c *echo.Context, o *workspace.Opened) error {
	v, err := whole(o)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, v)
}

// change is what comes with a change: the revision that was seen, 0 for whatever is now.
type change struct {
	Base int64           `json:"base"`
	Key  string          `json:"key,omitempty"` // sent again it is made once
	Edit json.RawMessage `json:"edit,omitempty"`
}

// asked reads a change and the document it is of.
func (a *API) asked(c *echo.Context) (r change, o *workspace.Opened, err error) {
	if o, err = a.Open(c); err != nil {
		return r, nil, err
	}
	if c.Request().ContentLength != 0 {
		if r, err = desk.ReadBody[change](c); err != nil {
			return r, nil, err
		}
	}
	if r.Base == 0 {
		r.Base = o.Row.Revision
	}
	return r, o, desk.CheckKey(r.Key)
}

func (a *API) run(c *echo.Context) error {
	r, o, err := a.asked(c)
	if err != nil {
		return err
	}
	if r.Base != o.Row.Revision {
		return store.ErrStale
	}
	w, err := a.Queue.Run(c.Request().Context(), o.Ref(), r.Base, desk.Who(c))
	return begun(c, w, err)
}

func begun(c *echo.Context, work int64, err error) error {
	if err != nil {
		return err
	}
	return desk.Begun(c, work)
}

// edit makes an edit: at once, or as a work if it may take long.
func (a *API) edit(c *echo.Context) error {
	r, o, err := a.asked(c)
	if err != nil {
		return err
	}
	e, err := edit.Decode(r.Edit)
	if err != nil {
		return err
	}
	made, err := a.Make(c.Request().Context(), o.Ref(), r.Base, store.By{Key: r.Key, Who: desk.Who(c)}, e)
	switch {
	case err != nil:
		return err
	case made.Work != 0:
		return desk.Begun(c, made.Work)
	}
	return answer(c, made.Now)
}

// preview tells what an edit would do, without doing it.
func (a *API) preview(c *echo.Context) error {
	r, o, err := a.asked(c)
	if err != nil {
		return err
	}
	e, err := edit.Decode(r.Edit)
	if err != nil {
		return err
	}
	p, err := edit.Preview(c.Request().Context(), o.Doc, e)
	if err != nil {
		return err
	}
	if p.State == nil {
		return errors.New("a preview without a state")
	}
	v, err := whole(o.With(p.State))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, struct {
		Does string `json:"does"`
		Said string `json:"said,omitempty"`
		documentView
	}{e.Describe(), p.Said, v})
}

// revision tells which document the one that is asked for is the next revision of, and which of its
// maps is kept.
type revision struct {
	Of  int64          `json:"of"`
	Map document.MapID `json:"map,omitempty"` // 0 for its first
}

// revised reads a revision and the document that is to be one.
func (a *API) revised(c *echo.Context) (o *workspace.Opened, from workspace.Ref, err error) {
	if o, err = a.Open(c); err != nil {
		return nil, from, err
	}
	r, err := desk.ReadBody[revision](c)
	if err != nil {
		return nil, from, err
	}
	from = workspace.Ref{Document: r.Of, Map: r.Map}
	if err := a.AllowedOf(c, people.View, store.ADocument, from.Document); err != nil {
		return nil, from, err
	}
	if _, err := a.Docs.Through(c.Request().Context(), from); err != nil {
		return nil, from, err
	}
	return o, from, workspace.Revisable(o)
}

// revise brings the map of an earlier revision over, as a work.
func (a *API) revise(c *echo.Context) error {
	o, from, err := a.revised(c)
	if err != nil {
		return err
	}
	w, err := a.Queue.Revise(c.Request().Context(), o, from, desk.Who(c))
	return begun(c, w, err)
}

// foresee tells what revise would keep.
func (a *API) foresee(c *echo.Context) error {
	o, from, err := a.revised(c)
	if err != nil {
		return err
	}
	look, err := a.Docs.Foresee(c.Request().Context(), o, from, func(string, float64) {})
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, look.Carried)
}

func (a *API) step(c *echo.Context, back bool) error {
	r, o, err := a.asked(c)
	if err != nil {
		return err
	}
	now, err := a.Docs.Step(c.Request().Context(), o.Row.ID, r.Base, desk.Who(c), back)
	if err != nil {
		return err
	}
	return answer(c, now)
}

// pictures lists what was painted on a map.
func (a *API) pictures(c *echo.Context) error {
	o, err := a.Open(c)
	if err != nil {
		return err
	}
	list, err := a.Store.Pictures(c.Request().Context(), o.Row.ID, int32(o.Doc.State.Shown.ID))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, map[string]any{"pictures": list})
}

// paint takes a picture that was painted, as the body of the request.
func (a *API) paint(c *echo.Context) error {
	kept, err := a.TakePainted(c)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, kept)
}

func (a *API) report(c *echo.Context) error {
	o, err := a.Open(c)
	if err != nil {
		return err
	}
	r, err := report.Of(c.Request().Context(), o.Doc, o.Row.FileName)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, r)
}

func (a *API) deliver(c *echo.Context) error {
	o, err := a.Open(c)
	if err != nil {
		return err
	}
	order, err := desk.ReadBody[delivery.Order](c)
	if err != nil {
		return err
	}
	w, err := a.Queue.Deliver(c.Request().Context(), o, order, desk.Who(c))
	return begun(c, w, err)
}

// model hands out the mesh with its maps in the format the name says.
func (a *API) model(c *echo.Context) error {
	o, err := a.Open(c)
	if err != nil {
		return err
	}
	f, ok := meshio.Of(c.Param("file"))
	if !ok || f.Write == nil {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "a model can be "+meshio.Endings(true))
	}
	c.Response().Header().Set("Content-Type", f.Media)
	return f.Write(c.Response(), o.Doc.Source, o.Doc.Written(f))
}
