package mapedits

import (
	"context"
	"fmt"

	"morvek/core/document"
)

// Remove removes a map that is not shown.
type Remove struct {
	Map document.MapID `json:"map"`
}

// Kind implements Edit.
func (*Remove) Kind() string { return "remove-map" }

// Describe implements Edit.
func (e *Remove) Describe() string { return fmt.Sprintf("remove map %d", e.Map) }

// Apply implements Edit.
func (e *Remove) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	return d.State.WithoutMap(e.Map)
}
