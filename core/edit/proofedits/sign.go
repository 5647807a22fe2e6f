package proofedits

import (
	"context"
	"fmt"
	"slices"

	"morvek/core/document"
	"morvek/core/proof"
	"morvek/core/report"
	"morvek/core/words"
)

// Sign accepts cells of the route card: those of some parts, or of all, at some stations, or at
// all. Cells where something is open or wrong are left out; where nothing can be signed it is
// refused.
type Sign struct {
	Parts    []document.PartID `json:"parts,omitempty"`    // none for all
	Stations []string          `json:"stations,omitempty"` // none for all
	Withdraw bool              `json:"withdraw,omitempty"`
}

// Kind implements Edit.
func (*Sign) Kind() string { return "sign" }

// Describe implements Edit.
func (e *Sign) Describe() string {
	what := "all that is without findings"
	if len(e.Parts) > 0 {
		what = words.Count(len(e.Parts), "part")
	}
	if len(e.Stations) == 1 {
		what += " at " + e.Stations[0]
	}
	if e.Withdraw {
		return "no longer sign " + what
	}
	return "sign " + what
}

// Apply implements Edit.
func (e *Sign) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	at := map[int]bool{}
	for _, name := range e.Stations {
		i := slices.Index(report.Stations[:], name)
		if i < 0 {
			return nil, document.Refuse("there is no station %q", name)
		}
		at[i] = true
	}
	for _, p := range e.Parts {
		if p < 0 || int(p) >= len(d.State.Parts) {
			return nil, document.Refuse("there is no part %d", p)
		}
	}
	card := report.CardOf(d, proof.Measure(d.ProofInput()))
	s := d.Begin()
	changed := 0
	for _, row := range card.Rows {
		if len(e.Parts) > 0 && !slices.Contains(e.Parts, row.Part) {
			continue
		}
		var list []document.Signature
		for _, was := range s.Parts[row.Part].Signed { // others stay
			if len(at) > 0 && !at[was.Station] {
				list = append(list, was)
			}
		}
		n := 0
		for k, c := range row.Cells {
			if len(at) > 0 && !at[k] {
				continue
			}
			switch {
			case e.Withdraw && c.Mark == report.Signed:
				n++
			case !e.Withdraw && (c.Signable() || c.Mark == report.Signed):
				x := card.Now[row.Part]
				x.Station = k
				list = append(list, x)
				if c.Mark != report.Signed {
					n++
				}
			}
		}
		if n > 0 {
			s.Part(row.Part).Signed = list
			changed += n
		}
	}
	if changed == 0 {
		return nil, document.Refuse("%s", e.nothing(card))
	}
	return s.Done(), nil
}

// nothing says why no cell changes.
func (e *Sign) nothing(c report.Card) string {
	if e.Withdraw {
		return "nothing there is signed"
	}
	for _, row := range c.Rows {
		if len(e.Parts) != 1 || row.Part != e.Parts[0] {
			continue
		}
		for k, cell := range row.Cells {
			if (len(e.Stations) == 0 || report.Stations[k] == e.Stations[0]) && (cell.Mark == report.Wrong || cell.Mark == report.Undone) {
				return fmt.Sprintf("%s is not to be signed at %s yet: %s", row.Name, report.Stations[k], cell.Hint)
			}
		}
	}
	return "nothing is left to sign there"
}
