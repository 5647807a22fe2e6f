// Package proofedits are the edits of the Proof station.
package proofedits

import (
	"context"
	"math"
	"slices"
	"strings"
	"unicode/utf8"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/proof"
	"morvek/core/words"
)

// Accept lets findings of the map that is shown stay, with a reason, or takes that back. One that
// gets worse later counts again.
type Accept struct {
	Findings []proof.Known `json:"findings"`
	Reason   string        `json:"reason,omitempty"`
	Withdraw bool          `json:"withdraw,omitempty"`
}

// longestReason bounds a reason, in letters.
const longestReason = 200

// Kind implements Edit.
func (*Accept) Kind() string { return "accept" }

// Describe implements Edit.
func (e *Accept) Describe() string {
	if e.Withdraw {
		return "no longer accept " + words.Count(len(e.Findings), "finding")
	}
	return "accept " + words.Count(len(e.Findings), "finding")
}

// Apply implements Edit.
func (e *Accept) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	reason := strings.TrimSpace(e.Reason)
	switch {
	case len(e.Findings) == 0:
		return nil, document.Refuse("no finding is chosen")
	case !e.Withdraw && reason == "":
		return nil, document.Refuse("say why it may stay")
	case utf8.RuneCountInString(reason) > longestReason:
		return nil, document.Refuse("a reason has at most %d letters", longestReason)
	}
	s := d.Begin()
	list := slices.Clone(s.Wishes.Accepted)
	for _, f := range e.Findings {
		if err := document.CheckFaces(d.Mesh, []mesh.FaceID{f.Face}); err != nil {
			return nil, err
		}
		if !proof.IsKind(f.Kind) || math.IsNaN(f.Value) || math.IsInf(f.Value, 0) {
			return nil, document.Refuse("there is no finding %q of %g", f.Kind, f.Value)
		}
		list = slices.DeleteFunc(list, func(a proof.Accepted) bool { return a.Kind == f.Kind && a.Face == f.Face })
		if !e.Withdraw {
			list = append(list, proof.Accepted{Known: f, Reason: reason})
		}
	}
	if len(list) == 0 {
		list = nil // as it is read back
	}
	if slices.Equal(list, s.Wishes.Accepted) {
		return nil, document.Refuse("this changes nothing")
	}
	s.Wishes.Accepted = list
	return s.Done(), nil
}
