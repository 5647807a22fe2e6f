package bench

import (
	"html/template"
	"regexp"
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
	"gap":      report.Gap,
	"mul100":   func(v float64) float64 { return 100 * v },
	"ends":     ends,
	"tint":     func(p document.PartID) int { return int(p) % 12 },
	"sum":      func(v cardView, i int) sumView { return sumView{v.ToDo[i], v.Look[i]} },
	"momentin": func(document int64, m store.Moment) momentView { return momentView{document, m} },
	"rowin":    func(r report.Row, v cardView) cardRowView { return cardRowView{r, v.Stations, v.Unit} },
}

// lastWord, with its number, is what tells parts of one object apart.
var lastWord = regexp.MustCompile(`(\d+ )?\S+( \d+)?$`)

// ends parts a name before what must be seen of it where there is no room for all.
func ends(name string) [2]string {
	at := lastWord.FindStringIndex(name)
	if at == nil {
		return [2]string{"", name}
	}
	return [2]string{name[:at[0]], name[at[0]:]}
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
