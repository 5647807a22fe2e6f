package seams

import (
	"cmp"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/labstack/echo/v5"

	"morvek/core/document"
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
	Missing int    // openings without which a wall cannot lie flat
	Of      string // the chosen part, "" for none; what it needs comes first
	Mine    int    // openings that it lacks
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
	list, besides := together(list)
	if part, err := strconv.Atoi(c.QueryParam("part")); err == nil && part >= 0 && part < len(o.Doc.State.Parts) {
		of := document.PartID(part)
		v.Of = o.Doc.State.Parts[of].Name
		mine := func(x segment.Suggestion) int { // a wall may go on over several parts
			return b2i(x.Part == of || slices.ContainsFunc(x.Edges, func(e mesh.EdgeID) bool {
				f, g := o.Doc.Mesh.EdgeFaces(e)
				return f != mesh.None && o.Doc.State.PartOf(f) == of || g != mesh.None && o.Doc.State.PartOf(g) == of
			}))
		}
		slices.SortStableFunc(list, func(x, y segment.Suggestion) int { return cmp.Compare(mine(y), mine(x)) })
		for _, x := range list {
			if x.Why == segment.ForOpening {
				v.Mine += mine(x)
			}
		}
	}
	for _, x := range list {
		if x.Why == segment.ForOpening {
			v.Missing++
		}
		w := suggestionView{Words: reasonWords[x.Why] + besides[x.Part].words(x.Why), Reason: reasonText(x), Length: words.Length(x.Length, unit), Edges: x.Edges}
		if x.Part >= 0 {
			w.Part = o.Doc.State.Parts[x.Part].Name
		}
		v.List = append(v.List, w)
	}
	return c.Render(http.StatusOK, "suggestions.html", v)
}

// aside are cuts that go with the opening of a part: without them it does not open.
type aside struct{ corners, darts int }

func (a aside) words(why segment.Reason) string {
	var with []string
	if a.corners > 0 {
		with = append(with, words.Count(a.corners, "corner cut"))
	}
	if a.darts > 0 {
		with = append(with, words.Count(a.darts, "dart"))
	}
	if why != segment.ForOpening || len(with) == 0 {
		return ""
	}
	return " with " + strings.Join(with, " and ")
}

// together takes the corner cuts and darts of parts that lack an opening with that.
func together(list []segment.Suggestion) (out []segment.Suggestion, besides map[document.PartID]aside) {
	opening, besides := map[document.PartID]int{}, map[document.PartID]aside{}
	for _, x := range list {
		if x.Why == segment.ForOpening && x.Part >= 0 {
			if _, ok := opening[x.Part]; !ok {
				opening[x.Part] = len(out)
			}
			x.Edges = slices.Clone(x.Edges)
			out = append(out, x)
		}
	}
	for _, x := range list {
		k, ok := opening[x.Part]
		switch a := besides[x.Part]; {
		case x.Why == segment.ForOpening && x.Part >= 0:
			continue
		case ok && x.Why == segment.ForCorner:
			a.corners++
			besides[x.Part] = a
		case ok && x.Why == segment.ForDarts:
			a.darts++
			besides[x.Part] = a
		default:
			out = append(out, x)
			continue
		}
		out[k].Edges = append(out[k].Edges, x.Edges...)
		out[k].Length += x.Length
	}
	return out, besides
}

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
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
