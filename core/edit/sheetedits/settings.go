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
	if s.Settings.Repeats == document.Stack && e.Settings.Repeats != document.Stack { // stacks come apart with the next packing
		for i := range s.Parts {
			s.Part(document.PartID(i)).StackedOn = nil
		}
	}
	s.Settings = e.Settings
	return s.Done(), nil
}
