// Package stl reads STL, the triangles of stereolithography, as text and as little-endian
// numbers. Corners at one place become one point, since the format has none.
package stl

import (
	"bytes"
	"context"
	"encoding/binary"
	"fmt"
	"math"
	"strconv"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/meshio/format"
)

// Format is the row of the table of formats. STL holds no maps, so it is not written.
var Format = format.Format{
	Name:       "STL",
	Extensions: []string{".stl"},
	Media:      "model/stl",
	Habit:      format.Habit{Up: format.OftenZ, Metres: robotArm},
	Read:       Read,
	Keeps:      "triangles and solids; points are welded, since the format has none",
}

// robotArm is the size, in metres, of what is drawn in metres as STL, links of robots most of all: all
// others who write it mean millimetres, for small things too.
const robotArm = 2

const (
	reexport = "export the model again as STL"
	head     = 80 // bytes of a binary file before the number of triangles
	row      = 50 // bytes of a triangle
)

func fail(line int, text string, args ...any) error {
	return &format.Error{Line: line, What: fmt.Sprintf(text, args...), Hint: reexport}
}

// Read reads the triangles of an STL file, text or binary, each solid as an object. Errors are
// *format.Error with the line of text files.
func Read(ctx context.Context, in format.Input) (*mesh.Mesh, error) {
	r := reader{b: mesh.NewBuilder(), at: map[r3.Vec]mesh.PointID{}}
	var err error
	if isText(in.Data) {
		err = r.text(ctx, in)
	} else {
		err = r.binary(ctx, in)
	}
	if err != nil {
		return nil, err
	}
	if r.b.NumFaces() == 0 {
		return nil, fail(0, "the file has no triangles")
	}
	m, err := r.b.Build()
	if err != nil {
		return nil, fail(0, "%v", err)
	}
	return m, nil
}

// isText tells text from numbers: binary files too may begin with "solid", but then their length
// fits what they say, or there are bytes no text has.
func isText(data []byte) bool {
	if len(data) >= head+4 {
		if n := uint64(binary.LittleEndian.Uint32(data[head:])); uint64(len(data)) == head+4+n*row {
			return false
		}
	}
	text := bytes.TrimLeft(data, " \t\r\n\ufeff")
	return len(text) >= 5 && bytes.EqualFold(text[:5], []byte("solid")) && bytes.IndexByte(data[:min(len(data), 4096)], 0) < 0
}

type reader struct {
	b  *mesh.Builder
	at map[r3.Vec]mesh.PointID
}

func (r *reader) point(p r3.Vec) mesh.PointID {
	p = r3.Vec{X: p.X + 0, Y: p.Y + 0, Z: p.Z + 0} // -0 and 0 are one place
	id, ok := r.at[p]
	if !ok {
		id = r.b.Point(p)
		r.at[p] = id
	}
	return id
}

func (r *reader) binary(ctx context.Context, in format.Input) error {
	data := in.Data
	if len(data) < head+4 {
		return fail(0, "the file is too short to be STL")
	}
	n := binary.LittleEndian.Uint32(data[head:])
	body := data[head+4:]
	if uint64(n)*row > uint64(len(body)) {
		return fail(0, "the file says it has %d triangles and holds %d; it is cut off, or no STL file", n, len(body)/row)
	}
	for i := range int(n) {
		if i&0xfff == 0 {
			if err := in.At(ctx, float64(i)/float64(n)); err != nil {
				return err
			}
		}
		var tri [3]mesh.PointID
		for k := range tri {
			raw := body[i*row+12+12*k:]
			num := func(c int) float64 { return float64(math.Float32frombits(binary.LittleEndian.Uint32(raw[4*c:]))) }
			p := r3.Vec{X: num(0), Y: num(1), Z: num(2)}
			if math.IsNaN(p.X + p.Y + p.Z) {
				return fail(0, "triangle %d has a coordinate that is not a number", i+1)
			}
			tri[k] = r.point(p)
		}
		r.b.Face(tri[:]...)
	}
	return nil
}

func (r *reader) text(ctx context.Context, in format.Input) error {
	var tri []mesh.PointID
	open := false
	line := 0
	for rest := in.Data; len(rest) > 0; {
		if line&0xfff == 0 {
			if err := in.At(ctx, 1-float64(len(rest))/float64(len(in.Data))); err != nil {
				return err
			}
		}
		line++
		end := bytes.IndexByte(rest, '\n')
		if end < 0 {
			end = len(rest) - 1
		}
		words := bytes.Fields(bytes.TrimPrefix(rest[:end+1], []byte("\ufeff")))
		rest = rest[end+1:]
		if len(words) == 0 {
			continue
		}
		switch string(bytes.ToLower(words[0])) {
		case "solid":
			if name := bytes.Join(words[1:], []byte(" ")); len(name) > 0 {
				r.b.Object(string(bytes.ToValidUTF8(name, []byte("?"))))
			}
		case "facet":
			open, tri = true, tri[:0]
		case "vertex":
			if !open {
				return fail(line, "a vertex outside a facet")
			}
			if len(words) != 4 {
				return fail(line, "a vertex needs 3 numbers, found %d", len(words)-1)
			}
			var x [3]float64
			for k := range x {
				v, err := strconv.ParseFloat(string(words[k+1]), 64)
				if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
					return fail(line, "%q is not a finite number", words[k+1][:min(40, len(words[k+1]))])
				}
				x[k] = v
			}
			tri = append(tri, r.point(r3.Vec{X: x[0], Y: x[1], Z: x[2]}))
		case "endfacet":
			if len(tri) != 3 || !open {
				return fail(line, "a facet needs 3 vertices, found %d", len(tri))
			}
			r.b.Face(tri...)
			open = false
		case "outer", "endloop", "endsolid":
		default:
			return fail(line, "%q is no word of STL", words[0][:min(40, len(words[0]))])
		}
	}
	if open {
		return fail(line, "the file ends within a facet; it was cut off")
	}
	return nil
}
