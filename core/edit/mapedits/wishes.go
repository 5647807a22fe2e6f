package mapedits

import (
	"context"

	"morvek/core/document"
)

// Wishes notes that what people said of an earlier revision of the model was brought over. It is made
// when the revision comes in, and cannot be asked for by itself.
type Wishes struct {
	From int64 `json:"from"` // the document of the earlier revision
}

// Kind implements Edit.
func (*Wishes) Kind() string { return "carry-wishes" }

// Describe implements Edit.
func (*Wishes) Describe() string { return "keep what was said of the model before" }

// Apply implements Edit.
func (*Wishes) Apply(context.Context, *document.Document, func(float64)) (*document.State, error) {
	return nil, document.Refuse("bring the next revision in as a model, and say which one it revises")
}
