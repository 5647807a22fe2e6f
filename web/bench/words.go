package bench

import (
	"html/template"
	"strconv"
	"strings"

	"morvek/core/document"
	"morvek/core/report"
	"morvek/core/words"
	"morvek/store"
)

// Words is what templates write numbers and marks with.
var Words = template.FuncMap{
	"thousands": thousands, "length": words.Length, "mark": markGlyph, "lower": strings.ToLower, "upper": strings.ToUpper,
	"mul100":   func(v float64) float64 { return 100 * v },
	"tint":     func(p document.PartID) int { return int(p) % 12 },
	"sum":      func(v cardView, i int) sumView { return sumView{v.ToDo[i], v.Look[i]} },
	"momentin": func(document int64, m store.Moment) momentView { return momentView{document, m} },
	"rowin":    func(r report.Row, v cardView) cardRowView { return cardRowView{r, v.Stations, v.Unit} },
}

// thousands writes a count with thin gaps.
func thousands(n int) string {
	s := strconv.Itoa(n)
	for i := len(s) - 3; i > 0; i -= 3 {
		s = s[:i] + "\u202f" + s[i:]
	}
	return s
}

// markGlyph is the shape of a mark on the card, readable without colour.
func markGlyph(m report.Mark) string {
	switch m {
	case report.Suggested:
		return "◇"
	case report.ByHand:
		return "✓"
	case report.NotNeeded:
		return "–"
	case report.Signed:
		return "◆"
	}
	return ""
}
