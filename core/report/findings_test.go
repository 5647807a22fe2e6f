package report_test

import (
	"testing"

	"morvek/core/proof"
	"morvek/core/report"
)

// Every kind of finding has words and says how bad it is.
func TestFindingsAreSaidInWords(t *testing.T) {
	for _, k := range proof.Kinds() {
		if report.FindingWords(k) == "" {
			t.Errorf("%s has no words", k)
		}
	}
	for want, f := range map[string]proof.Finding{"12.5 %": {Kind: proof.Overlap, Value: 0.125}, "3.2 px": {Kind: proof.TooClose, Value: 3.21}, "7°": {Kind: proof.OffGrain, Value: 7.2}, "4 faces": {Kind: proof.Unmapped, Value: 4}} {
		if got := report.FindingValue(f, "m"); got != want {
			t.Errorf("%s is said as %q", f.Kind, got)
		}
	}
}
