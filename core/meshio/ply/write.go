package ply

import (
	"bufio"
	"encoding/binary"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"

	"morvek/core/mesh"
	"morvek/core/meshio/format"
)

// Write writes a mesh with its maps as texcoord lists of the faces; faces that are not mapped have
// empty ones. What came from a PLY file goes out in the format, order and types it came in, with
// all other properties and elements; other meshes as little-endian numbers.
func Write(w io.Writer, m *mesh.Mesh, maps []format.Map) error {
	f, ok := m.Kept.(*file)
	if ok = ok && f.element("vertex").count == m.NumPoints(); ok {
		f = f.without(m)
	} else {
		f = columnsOf(m)
	}
	face := f.element("face")
	most := mostCorners(m)
	for k, one := range maps {
		name := "texcoord"
		if k > 0 {
			name += strconv.Itoa(k)
		}
		face.props = append(face.props, texcoords(m, one.UV, name, lengthKind(2*most)))
	}
	return f.write(w)
}

// lengthKind is the type that counts so many values.
func lengthKind(most int) kind {
	if most > 255 {
		return int32s
	}
	return uint8s
}

func texcoords(m *mesh.Mesh, uv format.UV, name string, length kind) *property {
	p := &property{name: name, kind: float32s, length: length, start: []int32{0}}
	for i := range m.NumFaces() {
		lo, hi := m.Corners(mesh.FaceID(i))
		from := len(p.values)
		for h := lo; h < hi; h++ {
			q, ok := uv(h)
			if !ok || math.IsNaN(q.X+q.Y) {
				p.values = p.values[:from]
				break
			}
			p.values = append(p.values, q.X, q.Y)
		}
		p.start = append(p.start, int32(len(p.values)))
	}
	return p
}

// without is a file that was read without the maps that came along; strips have become faces.
func (f *file) without(m *mesh.Mesh) *file {
	out := &file{format: f.format, notes: f.notes}
	for _, e := range f.elements {
		c := &element{name: e.name, count: e.count, props: slices.Clone(e.props)}
		switch e.name {
		case "vertex":
			for _, p := range pairs {
				if e.column(p[0]) != nil && e.column(p[1]) != nil {
					c.props = slices.DeleteFunc(c.props, func(q *property) bool { return q.name == p[0] || q.name == p[1] })
				}
			}
		case "face":
			c.props = slices.DeleteFunc(c.props, func(q *property) bool { return q.length != none && strings.HasPrefix(q.name, "texcoord") })
			if e.count != m.NumFaces() {
				c = facesOf(m)
			}
		case "tristrips":
			if f.element("face") != nil && f.element("face").count > 0 {
				break
			}
			c = facesOf(m)
		}
		if c.name == "face" && out.element("face") != nil {
			continue
		}
		if e.name == "face" && e.count == 0 && m.NumFaces() > 0 && f.element("tristrips") != nil {
			continue
		}
		out.elements = append(out.elements, c)
	}
	return out
}

// mostCorners is how many corners the largest polygon has.
func mostCorners(m *mesh.Mesh) (most int) {
	for i := range m.NumFaces() {
		most = max(most, int(m.FaceStart[i+1]-m.FaceStart[i]))
	}
	return most
}

func facesOf(m *mesh.Mesh) *element {
	p := &property{name: "vertex_indices", kind: int32s, start: m.FaceStart}
	for _, at := range m.CornerPoint {
		p.values = append(p.values, float64(at))
	}
	p.length = lengthKind(mostCorners(m))
	return &element{name: "face", count: m.NumFaces(), props: []*property{p}}
}

// columnsOf are the columns of a mesh from elsewhere.
func columnsOf(m *mesh.Mesh) *file {
	n := m.NumPoints()
	v := &element{name: "vertex", count: n}
	add := func(k kind, names string, at func(i, c int) float64) {
		for c, name := range strings.Fields(names) {
			p := &property{name: name, kind: k, values: make([]float64, n)}
			for i := range n {
				p.values[i] = at(i, c)
			}
			v.props = append(v.props, p)
		}
	}
	k := float32s
	for _, p := range m.Points {
		if float64(float32(p.X)) != p.X || float64(float32(p.Y)) != p.Y || float64(float32(p.Z)) != p.Z {
			k = float64s
			break
		}
	}
	add(k, "x y z", func(i, c int) float64 { return [3]float64{m.Points[i].X, m.Points[i].Y, m.Points[i].Z}[c] })
	if of := perPoint(m, m.CornerNormal, func(a, b int32) bool { return m.Normals[a] == m.Normals[b] }); of != nil {
		add(float32s, "nx ny nz", func(i, c int) float64 {
			if of[i] == mesh.None {
				return 0
			}
			q := m.Normals[of[i]]
			return [3]float64{q.X, q.Y, q.Z}[c]
		})
	}
	if of := perPoint(m, m.CornerColor, func(a, b int32) bool { return m.Colors[a] == m.Colors[b] }); of != nil {
		add(uint8s, "red green blue alpha", func(i, c int) float64 {
			if of[i] == mesh.None {
				return 255
			}
			return math.Round(255 * min(1, max(0, float64(m.Colors[of[i]][c]))))
		})
	}
	return &file{format: "binary_little_endian", elements: []*element{v, facesOf(m)}}
}

// perPoint is what corners say of each point, None where no corner says anything; nil where
// corners of one point disagree, or say nothing.
func perPoint(m *mesh.Mesh, corner []int32, same func(a, b int32) bool) []int32 {
	if corner == nil {
		return nil
	}
	out := make([]int32, m.NumPoints())
	for i := range out {
		out[i] = mesh.None
	}
	for h, at := range corner {
		p := m.CornerPoint[h]
		switch {
		case at == mesh.None:
		case out[p] == mesh.None:
			out[p] = at
		case !same(out[p], at):
			return nil
		}
	}
	return out
}

func (f *file) write(w io.Writer) error {
	b := bufio.NewWriterSize(w, 1<<20)
	fmt.Fprintf(b, "ply\nformat %s 1.0\n", f.format)
	for _, n := range f.notes {
		fmt.Fprintf(b, "%s\n", n)
	}
	for _, e := range f.elements {
		fmt.Fprintf(b, "element %s %d\n", e.name, e.count)
		for _, p := range e.props {
			if p.length == none {
				fmt.Fprintf(b, "property %s %s\n", kindNames[p.kind], p.name)
			} else {
				fmt.Fprintf(b, "property list %s %s %s\n", kindNames[p.length], kindNames[p.kind], p.name)
			}
		}
	}
	b.WriteString("end_header\n")
	put := binaryPut(binary.LittleEndian)
	switch f.format {
	case "ascii":
		put = textPut
	case "binary_big_endian":
		put = binaryPut(binary.BigEndian)
	}
	var row []byte
	for _, e := range f.elements {
		for i := range e.count {
			row = row[:0]
			for _, p := range e.props {
				if p.length == none {
					row = put(row, p.kind, p.values[i])
					continue
				}
				list := p.row(i)
				row = put(row, p.length, float64(len(list)))
				for _, v := range list {
					row = put(row, p.kind, v)
				}
			}
			if f.format == "ascii" {
				if len(row) == 0 {
					row = append(row, ' ')
				}
				row[len(row)-1] = '\n'
			}
			if _, err := b.Write(row); err != nil {
				return err
			}
		}
	}
	return b.Flush()
}

func textPut(to []byte, k kind, v float64) []byte {
	switch {
	case k.whole():
		to = strconv.AppendInt(to, int64(v), 10)
	case k == float32s:
		to = strconv.AppendFloat(to, v, 'g', -1, 32)
	default:
		to = strconv.AppendFloat(to, v, 'g', -1, 64)
	}
	return append(to, ' ')
}

func binaryPut(order binary.AppendByteOrder) func([]byte, kind, float64) []byte {
	return func(to []byte, k kind, v float64) []byte {
		switch k {
		case int8s, uint8s:
			return append(to, byte(int64(v)))
		case int16s, uint16s:
			return order.AppendUint16(to, uint16(int64(v)))
		case int32s, uint32s:
			return order.AppendUint32(to, uint32(int64(v)))
		case float32s:
			return order.AppendUint32(to, math.Float32bits(float32(v)))
		}
		return order.AppendUint64(to, math.Float64bits(v))
	}
}
