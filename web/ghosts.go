package web

import (
	"context"
	"errors"
	"net/http"

	"github.com/labstack/echo/v4"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/preview"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/words"
	"morvek/workspace"
)

// ghostView is what an edit would do, without it being done.
type ghostView struct {
	Corners []int32    `json:"corners"` // whose place on the sheet changes
	UV      []float32  `json:"uv"`      // two for each corner
	Faces   []int32    `json:"faces"`   // all faces of the shells that change
	Opened  []int32    `json:"opened"`  // edges that would be cut
	Closed  []int32    `json:"closed"`  // edges that would not be any more
	Join    *joinView  `json:"join,omitempty"`
	Before  *figures   `json:"before,omitempty"`
	After   *figures   `json:"after,omitempty"`
	Stretch *costView  `json:"stretch,omitempty"`
	Parts   *partsView `json:"parts,omitempty"`
	Said    string     `json:"said,omitempty"`    // what it does, in words
	Refused string     `json:"refused,omitempty"` // why it cannot be done, of an offer
	Worst   *int32     `json:"worst,omitempty"`   // face that stretches most afterwards

	Straight *float64 `json:"straight,omitempty"` // share of the edges of a trued shell that would be

	Rows  []rowView     `json:"rows,omitempty"`   // loops or seams that pay most
	LetGo []mesh.EdgeID `json:"let_go,omitempty"` // edges of loops that stay bent
}

// costView is the stretch of the shells an edit changes, before and after.
type costView struct {
	Was  stretchView `json:"was"`
	Will stretchView `json:"will"`
}

type stretchView struct {
	Shells  int     `json:"shells"`
	L2      float64 `json:"l2"`
	Angular float64 `json:"angular"` // worst p95
	Note    string  `json:"note,omitempty"`
}

type joinView struct {
	Stays      mesh.FaceID `json:"stays"`
	Moves      mesh.FaceID `json:"moves"`
	StaysName  string      `json:"stays_name"`
	MovesName  string      `json:"moves_name"`
	Length     string      `json:"length"`
	Difference float64     `json:"difference"`
	Turn       [2]float64  `json:"turn"`
	Opposite   bool        `json:"opposite"`
	Rigid      bool        `json:"rigid"`
	Was        float64     `json:"was"`
	Will       float64     `json:"will"`
	OnRack     bool        `json:"on_rack"`
	Joined     int         `json:"joined"`
}

// figures sum up a map for the dial.
type figures struct {
	Shells  int     `json:"shells"`
	Seam    string  `json:"seam"`
	Exposed string  `json:"exposed"`
	Worst   float64 `json:"worst"`
}

// ghost answers what an edit would do. It ends when the browser lets go of it.
func (s *Server) ghost(c echo.Context) error {
	o, err := s.open(c)
	if err != nil {
		return err
	}
	r, err := readBody[editRequest](c)
	if err != nil {
		return err
	}
	e, err := edit.Decode(r.Edit)
	if err != nil {
		return err
	}
	ctx := c.Request().Context()
	p, err := edit.Preview(ctx, o.Doc, e)
	switch {
	case r.Offer && errors.Is(err, document.ErrRefused):
		return c.JSON(http.StatusOK, ghostView{Refused: workspace.Words(err)})
	case err != nil:
		return err
	}
	v := newGhostView(o.Doc, p)
	if p.Whole {
		if v.Before, err = sumUp(ctx, o); err != nil {
			return err
		}
		if v.After, err = sumUp(ctx, &workspace.Opened{Row: o.Row, Doc: o.Doc.With(p.State)}); err != nil {
			return err
		}
	}
	return c.JSON(http.StatusOK, v)
}

// newGhostView lists what an edit would change, and what there is to say about it.
func newGhostView(d *document.Document, p preview.Preview) (v ghostView) {
	next := p.State
	delta := document.Diff(d.State, next)
	for _, u := range delta.Map.Corners {
		v.Corners = append(v.Corners, int32(u.Corner))
		v.UV = append(v.UV, float32(u.New.X), float32(u.New.Y))
	}
	faces := delta.Faces(d.Mesh)
	for _, f := range faces {
		v.Faces = append(v.Faces, int32(f))
	}
	for _, id := range delta.Map.Cut {
		if next.Map.IsCut(id) {
			v.Opened = append(v.Opened, int32(id))
		} else {
			v.Closed = append(v.Closed, int32(id))
		}
	}
	if len(faces) > 0 {
		around := append(next.Map.ShellsOf(faces), faces...) // what a hole is filled in
		v.Stretch = &costView{stretchOf(d.Mesh, d.State, around), stretchOf(d.Mesh, next, around)}
	}
	v.Said, v.Rows, v.LetGo, v.Straight = p.Said, rowViews(p.Rows), p.LetGo, p.Straight
	if p.Worst != nil {
		f := int32(*p.Worst)
		v.Worst = &f
	}
	if p.Parts != nil {
		v.Parts = &partsView{p.Parts.Was, p.Parts.Will, p.Parts.United, p.Parts.Split}
	}
	if c := p.Join; c != nil {
		v.Join = &joinView{c.Stays, c.Moves, partName(d.State, c.Stays), partName(d.State, c.Moves), words.Length(c.Length, d.State.Settings.Unit),
			c.RimDifference, c.TurnDeg, c.Opposite, c.Rigid, c.Before, c.After, c.OnRack, c.Joined}
	}
	return v
}

// stretchOf sums up the shells that have some of the faces.
func stretchOf(m *mesh.Mesh, s *document.State, faces []mesh.FaceID) stretchView {
	c := lay.Cost(s, m, faces)
	v := stretchView{Shells: c.Shells, L2: finite(c.L2), Angular: finite(c.Angular)}
	if p := s.PartOf(faces[0]); p >= 0 {
		v.Note = s.Parts[p].Note
	}
	return v
}

// sumUp measures a map for the dial.
func sumUp(ctx context.Context, o *workspace.Opened) (*figures, error) {
	r, err := o.Audit(ctx)
	if err != nil {
		return nil, err
	}
	unit := o.Doc.State.Settings.Unit
	f := &figures{Shells: r.Totals.Shells, Seam: words.Length(r.Totals.SeamLength, unit), Exposed: words.Length(r.Totals.SeamExposed, unit), Worst: 1}
	for _, s := range r.Shells {
		f.Worst = max(f.Worst, s.AngularP95)
	}
	return f, nil
}

func partName(s *document.State, f mesh.FaceID) string {
	if p := s.PartOf(f); p >= 0 {
		return s.Parts[p].Name
	}
	return "this piece"
}
