package sheetedits

import (
	"context"
	"fmt"

	"morvek/core/document"
	"morvek/core/edit/preview"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/words"
)

// Pack lays all shells on the sheet, as large as it finds, with the padding, margin and turns of
// the settings; or, with faces or rack, some of them into the room that all others leave.
type Pack struct {
	lay.How

	Faces []mesh.FaceID `json:"faces,omitempty"` // a face of each shell that is laid into free room
	Rack  bool          `json:"rack,omitempty"`  // those that wait on the rack are

	filled *lay.Filled
}

// Kind implements Edit.
func (*Pack) Kind() string { return "pack" }

// Describe implements Edit.
func (e *Pack) Describe() string {
	switch {
	case !e.intoRoom() && e.Blocks != lay.NoBlocks:
		return "pack the sheet in blocks"
	case !e.intoRoom():
		return "pack the sheet"
	case e.filled != nil:
		return "lay shells into free room: " + e.said()
	}
	return "lay shells into free room"
}

func (e *Pack) intoRoom() bool { return e.Rack || len(e.Faces) > 0 }

func (e *Pack) said() string {
	if n := len(e.filled.Left); n > 0 {
		return fmt.Sprintf("%d found some, %s", e.filled.Laid, wait(n))
	}
	return words.Count(e.filled.Laid, "shell")
}

func wait(n int) string {
	if n == 1 {
		return "1 waits on the rack"
	}
	return fmt.Sprintf("%d wait on the rack", n)
}

// Long implements edit.Long.
func (e *Pack) Long() bool { return len(e.Faces) == 0 || len(e.Faces) > quickly }

// quickly is how many shells are laid into free room without delay.
const quickly = 60

// Apply implements Edit.
func (e *Pack) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	if !e.intoRoom() {
		return lay.PackAs(ctx, d, e.How, progress)
	}
	s, filled, err := lay.Fill(ctx, d, e.Faces, e.Sizes)
	if err != nil {
		return nil, err
	}
	e.filled = &filled
	return s, nil
}

// Preview says how many found room.
func (e *Pack) Preview(ctx context.Context, d *document.Document) (preview.Preview, error) {
	s, err := e.Apply(ctx, d, nil)
	if err != nil {
		return preview.Preview{}, err
	}
	p := preview.Preview{State: s, Whole: !e.intoRoom()}
	if e.filled != nil {
		p.Said = e.said()
	}
	return p, nil
}
