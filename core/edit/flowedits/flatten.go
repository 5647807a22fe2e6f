package flowedits

import (
	"context"
	"fmt"

	"morvek/core/document"
	"morvek/core/flatten"
	"morvek/core/lay"
	"morvek/core/mesh"
)

// Flatten lays pieces flat, true to size and upright, on the rack beside the
// sheet or, for a single piece that still fits, where its shell lay before. A
// piece that cannot lie flat in one is divided, which the part's note says; where
// everything is flattened, one that closes on itself is left out and noted, and parts
// with a projection of their own are laid by it. Two pins or more hold a shell in place.
type Flatten struct {
	Faces         []mesh.FaceID  `json:"faces,omitempty"`          // a face of each piece; none: all pieces
	Method        flatten.Method `json:"method,omitempty"`         // none: what the shape asks for
	MaxIterations int            `json:"max_iterations,omitempty"` // where somebody stopped it; 0: until nothing changes

	lay.Watched
}

// Kind implements Edit.
func (*Flatten) Kind() string { return "flatten" }

// Describe implements Edit.
func (e *Flatten) Describe() string {
	switch len(e.Faces) {
	case 0:
		return "flatten everything"
	case 1:
		return "flatten a shell"
	}
	return fmt.Sprintf("flatten %d shells", len(e.Faces))
}

// Long implements edit.Long.
func (e *Flatten) Long() bool { return len(e.Faces) == 0 }

// Apply implements Edit.
func (e *Flatten) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	return lay.Flatten(ctx, d, lay.Options{Faces: e.Faces, Method: e.Method, MaxIterations: e.MaxIterations, Watched: e.Watched}, progress)
}
