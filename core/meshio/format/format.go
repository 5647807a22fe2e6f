// Package format says what a mesh format is: a row of the table of package meshio. Each
// format has a folder of its own beside this one.
package format

import (
	"context"
	"fmt"
	"io"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
)

// Format is one that files come or go in.
type Format struct {
	Name       string   // as people call it
	Extensions []string // of file names, with the dot, small letters; the first is written
	Media      string   // type, for downloads

	// Magic are the first bytes of a file, one of them, none where it has none.
	Magic [][]byte

	// Read reads a mesh. Errors about the file are *Error; a context that ends stops it.
	Read func(ctx context.Context, r io.Reader) (*mesh.Mesh, error)

	// Write writes a mesh with a map; nil for what is only read.
	Write func(w io.Writer, m *mesh.Mesh, uv UV) error

	// Keeps says what of a mesh comes through, in the words of a dialog.
	Keeps string
}

// UV gives the map coordinate of a corner; ok is false where there is none.
type UV func(c mesh.HalfedgeID) (uv r2.Vec, ok bool)

// Error is a file that cannot be read: what is wrong, at which line (0 if it
// is not about a line), and what to do about it.
type Error struct {
	Line int
	What string
	Hint string
}

func (e *Error) Error() string {
	s := e.What
	if e.Line > 0 {
		s = fmt.Sprintf("line %d: %s", e.Line, s)
	}
	if e.Hint != "" {
		s += "; " + e.Hint
	}
	return s
}

// SourceUV returns the map that came with a mesh.
func SourceUV(m *mesh.Mesh) UV {
	return func(c mesh.HalfedgeID) (r2.Vec, bool) {
		if m.CornerUV == nil || m.CornerUV[c] == mesh.None {
			return r2.Vec{}, false
		}
		return m.SourceUV[m.CornerUV[c]], true
	}
}
