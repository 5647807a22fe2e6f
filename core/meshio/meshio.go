// Package meshio reads and writes polygon meshes in open formats without
// losing what they say: polygons, objects, groups, materials, smoothing,
// normals and maps. The formats are rows of a table; to add one, write its folder and
// its row.
package meshio

import (
	"bufio"
	"bytes"
	"context"
	"fmt"
	"io"
	"path/filepath"
	"slices"
	"strings"

	"morvek/core/mesh"
	"morvek/core/meshio/format"
	"morvek/core/meshio/obj"
)

// Formats are all that files come and go in.
var Formats = []format.Format{obj.Format}

// Error is a file that cannot be read.
type Error = format.Error

// UV gives the map coordinate of a corner.
type UV = format.UV

// Of returns the format a file name says; ok is false if none does.
func Of(name string) (f format.Format, ok bool) {
	ext := strings.ToLower(filepath.Ext(name))
	k := slices.IndexFunc(Formats, func(f format.Format) bool { return slices.Contains(f.Extensions, ext) })
	if k < 0 {
		return f, false
	}
	return Formats[k], true
}

// Writable tells whether a file name ends in a format that can be written.
func Writable(name string) bool {
	f, ok := Of(name)
	return ok && f.Write != nil
}

// Endings lists the endings of file names that can be read, or written, for sentences and
// dialogs: ".obj, .ply or .stl".
func Endings(written bool) string {
	return listed(written, func(f format.Format) []string { return f.Extensions })
}

// Names lists the formats that can be read, or written.
func Names(written bool) string {
	return listed(written, func(f format.Format) []string { return []string{f.Name} })
}

func listed(written bool, of func(format.Format) []string) string {
	var all []string
	for _, f := range Formats {
		if written && f.Write != nil || !written && f.Read != nil {
			all = append(all, of(f)...)
		}
	}
	if n := len(all) - 1; n > 0 {
		return strings.Join(all[:n], ", ") + " or " + all[n]
	}
	return strings.Join(all, "")
}

// headBytes is how much of a file is looked at to tell what it is.
const headBytes = 512

// Read reads a mesh in the format the file name says. A context that ends
// stops it.
func Read(ctx context.Context, name string, r io.Reader) (*mesh.Mesh, error) {
	f, ok := Of(name)
	if !ok || f.Read == nil {
		return nil, unknown(name, false)
	}
	br := bufio.NewReaderSize(r, 1<<16)
	head, _ := br.Peek(headBytes)
	for _, other := range Formats {
		if other.Name != f.Name && slices.ContainsFunc(other.Magic, func(m []byte) bool { return bytes.HasPrefix(head, m) }) {
			return nil, &Error{What: fmt.Sprintf("the name says %s, but the file is %s", f.Name, other.Name), Hint: "rename it to end in " + other.Extensions[0]}
		}
	}
	return f.Read(ctx, br)
}

// Write writes a mesh with a map in the format the file name says.
func Write(w io.Writer, name string, m *mesh.Mesh, uv UV) error {
	if !Writable(name) {
		return unknown(name, true)
	}
	f, _ := Of(name)
	return f.Write(w, m, uv)
}

func unknown(name string, written bool) error {
	ext := filepath.Ext(name)
	if ext == "" {
		ext = "no ending"
	}
	verb := "export the model"
	if written {
		verb = "name the file"
	}
	return &Error{What: fmt.Sprintf("cannot tell the format of a file with %s", ext), Hint: fmt.Sprintf("%s as %s (%s)", verb, Names(written), Endings(written))}
}

// SourceUV returns the map that came with a mesh.
func SourceUV(m *mesh.Mesh) UV { return format.SourceUV(m) }
