package wire

import (
	"fmt"

	"morvek/core/flow"
	"morvek/core/proof"
)

// grainWords says what the grain of a part is.
func grainWords(g flow.Grain) string {
	words, ok := map[flow.Mode]string{flow.Along: "along its axis", flow.Around: "around its axis", flow.Toward: "in one direction", flow.Walls: "along each of its walls"}[g.Mode]
	switch {
	case !ok:
		return "no grain"
	case g.Mode == flow.Toward && len(g.Path) > 0:
		words = "along picked edges"
	}
	if g.Sense {
		words += ", one way"
	}
	return words
}

// readingWords says how a label lies on the sheet.
func readingWords(l proof.LabelReading) string {
	switch {
	case l.Shells == 0:
		return "not mapped yet"
	case l.Shells > 1:
		return fmt.Sprintf("cut into %d shells", l.Shells)
	case l.Mirrored:
		return "mirrored"
	case l.Reads():
		return "reads upright"
	}
	return fmt.Sprintf("%.0f° off upright", l.OffDeg)
}
