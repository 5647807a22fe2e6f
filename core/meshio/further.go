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

// isFurther tells whether a file holds a further map of another.
func isFurther(name string, there func(string) bool) bool {
	stem := strings.TrimSuffix(name, path.Ext(name))
	n := path.Ext(stem)
	first := strings.TrimSuffix(stem, n) + path.Ext(name)
	return strings.HasPrefix(n, ".map") && there(first) && slices.ContainsFunc(numbers(), func(k int) bool { return Further(first, k) == name })
}

func numbers() (out []int) {
	for n := 2; n <= mostFurther; n++ {
		out = append(out, n)
	}
	return out
}

// further reads the maps of a model that lie in files of their own. One that does not fit is named
// as lost; the model is whole without it.
func further(ctx context.Context, f format.Format, name string, in Input, m *mesh.Mesh) error {
	if f.Maps != 1 || in.Beside == nil {
		return nil
	}
	for _, n := range numbers() {
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
