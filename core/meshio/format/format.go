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

	// Habit is what is usual in files of the format where these say nothing.
	Habit Habit

	// Magic are the first bytes of a file, one of them, none where it has none.
	Magic [][]byte

	// Read reads a mesh; nil for what is only written. Errors about the file are *Error; a context
	// that ends stops it. What it allocates is bounded by what the file holds.
	Read func(ctx context.Context, in Input) (*mesh.Mesh, error)

	// Write writes a mesh with maps, the first of which is the one that is shown; nil for what is
	// only read.
	Write func(w io.Writer, m *mesh.Mesh, maps []Map) error

	// Keeps says what of a mesh comes through, in the words of a dialog.
	Keeps string

	// Maps is how many maps a file can hold, 0 for any number.
	Maps int
}

// Habit is what a format lays down, or those who write it do, of what its files leave open.
type Habit struct {
	Up Up

	// Metres is the diagonal, in units of the model, up to which these are taken for metres; 0 means
	// that of machines.
	Metres float64
}

// Up is what a format says of the way that is up.
type Up uint8

// OftenY says nothing, and more of those who write it have Y up than Z; OftenZ is for machines of
// which Z is up, as nearly all have it who write it; AlwaysY is laid down by the standard.
const (
	OftenY Up = iota
	OftenZ
	AlwaysY
)

// Input is a file that is read.
type Input struct {
	Data []byte

	// Beside returns a file that lies beside it, by its relative path; nil where none can. It is not
	// called with paths that lead out of the folder.
	Beside func(path string) ([]byte, error)

	// Progress is told how much of the file is read, from 0 to 1; nil for nobody.
	Progress func(done float64)
}

// At tells that a share of the file is read, and returns the error of a context that has ended.
func (in Input) At(ctx context.Context, done float64) error {
	if in.Progress != nil {
		in.Progress(done)
	}
	return ctx.Err()
}

// Map is a map to be written.
type Map struct {
	Name string
	UV   UV
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

// SourceUV returns the first map that came with a mesh.
func SourceUV(m *mesh.Mesh) UV { return layerUV(m.SourceUV, m.CornerUV) }

// SourceMaps returns all maps that came with a mesh.
func SourceMaps(m *mesh.Mesh) []Map {
	if m.CornerUV == nil {
		return nil
	}
	out := []Map{{Name: "Map 1", UV: SourceUV(m)}}
	for _, l := range m.Layers {
		out = append(out, Map{l.Name, layerUV(l.UV, l.Corner)})
	}
	return out
}

// Unchanged tells whether maps are those that came with a mesh.
func Unchanged(m *mesh.Mesh, maps []Map) bool {
	for k := range max(len(maps), 1+len(m.Layers)) {
		was, is := layerUV(nil, nil), layerUV(nil, nil)
		if k < len(maps) {
			is = maps[k].UV
		}
		if k == 0 {
			was = SourceUV(m)
		} else if k <= len(m.Layers) {
			was = layerUV(m.Layers[k-1].UV, m.Layers[k-1].Corner)
		}
		for h := range mesh.HalfedgeID(m.NumCorners()) {
			a, mapped := was(h)
			b, now := is(h)
			if mapped != now || mapped && a != b {
				return false
			}
		}
	}
	return true
}

func layerUV(uv []r2.Vec, corner []int32) UV {
	return func(c mesh.HalfedgeID) (r2.Vec, bool) {
		if corner == nil || corner[c] == mesh.None {
			return r2.Vec{}, false
		}
		return uv[corner[c]], true
	}
}

// MostFaces bounds what is read from one file: more do not fit into the memory of a usual machine
// while they are worked on.
const MostFaces = 8_000_000
