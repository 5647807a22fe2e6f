package proof

import (
	"fmt"

	"morvek/core/document"
	"morvek/core/proof"
	"morvek/core/words"
)

// findingView is a finding on one part, or the same one on parts that are equal.
type findingView struct {
	Words    string
	Value    string
	Severity string
	At       []int  // numbers in the report, one of each place
	Mend     string // the edit that may mend it
	Part     string // of the first place
}

// foldFindings puts what is found alike on repeats into one, in the order found.
func foldFindings(list []proof.Finding, s *document.State) []findingView {
	type key struct {
		kind, value string
		root        document.PartID
	}
	at := map[key]int{}
	var out []findingView
	for i, f := range list {
		v := findingView{Severity: f.Severity, Mend: mends[f.Kind], Words: findingWords[f.Kind], Value: findingValue(f, s.Settings.Unit)}
		root := document.NoPart
		if len(f.Faces) > 0 {
			if root = s.PartOf(f.Faces[0]); root != document.NoPart {
				v.Part = s.Parts[root].Name
				root = s.RepeatRoot(root)
			}
		}
		v.At = []int{i}
		k := key{f.Kind, v.Value, root}
		if i, ok := at[k]; ok && root != document.NoPart {
			out[i].At = append(out[i].At, v.At...)
			continue
		}
		at[k] = len(out)
		out = append(out, v)
	}
	return out
}

var findingWords = map[string]string{
	proof.Unmapped: "not mapped", proof.Mirrored: "mirrored", proof.NoArea: "without area on the sheet", proof.Overlap: "overlapping", proof.Outside: "outside the sheet",
	proof.Wasted:   "hardly any of the sheet is used; ruled by",
	proof.TooClose: "too close", proof.Limbs: "limbs of it too close", proof.Stretched: "stretched", proof.OffGrain: "off the grain", proof.Density: "another density",
	proof.NoOpening: "wall without opening", proof.InView: "seam across a smooth area in view", proof.Crooked: "crooked seam",
	proof.LabelAskew: "label not upright", proof.LabelMirrored: "label mirrored", proof.LabelCut: "label cut apart",
}

// mends are the edits that mend what was found, of the faces where it was.
var mends = map[string]string{
	proof.Crooked: "straighten", proof.Overlap: "set-apart", proof.TooClose: "set-apart", proof.Outside: "set-apart", proof.Density: "density",
}

func findingValue(f proof.Finding, unit string) string {
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
