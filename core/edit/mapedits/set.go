package mapedits

import (
	"context"

	"morvek/core/document"
)

// Set gives the map that is shown a name and a purpose.
type Set struct {
	Name    string           `json:"name"`
	Purpose document.Purpose `json:"purpose"`
}

// Kind implements Edit.
func (*Set) Kind() string { return "set-map" }

// Describe implements Edit.
func (e *Set) Describe() string { return "call a map " + e.Name + ", " + string(e.Purpose) }

// Apply implements Edit.
func (e *Set) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	s := d.Begin()
	s.Shown.Name, s.Shown.Purpose = e.Name, e.Purpose
	if err := s.Shown.Check(); err != nil {
		return nil, err
	}
	return s.Done(), nil
}
