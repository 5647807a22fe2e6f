package mapedits

import (
	"context"
	"encoding/json"

	"morvek/core/document"
	"morvek/core/practice"
)

// Adopt takes over what a workshop agreed on: settings of the map that is shown and of the document,
// and the grain of materials. Nothing that is laid moves.
type Adopt struct {
	Practice practice.Practice `json:"practice"`
}

// Kind implements Edit.
func (*Adopt) Kind() string { return "adopt-practice" }

// Describe implements Edit.
func (e *Adopt) Describe() string {
	if e.Practice.Name != "" {
		return "take over the practice " + e.Practice.Name
	}
	return "take over a practice"
}

// Apply implements Edit.
func (e *Adopt) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	b, err := json.Marshal(e.Practice)
	if err != nil {
		return nil, document.Refuse("the practice has a number that is none")
	}
	p, err := practice.Read(b)
	if err != nil {
		return nil, err
	}
	return p.On(d)
}
