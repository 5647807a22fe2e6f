package meshio

import (
	"context"
	"errors"
	"fmt"
	"path"
	"slices"
	"strings"

	"morvek/core/mesh"
	"morvek/core/meshio/format"
)

// mostFurther bounds the files of further maps.
const mostFurther = 16

// Further names the file that holds a further map of a model, from 2, where a file of its format holds
// one only: that of lamp.obj is lamp.map2.obj beside it. It holds the same faces with other coordinates.
func Further(name string, n int) string {
	ext := path.Ext(name)
	return fmt.Sprintf("%s.map%d%s", strings.TrimSuffix(name, ext), n, ext)
}

// File is one of those that hold a model with its maps.
type File struct {
	Name string
	Maps []Map
}

// Files are those that a model with maps is written to in a format: one, or where that holds one map
// only one for each, the first by the name that is given.
func Files(f format.Format, name string, maps []Map) []File {
	if f.Maps != 1 || len(maps) < 2 {
		return []File{{name, maps}}
	}
	out := []File{{name, maps[:1]}}
	for k := 1; k < len(maps); k++ {
		out = append(out, File{Further(name, k+1), maps[k : k+1]})
	}
	return out
}

// isFurther tells whether a file holds a further map of another.
func isFurther(name string, there func(string) bool) bool {
	stem := strings.TrimSuffix(name, path.Ext(name))
	first := strings.TrimSuffix(stem, path.Ext(stem)) + path.Ext(name)
	for k := 2; k <= mostFurther && there(first); k++ {
		if Further(first, k) == name {
			return true
		}
	}
	return false
}

// further reads the maps of a model that lie in files of their own. One that does not fit is named
// as lost; the model is whole without it.
func further(ctx context.Context, f format.Format, name string, in Input, m *mesh.Mesh) error {
	if f.Maps != 1 || in.Beside == nil {
		return nil
	}
	for n := 2; n <= mostFurther; n++ {
		from := path.Base(Further(name, n))
		data, err := in.Beside(from)
		if err != nil {
			return ctx.Err() // they are numbered without a gap
		}
		other, err := f.Read(ctx, Input{Data: data})
		var bad *Error
		switch {
		case errors.As(err, &bad):
			m.Lost = append(m.Lost, fmt.Sprintf("%s: %v", from, bad))
		case err != nil:
			return err
		case !slices.Equal(m.FaceStart, other.FaceStart) || !slices.Equal(m.CornerPoint, other.CornerPoint):
			m.Lost = append(m.Lost, from+": its faces are others than those of the model")
		case other.CornerUV == nil:
			m.Lost = append(m.Lost, from+": it has no map")
		case m.CornerUV == nil:
			m.SourceUV, m.CornerUV = other.SourceUV, other.CornerUV
		default:
			m.Layers = append(m.Layers, mesh.Layer{Name: fmt.Sprintf("Map %d", n), UV: other.SourceUV, Corner: other.CornerUV})
		}
	}
	return nil
}
