package mapedits

import (
	"context"
	"fmt"

	"morvek/core/document"
	"morvek/core/revise"
	"morvek/core/words"
)

// Carry notes that the map of an earlier revision of the model was brought over. It is made when the
// revision comes in, from both models at once, and cannot be asked for by itself.
type Carry struct {
	From    int64          `json:"from"` // the document of the earlier revision
	Carried revise.Carried `json:"carried"`
}

// Kind implements Edit.
func (*Carry) Kind() string { return "carry-map" }

// Describe implements Edit.
func (e *Carry) Describe() string {
	c := e.Carried
	said := fmt.Sprintf("keep the map of the model before: %s as they were", words.Count(c.Kept, "face"))
	for _, x := range []struct {
		n    int
		what string
	}{{c.Moved, "moved"}, {c.Remeshed, "cut otherwise"}, {c.New, "new"}, {c.Gone, "gone"}} {
		if x.n > 0 {
			said += fmt.Sprintf(", %d %s", x.n, x.what)
		}
	}
	if n := len(c.Maps); n > 1 {
		said += fmt.Sprintf("; %d maps", n)
	}
	return said
}

// Apply implements Edit.
func (*Carry) Apply(context.Context, *document.Document, func(float64)) (*document.State, error) {
	return nil, document.Refuse("bring the next revision in as a model, and say which one it revises")
}
