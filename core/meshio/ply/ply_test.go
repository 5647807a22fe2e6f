package ply

import (
	"bytes"
	"context"
	"encoding/binary"
	"errors"
	"math"
	"slices"
	"strings"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
	"morvek/core/meshio/format"
)

func read(t testing.TB, data []byte) *mesh.Mesh {
	t.Helper()
	m, err := Read(context.Background(), format.Input{Data: data})
	if err != nil {
		t.Fatal(err)
	}
	return m
}

func written(t testing.TB, m *mesh.Mesh, maps []format.Map) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := Write(&b, m, maps); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

const sample = `ply
format ascii 1.0
comment made up at Fennhollow
obj_info a hatch
element vertex 5
property float x
property float y
property double z
property float nx
property float ny
property float nz
property uchar red
property uchar green
property uchar blue
property short wear
element face 2
property list uchar int vertex_indices
property list uchar float texcoord
property int crew
element edge 1
property int vertex1
property int vertex2
end_header
0 0 0 0 0 1 255 0 0 -3
1 0 0 0 0 1 0 255 0 4
1 1 0 0 0 1 0 0 255 5
0 1 0 0 0 1 51 51 51 6
0.1 1.5 0.1 0 0 1 0 0 0 32000
4 0 1 2 3 8 0 0 1 0 1 1 0 1 7
3 3 2 4 0 9
0 4
`

func TestReadKeepsEverything(t *testing.T) {
	m := read(t, []byte(sample))
	if m.NumFaces() != 2 || m.NumPoints() != 5 || len(m.FacePoints(0)) != 4 || m.Points[4].Z != 0.1 {
		t.Fatalf("%d faces, %d points, %v", m.NumFaces(), m.NumPoints(), m.Points)
	}
	if uv, ok := format.SourceUV(m)(2); !ok || uv != (r2.Vec{X: 1, Y: 1}) {
		t.Errorf("corner 2 has %v", uv)
	}
	if _, ok := format.SourceUV(m)(5); ok {
		t.Error("a face without coordinates has some")
	}
	if m.Colors[m.CornerColor[1]] != [4]float32{0, 1, 0, 1} || m.Normals[m.CornerNormal[1]].Z != 1 {
		t.Error("colours or normals are others")
	}
}

// With the map it came with, a file is written to the byte as it was, in all three formats; with
// another, only the map is another.
func TestWhatIsNoMapStays(t *testing.T) {
	text := read(t, []byte(sample))
	for _, kind := range []string{"ascii", "binary_little_endian", "binary_big_endian"} {
		c := *text.Kept.(*file)
		c.format = kind
		var b bytes.Buffer
		if err := c.write(&b); err != nil {
			t.Fatal(err)
		}
		m := read(t, b.Bytes())
		again := written(t, m, format.SourceMaps(m))
		// The map moves behind the other properties of faces.
		n := read(t, again)
		same(t, kind, m, n)
		if twice := written(t, n, format.SourceMaps(n)); !bytes.Equal(again, twice) {
			t.Errorf("%s: written twice it is another file", kind)
		}
		for _, words := range []string{"format " + kind, "comment made up at Fennhollow", "obj_info a hatch", "property short wear", "property double z", "property int crew", "element edge 1"} {
			if !bytes.Contains(again, []byte(words)) {
				t.Errorf("%s: %q is lost", kind, words)
			}
		}
		f := n.Kept.(*file)
		if f.element("vertex").column("wear").values[4] != 32000 || f.element("face").column("crew").values[1] != 9 || f.element("edge").column("vertex2").values[0] != 4 {
			t.Errorf("%s: other properties are others", kind)
		}
	}
}

func same(t *testing.T, what string, a, b *mesh.Mesh) {
	t.Helper()
	if !slices.Equal(a.Points, b.Points) || !slices.Equal(a.CornerPoint, b.CornerPoint) || !slices.Equal(a.FaceStart, b.FaceStart) || !slices.Equal(a.Normals, b.Normals) || !slices.Equal(a.Colors, b.Colors) {
		t.Errorf("%s: the mesh is another", what)
	}
	x, y := format.SourceMaps(a), format.SourceMaps(b)
	if len(x) != len(y) {
		t.Fatalf("%s: %d maps became %d", what, len(x), len(y))
	}
	for k := range x {
		for h := range mesh.HalfedgeID(a.NumCorners()) {
			p, ok := x[k].UV(h)
			q, is := y[k].UV(h)
			if p != q || ok != is {
				t.Fatalf("%s: corner %d has %v, not %v", what, h, q, p)
			}
		}
	}
}

// Several maps are lists of their own; a mesh from elsewhere gets columns of its own, with as many
// digits as its points have.
func TestSeveralMapsAndOtherMeshes(t *testing.T) {
	b := mesh.NewBuilder()
	for _, p := range read(t, []byte(sample)).Points {
		p.X += 1. / 3
		b.Point(p)
	}
	b.Face(0, 1, 2, 3)
	m, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	half := func(h mesh.HalfedgeID) (r2.Vec, bool) { return r2.Vec{X: float64(h) / 4, Y: 0.5}, true }
	none := func(mesh.HalfedgeID) (r2.Vec, bool) { return r2.Vec{}, false }
	n := read(t, written(t, m, []format.Map{{UV: half}, {UV: none}, {UV: half}}))
	if !slices.Equal(n.Points, m.Points) {
		t.Errorf("points are %v", n.Points)
	}
	maps := format.SourceMaps(n)
	if len(maps) < 2 {
		t.Fatalf("%d maps", len(maps))
	}
	if q, ok := maps[len(maps)-1].UV(3); !ok || q.X != 0.75 {
		t.Errorf("the last map has %v", q)
	}
}

func TestOldWaysToSayThings(t *testing.T) {
	strips := "ply\r\nformat ascii 1.0\r\nelement vertex 5\r\nproperty float32 x\r\nproperty float32 y\r\nproperty float32 z\r\nproperty float s\r\nproperty float t\r\n" +
		"element tristrips 1\r\nproperty list int int vertex_indices\r\nend_header\r\n0 0 0 0 0\r\n1 0 0 1 0\r\n0 1 0 0 1\r\n1 1 0 1 1\r\n0 2 0 0 2\r\n9 0 1 2 3 -1 2 3 4 -1\r\n"
	m := read(t, []byte(strips))
	if m.NumFaces() != 3 || !slices.Equal(m.FacePoints(1), []mesh.PointID{2, 1, 3}) {
		t.Fatalf("%d faces, the second of %v", m.NumFaces(), m.FacePoints(1))
	}
	if uv, ok := format.SourceUV(m)(5); !ok || uv != (r2.Vec{X: 1, Y: 1}) {
		t.Errorf("a corner has %v", uv)
	}
	n := read(t, written(t, m, format.SourceMaps(m)))
	if n.NumFaces() != 3 || len(format.SourceMaps(n)) != 1 {
		t.Errorf("written it has %d faces", n.NumFaces())
	}
}

func TestRefused(t *testing.T) {
	change := func(old, with string) string { return strings.Replace(sample, old, with, 1) }
	for name, c := range map[string]struct {
		text, says string
		line       int
	}{
		"empty":         {"", "no end", 0},
		"prose":         {"hello\nthere\n", "not \"ply\"", 0},
		"no format":     {change("format ascii 1.0\n", ""), "ascii or binary", 0},
		"another":       {change("format ascii", "format packed"), "unknown", 2},
		"a word in it":  {change("property short wear", "properly short wear"), "\"properly\", which is unknown", 15},
		"a type":        {change("property short", "property quad"), "unknown type", 15},
		"no vertices":   {change("element vertex", "element corner"), "no vertices", 0},
		"no z":          {change("double z", "double zz"), "lack x, y or z", 0},
		"no faces":      {change("element face", "element fate"), "no faces", 0},
		"too many rows": {change("vertex 5", "vertex 2000000000"), "more than the file can hold", 0},
		"cut off":       {sample[:len(sample)-9], "ends in", 30},
		"far index":     {change("3 3 2 4 0 9", "3 3 2 5 0 9"), "face 2: it uses vertex 5", 0},
		"half an index": {change("3 3 2 4 0 9", "3 3 2 1.5 0 9"), "1.5 is no int", 30},
		"a word":        {change("0.1 1.5", "0.1 high"), "\"high\" is not a number", 28},
		"two corners":   {change("3 3 2 4 0 9", "2 3 2 0 9"), "at least 3", 0},
		"not finite":    {change("0.1 1.5", "inf 1.5"), "finite", 0},
	} {
		_, err := Read(context.Background(), format.Input{Data: []byte(c.text)})
		var bad *format.Error
		if !errors.As(err, &bad) || !strings.Contains(err.Error(), c.says) || bad.Hint == "" || bad.Line != c.line {
			t.Errorf("%s: %v", name, err)
		}
	}
	raw := append([]byte("ply\nformat binary_little_endian 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\nelement face 1\nproperty list uchar int vertex_indices\nend_header\n"), make([]byte, 36)...)
	raw = binary.LittleEndian.AppendUint32(append(raw, 200), math.MaxUint32)
	if _, err := Read(context.Background(), format.Input{Data: raw}); err == nil || !strings.Contains(err.Error(), "ends in face 1 of 1") {
		t.Errorf("a list that is cut off gave %v", err)
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := Read(ctx, format.Input{Data: []byte(sample)}); !errors.Is(err, context.Canceled) {
		t.Errorf("cancelled reading gave %v", err)
	}
}

func FuzzRead(f *testing.F) {
	f.Add([]byte(sample))
	m := read(f, []byte(sample))
	for _, kind := range []string{"binary_little_endian", "binary_big_endian"} {
		c := *m.Kept.(*file)
		c.format = kind
		var b bytes.Buffer
		if err := c.write(&b); err != nil {
			f.Fatal(err)
		}
		f.Add(b.Bytes())
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		m, err := Read(t.Context(), format.Input{Data: data})
		if err != nil {
			return
		}
		n, err := Read(t.Context(), format.Input{Data: written(t, m, format.SourceMaps(m))})
		if err != nil || n.NumFaces() != m.NumFaces() || n.NumPoints() != m.NumPoints() {
			t.Fatalf("what was written cannot be read back: %v", err)
		}
	})
}
