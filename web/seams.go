package web

import (
	"context"
	"fmt"
	"net/http"

	"github.com/labstack/echo/v4"

	"morvek/core/mesh"
	"morvek/core/segment"
	"morvek/core/words"
	"morvek/web/wire"
	"morvek/workspace"
)

// suggestionView is a cut that is not there yet, in words.
type suggestionView struct {
	Words  string // what for
	Reason string // crease, exposure
	Part   string
	Length string
	Edges  []mesh.EdgeID
}

// auditView is the seam audit in words.
type auditView struct {
	Length, Openings, Divisions, Creases, Hollows, Exposed string
	Flat                                                   float64 // percent
}

func newAuditView(ctx context.Context, o *workspace.Opened) (*auditView, error) {
	r, err := o.Audit(ctx)
	if err != nil {
		return nil, err
	}
	t, unit := r.Totals, o.Doc.State.Settings.Unit
	return &auditView{words.Length(t.SeamLength, unit), words.Length(t.SeamOpenings, unit), words.Length(t.SeamDivisions, unit), words.Length(t.SeamOnCrease, unit),
		words.Length(t.SeamConcave, unit), words.Length(t.SeamExposed, unit), 100 * t.SeamOnFlat}, nil
}

type suggestionsView struct {
	List    []suggestionView
	Missing int // openings without which a wall cannot lie flat
	Shells  int
	Seam    string
	Exposed string
	Flat    float64 // share of the seams on flat areas
	Mapped  bool
}

var reasonWords = map[segment.Reason]string{
	segment.ForOpening: "opening", segment.ForCorner: "corner cut", segment.ForDarts: "darts",
	segment.ForMaterial: "border of materials", segment.ForParts: "border of parts that stretch",
}

// suggestions lists the cuts that are missing, each with its reason.
func (s *Server) suggestions(c echo.Context) error {
	o, err := s.open(c)
	if err != nil {
		return err
	}
	ctx := c.Request().Context()
	list, err := o.Suggest(ctx)
	if err != nil {
		return err
	}
	audit, err := o.Audit(ctx)
	if err != nil {
		return err
	}
	t, unit := audit.Totals, o.Doc.State.Settings.Unit
	v := suggestionsView{Shells: t.Shells, Seam: words.Length(t.SeamLength, unit), Exposed: words.Length(t.SeamExposed, unit),
		Flat: t.SeamOnFlat, Mapped: t.Shells > 0}
	for _, x := range list {
		if x.Why == segment.ForOpening {
			v.Missing++
		}
		w := suggestionView{Words: reasonWords[x.Why], Reason: reasonText(x), Length: words.Length(x.Length, unit), Edges: x.Edges}
		if x.Part >= 0 {
			w.Part = o.Doc.State.Parts[x.Part].Name
		}
		v.List = append(v.List, w)
	}
	return c.Render(http.StatusOK, "suggestions.html", v)
}

// reasonText says what speaks for a cut.
func reasonText(x segment.Suggestion) string {
	bend := "on the flat"
	switch {
	case x.BendDeg <= -5:
		bend = fmt.Sprintf("hollow of %.0f°", -x.BendDeg)
	case x.BendDeg >= 5:
		bend = fmt.Sprintf("crease of %.0f°", x.BendDeg)
	}
	return fmt.Sprintf("%s, exposure %.2f", bend, x.Exposure)
}

// look queues looking at every face from all sides, unless that was done before.
func (s *Server) look(c echo.Context) error {
	o, err := s.open(c)
	if err != nil {
		return err
	}
	ctx := c.Request().Context()
	if _, known, err := s.docs.Exposure(ctx, o); err != nil || known {
		return ready(c, err)
	}
	w, err := s.queue.Look(ctx, o.Row.ID)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusAccepted, map[string]int64{"work": w})
}

func ready(c echo.Context, err error) error {
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, map[string]bool{"ready": true})
}

// exposureBlock hands out the exposure of each face, 0 hidden to 1 open.
func (s *Server) exposureBlock(c echo.Context) error {
	o, err := s.open(c)
	if err != nil {
		return err
	}
	v, known, err := s.docs.Exposure(c.Request().Context(), o)
	if err != nil {
		return err
	}
	if !known {
		return echo.NewHTTPError(http.StatusNotFound, "nobody has looked at this model from these sides yet; ask for it first")
	}
	c.Response().Header().Set("Cache-Control", "no-store")
	return c.Blob(http.StatusOK, "application/octet-stream", wire.Exposure(v))
}
