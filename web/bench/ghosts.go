package bench

import (
	"context"
	"errors"
	"fmt"
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/preview"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/report"
	"morvek/core/words"
	"morvek/web/wire"
	"morvek/workspace"
)

// ghost answers what an edit would do. It ends when the browser lets go of it.
func (b *Bench) ghost(c *echo.Context) error {
	o, err := b.Open(c)
	if err != nil {
		return err
	}
	r, e, err := readEdit(c)
	if err != nil {
		return err
	}
	ctx := c.Request().Context()
	p, err := edit.Preview(ctx, o.Doc, e)
	switch {
	case r.Offer && errors.Is(err, document.ErrRefused):
		return c.JSON(http.StatusOK, wire.Ghost{Refused: workspace.Words(err)})
	case err != nil:
		return err
	}
	v := newGhostView(o.Doc, p)
	if p.Whole {
		if v.Before, err = sumUp(ctx, o); err != nil {
			return err
		}
		if v.After, err = sumUp(ctx, o.With(p.State)); err != nil {
			return err
		}
	}
	return c.JSON(http.StatusOK, v)
}

// newGhostView lists what an edit would change, and what there is to say about it.
func newGhostView(d *document.Document, p preview.Preview) (v wire.Ghost) {
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
		v.Stretch = &wire.Cost{Was: stretchOf(d.Mesh, d.State, around), Will: stretchOf(d.Mesh, next, around)}
	}
	v.Said, v.Rows, v.LetGo, v.Straight = p.Said, rowViews(p.Rows), p.LetGo, p.Straight
	if p.Worst != nil {
		f := int32(*p.Worst)
		v.Worst = &f
	}
	if p.Parts != nil {
		v.Parts = &wire.PartsChange{Was: p.Parts.Was, Will: p.Parts.Will, United: p.Parts.United, Split: p.Parts.Split}
	}
	if c := p.Join; c != nil {
		v.Join = &wire.Join{Stays: c.Stays, Moves: c.Moves, StaysName: partName(d.State, c.Stays), MovesName: partName(d.State, c.Moves),
			Length: words.Length(c.Length, d.State.Settings.Unit), Difference: c.RimDifference, Turn: c.TurnDeg, Opposite: c.Opposite,
			Rigid: c.Rigid, Was: c.Before, Will: c.After, OnRack: c.OnRack, Joined: c.Joined}
	}
	return v
}

// stretchOf sums up the shells that have some of the faces.
func stretchOf(m *mesh.Mesh, s *document.State, faces []mesh.FaceID) wire.Stretch {
	c := lay.Cost(s, m, faces)
	v := wire.Stretch{Shells: c.Shells, L2: wire.Finite(c.L2), Angular: wire.Finite(c.Angular)}
	if p := s.PartOf(faces[0]); p >= 0 {
		v.Note = s.Parts[p].Note
	}
	return v
}

// sumUp measures a map for the dial.
func sumUp(ctx context.Context, o *workspace.Opened) (*wire.Figures, error) {
	r, err := o.Audit(ctx)
	if err != nil {
		return nil, err
	}
	unit := o.Doc.State.Settings.Unit
	f := &wire.Figures{Shells: r.Totals.Shells, Seam: words.Length(r.Totals.SeamLength, unit), Exposed: words.Length(r.Totals.SeamExposed, unit), Worst: 1,
		Fill: fmt.Sprintf("%.1f %%", 100*r.Totals.Coverage), Density: fmt.Sprintf("%.0f px/%s", r.Totals.MeanDensity, unit), Least: report.Gap(r.Totals.MinGapPx), Rim: report.Gap(r.Totals.MinRimPx)}
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
