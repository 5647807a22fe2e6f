package seams

import (
	"fmt"
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/core/mesh"
	"morvek/core/segment"
	"morvek/core/words"
)

// suggestionView is a cut that is not there yet, in words.
type suggestionView struct {
	Words  string // what for
	Reason string // crease, exposure
	Part   string
	Length string
	Edges  []mesh.EdgeID
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
func (r room) suggestions(c *echo.Context) error {
	o, err := r.Open(c)
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
