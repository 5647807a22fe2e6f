package sheetedits

import (
	"context"

	"morvek/core/document"
	"morvek/core/edit/preview"
	"morvek/core/lay"
)

// Arrange lays all shells at one density so that they lie to each other as on the model, seen from
// a side: neighbours together, above what is above. Some of the sheet is paid for that.
type Arrange struct {
	From lay.View `json:"from"`
}

// Kind implements Edit.
func (*Arrange) Kind() string { return "arrange" }

// Describe implements Edit.
func (e *Arrange) Describe() string { return "arrange the shells as seen from the " + sideOf(e.From) }

func sideOf(v lay.View) string {
	if v == "above" || v == "below" || v == "" {
		return "side " + string(v)
	}
	return string(v)
}

// Long implements edit.Long.
func (*Arrange) Long() bool { return true }

// Apply implements Edit.
func (e *Arrange) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	return lay.Arrange(ctx, d, e.From, progress)
}

// Preview tells the figures of the whole map before and after: what it costs in fill.
func (e *Arrange) Preview(ctx context.Context, d *document.Document) (preview.Preview, error) {
	s, err := e.Apply(ctx, d, nil)
	return preview.Preview{State: s, Whole: true}, err
}
