package proof

import (
	"cmp"
	"encoding/json"
	"slices"
	"strings"
	"unicode"

	"morvek/core/document"
	"morvek/core/proof"
	"morvek/core/report"
)

// findingView is what was found of one kind on one part, or on parts that are equal.
type findingView struct {
	Words    string
	Value    string // the least and the largest where they differ
	Severity string
	At       []int // numbers in the report, one of each place
	Kind     string
	Mend     *mend  // the edit that may mend it, nil for none
	Part     string // of the first place
	Accepted string // why it may stay
	New      bool   // it was not there when the state was marked
	Places   string // of all of them, as they are accepted: JSON
}

// foldFindings puts what is found of one kind on a part and its repeats into one, in the order found.
func foldFindings(list []proof.Finding, s *document.State) []findingView {
	type key struct {
		kind, accepted string
		root           document.PartID
		fresh          bool
	}
	places := map[int][]proof.Known{}
	at := map[key]int{}
	var out []findingView
	for i, f := range list {
		v := findingView{Severity: f.Severity, Kind: f.Kind, Words: report.FindingWords(f.Kind), Accepted: f.Accepted, New: f.New}
		if m, ok := mends[f.Kind]; ok && f.Accepted == "" {
			v.Mend = &m
		}
		root := document.NoPart
		if len(f.Faces) > 0 {
			if root = s.PartOf(f.Faces[0]); root != document.NoPart {
				v.Part = s.Parts[root].Name
				root = s.RepeatRoot(root)
			}
		}
		v.At = []int{i}
		k := key{f.Kind, f.Accepted, root, f.New}
		place, _ := proof.KnownOf(f)
		if i, ok := at[k]; ok && root != document.NoPart {
			out[i].At = append(out[i].At, v.At...)
			places[i] = append(places[i], place)
			continue
		}
		at[k] = len(out)
		places[len(out)] = []proof.Known{place}
		out = append(out, v)
	}
	for i := range out {
		b, _ := json.Marshal(places[i]) // numbers, which are finite
		out[i].Places = string(b)
		out[i].Value = valueOf(list, out[i].At, s.Settings.Unit)
	}
	return out
}

// valueOf says what some findings of one kind measure.
func valueOf(list []proof.Finding, at []int, unit string) string {
	byValue := func(a, b int) int { return cmp.Compare(list[a].Value, list[b].Value) }
	least := report.FindingValue(list[slices.MinFunc(at, byValue)], unit)
	most := report.FindingValue(list[slices.MaxFunc(at, byValue)], unit)
	if least == most {
		return most
	}
	return between(least, most)
}

// between says a span without saying twice what stands before or after both numbers.
func between(least, most string) string {
	before, after := most[:max(0, strings.IndexFunc(most, unicode.IsDigit))], most[strings.LastIndexFunc(most, unicode.IsDigit)+1:]
	return strings.TrimSuffix(least, after) + " to " + strings.TrimPrefix(most, before)
}

// mend is an edit that mends what was found, of the faces where it was.
type mend struct {
	Edit string
	With string // what it is asked with besides the faces: JSON
	Says string
}

var apart = mend{"set-apart", "", "The smaller ones are laid where there is room"}

var mends = map[string]mend{
	proof.Crooked: {"straighten", "", "Cut this part anew with straight seams"}, proof.Overlap: apart, proof.TooClose: apart, proof.Outside: apart,
	proof.InView:        {"join-group", `{"limit":1.02}`, "Closed: both sides are laid as one, as far as they lie flat"},
	proof.Density:       {"density", `{"as_all":true}`, "Scaled to the density of all"},
	proof.Unmapped:      {"refit", "", "Flattened into the hole they leave, or where there is room; all else stays"},
	proof.NoArea:        {"refit", "", "Flattened into the hole they leave, or where there is room; all else stays"},
	proof.NoOpening:     {"open", "", "Opened where it is least seen, and laid"},
	proof.Stretched:     {"relax", "", "Flattened again within its border, where that takes stretch away"},
	proof.Wasted:        {"lanes", `{"pack":true}`, "Divided where it hurts least, and all packed"},
	proof.LabelAskew:    {"orient", "", "Turned so that it reads"},
	proof.LabelMirrored: {"orient", `{"mirrored":true}`, "Turned over"},
	proof.Mirrored:      {"orient", `{"mirrored":true}`, "Turned over"},
	proof.OffGrain:      {"orient", "", "Turned by its loops and grain"},
}
