package sheetedits

import (
	"context"

	"morvek/core/document"
	"morvek/core/edit/preview"
	"morvek/core/lay"
	"morvek/core/words"
)

// Improve enlarges what lies on the sheet by moving shells about, each as large to the others as
// it is: round by round, until it is stopped.
type Improve struct {
	Rounds int `json:"max_iterations,omitempty"` // 0 means 40

	lay.Watched
}

const (
	usualRounds = 40
	mostRounds  = 2000
)

// Kind implements Edit.
func (*Improve) Kind() string { return "improve" }

// Describe implements Edit.
func (e *Improve) Describe() string {
	if e.Rounds == 0 {
		return "improve the packing"
	}
	return "improve the packing in " + words.Count(e.Rounds, "round")
}

// Long implements edit.Long.
func (*Improve) Long() bool { return true }

// Preview says how much sharper everything becomes.
func (e *Improve) Preview(ctx context.Context, d *document.Document) (preview.Preview, error) {
	s, err := e.Apply(ctx, d, nil)
	if err != nil {
		return preview.Preview{}, err
	}
	by := lay.UsualDensity(s) / lay.UsualDensity(d.State)
	return preview.Preview{State: s, Said: "everything is " + words.Times(by, 3) + " as sharp as before"}, nil
}

// Apply implements Edit.
func (e *Improve) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	rounds := e.Rounds
	if rounds == 0 {
		rounds = usualRounds
	}
	if rounds < 0 || rounds > mostRounds {
		return nil, document.Refuse("%d rounds are not possible; choose 1 to %d", rounds, mostRounds)
	}
	return lay.Improve(ctx, d, rounds, e.Watcher(), progress)
}
