package sheetedits

import (
	"context"

	"morvek/core/document"
	"morvek/core/lay"
)

// Pack lays all shells on the sheet at one texel density, as large as it finds,
// with the padding, margin and turns of the document's settings.
type Pack struct{}

// Kind implements Edit.
func (*Pack) Kind() string { return "pack" }

// Describe implements Edit.
func (*Pack) Describe() string { return "pack the sheet" }

// Long implements edit.Long.
func (*Pack) Long() bool { return true }

// Apply implements Edit.
func (*Pack) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	return lay.Pack(ctx, d, progress)
}
