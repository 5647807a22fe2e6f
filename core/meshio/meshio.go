// Package meshio reads and writes polygon meshes in open formats without
// losing what they say: polygons, objects, groups, materials, smoothing,
// normals and maps.
package meshio

import (
	"context"
	"fmt"
	"io"
	"path/filepath"
	"strings"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
)

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

// UV gives the map coordinate of a corner; ok is false where there is none.
type UV func(c mesh.HalfedgeID) (uv r2.Vec, ok bool)

// Known tells whether a file name ends in a format that can be read.
func Known(name string) bool { return strings.EqualFold(filepath.Ext(name), ".obj") }

// Read reads a mesh in the format the file name says. A context that ends
// stops it.
func Read(ctx context.Context, name string, r io.Reader) (*mesh.Mesh, error) {
	if !Known(name) {
		return nil, unknown(name)
	}
	return ReadOBJ(ctx, r)
}

// Write writes a mesh with a map in the format the file name says.
func Write(w io.Writer, name string, m *mesh.Mesh, uv UV) error {
	if !Known(name) {
		return unknown(name)
	}
	return WriteOBJ(w, m, uv)
}

func unknown(name string) error {
	ext := filepath.Ext(name)
	if ext == "" {
		ext = "no ending"
	}
	return &Error{What: fmt.Sprintf("cannot tell the format of a file with %s", ext), Hint: "export the model as Wavefront OBJ (.obj)"}
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
