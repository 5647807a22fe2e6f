package proofedits

import (
	"context"

	"morvek/core/document"
	"morvek/core/proof"
)

// Mark remembers the findings of the map that is shown: those that come later, or get worse, are told
// as new. Forget lets go of what was remembered.
type Mark struct {
	Forget bool `json:"forget,omitempty"`
}

// Kind implements Edit.
func (*Mark) Kind() string { return "mark-findings" }

// Describe implements Edit.
func (e *Mark) Describe() string {
	if e.Forget {
		return "no longer mark the findings of before"
	}
	return "mark the findings as known"
}

// Apply implements Edit.
func (e *Mark) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	s := d.Begin()
	if e.Forget {
		if s.Wishes.Marked == nil {
			return nil, document.Refuse("no state is marked")
		}
		s.Wishes.Marked = nil
		return s.Done(), nil
	}
	m := &proof.Marked{Findings: []proof.Known{}}
	for _, f := range proof.Measure(d.ProofInput()).Findings {
		if k, ok := proof.KnownOf(f); ok {
			m.Findings = append(m.Findings, k)
		}
	}
	s.Wishes.Marked = m
	return s.Done(), nil
}
