package obj

import (
	"bufio"
	"io"
	"math"
	"strconv"
	"strings"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
	"morvek/core/meshio/format"
)

// Write writes a mesh as Wavefront OBJ: points, faces, corner order,
// objects, groups, materials, smoothing and normals as they were read, and the
// first map as vt: a file holds one. Corners of one point that share a coordinate share a vt.
func Write(w io.Writer, m *mesh.Mesh, maps []format.Map) error {
	uv := func(mesh.HalfedgeID) (r2.Vec, bool) { return r2.Vec{}, false }
	if len(maps) > 0 {
		uv = maps[0].UV
	}
	o := objWriter{w: bufio.NewWriterSize(w, 1<<20)}
	asides := m.Asides
	asides = o.asides(asides, 0)
	for _, l := range m.Libraries {
		o.words("mtllib", l)
	}
	tails := m.Tails.Of
	if m.Tails == nil && m.CornerColor != nil {
		tails = colorTails(m)
	}
	for i, p := range m.Points {
		o.coords("v", -1, tails(mesh.PointID(i)), p.X, p.Y, p.Z)
	}
	for _, n := range m.Normals {
		o.coords("vn", -1, nil, n.X, n.Y, n.Z)
	}
	vt := o.mapCoords(m, uv)

	state := [4]int32{mesh.None, mesh.None, mesh.None, mesh.None}
	for f := range m.NumFaces() {
		asides = o.asides(asides, int32(f))
		o.change("o", m.Objects, m.FaceObject[f], &state[0])
		o.change("g", m.Groups, m.FaceGroup[f], &state[1])
		o.change("usemtl", m.Materials, m.FaceMaterial[f], &state[2])
		o.change("s", m.Smoothing, m.FaceSmoothing[f], &state[3])
		o.buf = append(o.buf[:0], 'f')
		lo, hi := m.Corners(mesh.FaceID(f))
		for c := lo; c < hi; c++ {
			o.buf = append(o.buf, ' ')
			o.buf = strconv.AppendInt(o.buf, int64(m.CornerPoint[c])+1, 10)
			normal := m.CornerNormal != nil && m.CornerNormal[c] != mesh.None
			if vt[c] > 0 || normal {
				o.buf = append(o.buf, '/')
			}
			if vt[c] > 0 {
				o.buf = strconv.AppendInt(o.buf, int64(vt[c]), 10)
			}
			if normal {
				o.buf = append(o.buf, '/')
				o.buf = strconv.AppendInt(o.buf, int64(m.CornerNormal[c])+1, 10)
			}
		}
		o.flushLine()
	}
	o.asides(asides, int32(m.NumFaces()))
	if o.err != nil {
		return o.err
	}
	return o.w.Flush()
}

type objWriter struct {
	w   *bufio.Writer
	buf []byte
	err error

	headed bool // what stands before the points is written
}

func (o *objWriter) flushLine() {
	o.buf = append(o.buf, '\n')
	if _, err := o.w.Write(o.buf); err != nil && o.err == nil {
		o.err = err
	}
}

func (o *objWriter) words(key, text string) {
	o.buf = append(o.buf[:0], key...)
	if text != "" {
		o.buf = append(append(o.buf, ' '), text...)
	}
	o.flushLine()
}

// asides writes the lines that stood before a number of faces and returns the others.
// Wires name points, so those before the first face wait until these are written.
func (o *objWriter) asides(list []mesh.Aside, faces int32) []mesh.Aside {
	var wait []mesh.Aside
	for len(list) > 0 && list[0].Faces <= faces {
		if a := list[0]; faces == 0 && !o.headed && !strings.HasPrefix(a.Text, "#") {
			wait = append(wait, a)
		} else {
			o.words(a.Text, "")
		}
		list = list[1:]
	}
	o.headed = true
	return append(wait, list...)
}

// coords writes numbers with the given significant digits, -1 for as many as
// it takes to read the same value back, and what stood behind them.
func (o *objWriter) coords(key string, digits int, tail []byte, x ...float64) {
	o.buf = append(o.buf[:0], key...)
	for _, v := range x {
		o.buf = append(o.buf, ' ')
		o.buf = strconv.AppendFloat(o.buf, v, 'g', digits, 64)
	}
	if len(tail) > 0 {
		o.buf = append(append(o.buf, ' '), tail...)
	}
	o.flushLine()
}

func (o *objWriter) change(key string, names []string, now int32, state *int32) {
	if now != *state && now != mesh.None {
		o.words(key, names[now])
		*state = now
	}
}

// mapCoords writes the distinct coordinates and returns the 1-based index of
// each corner, 0 where there is none.
func (o *objWriter) mapCoords(m *mesh.Mesh, uv format.UV) []int32 {
	vt := make([]int32, m.NumCorners())
	type link struct {
		uv   r2.Vec
		next int32
	}
	head := make([]int32, m.NumPoints())
	links := []link{{}}
	for c, p := range m.CornerPoint {
		t, ok := uv(mesh.HalfedgeID(c))
		if !ok || math.IsNaN(t.X+t.Y) {
			continue
		}
		i := head[p]
		for i != 0 && links[i].uv != t {
			i = links[i].next
		}
		if i == 0 {
			i = int32(len(links))
			links = append(links, link{t, head[p]})
			head[p] = i
			o.coords("vt", 12, nil, t.X, t.Y)
		}
		vt[c] = i
	}
	return vt
}

// colorTails are the colours of points of another format, as they stand behind coordinates: that
// of the first corner that has one.
func colorTails(m *mesh.Mesh) func(mesh.PointID) []byte {
	of := make([]int32, m.NumPoints())
	for i := range of {
		of[i] = mesh.None
	}
	for h, c := range m.CornerColor {
		if p := m.CornerPoint[h]; of[p] == mesh.None {
			of[p] = c
		}
	}
	var buf []byte
	return func(p mesh.PointID) []byte {
		c := [4]float32{1, 1, 1, 1}
		if of[p] != mesh.None {
			c = m.Colors[of[p]]
		}
		buf = buf[:0]
		for i, v := range c[:3] {
			if i > 0 {
				buf = append(buf, ' ')
			}
			buf = strconv.AppendFloat(buf, float64(v), 'g', 6, 32)
		}
		return buf
	}
}
