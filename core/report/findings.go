package report

import (
	"fmt"

	"morvek/core/proof"
	"morvek/core/words"
)

// FindingWords says a kind of finding to people.
func FindingWords(kind string) string { return findingWords[kind] }

var findingWords = map[string]string{
	proof.Unmapped: "not mapped", proof.Mirrored: "mirrored", proof.NoArea: "without area on the sheet", proof.Overlap: "overlapping", proof.Outside: "outside the sheet",
	proof.Wasted:   "hardly any of the sheet is used; ruled by",
	proof.TooClose: "too close", proof.Limbs: "limbs of it too close", proof.Stretched: "stretched", proof.OffGrain: "off the grain", proof.Density: "another density",
	proof.NoOpening: "wall without opening", proof.InView: "seam across a smooth area in view", proof.Crooked: "crooked seam",
	proof.LabelAskew: "label not upright", proof.LabelMirrored: "label mirrored", proof.LabelCut: "label cut apart",
}

// FindingValue says how bad a finding is, with its unit; lengths are in that of the model.
func FindingValue(f proof.Finding, unit string) string {
	switch f.Kind {
	case proof.Overlap, proof.Wasted:
		return fmt.Sprintf("%.1f %%", 100*f.Value)
	case proof.TooClose, proof.Limbs:
		return fmt.Sprintf("%.1f px", f.Value)
	case proof.Stretched, proof.Density:
		return words.Times(f.Value, 2)
	case proof.LabelCut:
		return fmt.Sprintf("%.0f shells", f.Value)
	case proof.LabelMirrored:
		return ""
	case proof.OffGrain, proof.LabelAskew:
		return fmt.Sprintf("%.0f°", f.Value)
	case proof.NoOpening:
		return ""
	case proof.InView:
		return words.Length(f.Value, unit)
	case proof.Crooked:
		return fmt.Sprintf("%.0f turns back", f.Value)
	}
	return fmt.Sprintf("%.0f faces", f.Value)
}
