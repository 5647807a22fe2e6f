// Package meshio reads and writes polygon meshes in open formats without
// losing what they say: polygons, objects, groups, materials, smoothing,
// normals and maps. The formats are rows of a table; to add one, write its folder and
// its row.
package meshio

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"path/filepath"
	"slices"
	"strings"

	"morvek/core/mesh"
	"morvek/core/meshio/format"
	"morvek/core/meshio/gltf"
	"morvek/core/meshio/obj"
	"morvek/core/meshio/ply"
	"morvek/core/meshio/stl"
)

// Formats are all that files come and go in.
var Formats = []format.Format{obj.Format, gltf.Binary, gltf.Text, ply.Format, stl.Format}

func init() { Formats = append(Formats, archive) } // which reads the others

// Error is a file that cannot be read.
type Error = format.Error

// Input is a file that is read, with what lies beside it.
type Input = format.Input

// Map is a map to be written.
type Map = format.Map

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

// Habit is what is usual in the format of a file name, where its files say nothing.
func Habit(name string) format.Habit {
	f, _ := Of(name)
	return f.Habit
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

// Readable returns an error that says what can be read if a file name says nothing that can.
func Readable(name string) error {
	if f, ok := Of(name); !ok || f.Read == nil {
		return unknown(name, false)
	}
	return nil
}

// Read reads a mesh in the format the file name says. A context that ends stops it.
func Read(ctx context.Context, name string, in Input) (*mesh.Mesh, error) {
	if err := Readable(name); err != nil {
		return nil, err
	}
	f, _ := Of(name)
	for _, other := range Formats {
		if other.Name != f.Name && slices.ContainsFunc(other.Magic, func(m []byte) bool { return bytes.HasPrefix(in.Data, m) }) {
			return nil, &Error{What: fmt.Sprintf("the name says %s, but the file is %s", f.Name, other.Name), Hint: "rename it to end in " + other.Extensions[0]}
		}
	}
	m, err := f.Read(ctx, in)
	if err != nil {
		return nil, err
	}
	return m, further(ctx, f, filepath.ToSlash(name), in, m)
}

// Write writes a mesh with maps in the format the file name says: the first is the one that is
// shown.
func Write(w io.Writer, name string, m *mesh.Mesh, maps []Map) error {
	if !Writable(name) {
		return unknown(name, true)
	}
	f, _ := Of(name)
	return f.Write(w, m, maps)
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

// SourceUV returns the first map that came with a mesh, SourceMaps all.
func SourceUV(m *mesh.Mesh) UV { return format.SourceUV(m) }

// SourceMaps returns all maps that came with a mesh.
func SourceMaps(m *mesh.Mesh) []Map { return format.SourceMaps(m) }
