package sheetedits

import (
	"context"

	"morvek/core/document"
)

// Set changes the settings of the document.
type Set struct {
	Settings document.Settings `json:"settings"`
}

// Kind implements Edit.
func (*Set) Kind() string { return "settings" }

// Describe implements Edit.
func (*Set) Describe() string { return "change the settings" }

// Apply implements Edit.
func (e *Set) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if err := e.Settings.Check(); err != nil {
		return nil, err
	}
	s := d.Begin()
	change(s, e.Settings)
	return s.Done(), nil
}
