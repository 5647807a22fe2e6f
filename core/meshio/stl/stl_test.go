package stl

import (
	"context"
	"encoding/binary"
	"errors"
	"math"
	"slices"
	"strings"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/meshio/format"
)

// tent is a tetrahedron, as triangles with a corner each.
var tent = [4][3]r3.Vec{
	{{}, {Y: 1}, {X: 1}}, {{}, {X: 1}, {Z: 1}}, {{}, {Z: 1}, {Y: 1}}, {{X: 1}, {Y: 1}, {Z: 1}},
}

func binaryFile(head string) []byte {
	b := make([]byte, 80, 284)
	copy(b, head)
	le := binary.LittleEndian
	b = le.AppendUint32(b, uint32(len(tent)))
	for _, tri := range tent {
		b = append(b, make([]byte, 12)...)
		for _, p := range tri {
			for _, x := range [3]float64{p.X, p.Y, p.Z} {
				b = le.AppendUint32(b, math.Float32bits(float32(x)))
			}
		}
		b = append(b, 0, 0)
	}
	return b
}

const text = `solid the hut
facet normal 0 0 1
 outer loop
  vertex 0 0 0
  vertex 1 0 0
  vertex 0 1 -0
 endloop
endfacet
endsolid the hut
SOLID shed
FACET NORMAL 0 0 1
OUTER LOOP
VERTEX 1 0 0
VERTEX 1 1 0
VERTEX 0 1 0
ENDLOOP
ENDFACET
ENDSOLID
`

// Points are welded, so that triangles hang together, whatever the head of a binary file says.
func TestTrianglesHangTogether(t *testing.T) {
	for _, head := range []string{"made up", "solid hut"} {
		m, err := Read(context.Background(), format.Input{Data: binaryFile(head)})
		if err != nil {
			t.Fatal(err)
		}
		if m.NumPoints() != 4 || m.NumFaces() != 4 || m.NumEdges() != 6 || len(m.Health()) != 0 {
			t.Errorf("%s: %d points, %d faces, %d edges", head, m.NumPoints(), m.NumFaces(), m.NumEdges())
		}
	}
	m, err := Read(context.Background(), format.Input{Data: []byte(text)})
	if err != nil {
		t.Fatal(err)
	}
	if m.NumPoints() != 4 || m.NumFaces() != 2 || !slices.Equal(m.Objects, []string{"the hut", "shed"}) || m.ObjectName(mesh.FaceID(1)) != "shed" {
		t.Errorf("%d points, %d faces of %q", m.NumPoints(), m.NumFaces(), m.Objects)
	}
}

func TestRefused(t *testing.T) {
	whole := binaryFile("")
	for name, c := range map[string]struct {
		data []byte
		says string
		line int
	}{
		"empty":          {nil, "too short", 0},
		"cut off":        {whole[:200], "cut off", 0},
		"prose":          {[]byte(strings.Repeat("hello there, this is no model at all. ", 9)), "no STL file", 0},
		"nothing in it":  {[]byte("solid x\nendsolid x\n"), "no triangles", 0},
		"four vertices":  {[]byte(strings.Replace(text, "  vertex 1 0 0\n", "  vertex 1 0 0\n  vertex 1 0 0\n", 1)), "found 4", 9},
		"a word":         {[]byte(strings.Replace(text, "vertex 1 0 0", "vertex 1 zero 0", 1)), "\"zero\"", 5},
		"not finite":     {[]byte(strings.Replace(text, "vertex 1 0 0", "vertex 1 1e999 0", 1)), "finite", 5},
		"another word":   {[]byte(strings.Replace(text, " endloop", " endlop", 1)), "no word of STL", 7},
		"outside":        {[]byte("solid\nvertex 0 0 0\n"), "outside a facet", 2},
		"within a facet": {[]byte(text[:60]), "within a facet", 4},
		"no number": {func() []byte {
			b := binaryFile("")
			binary.LittleEndian.PutUint32(b[96:], math.Float32bits(float32(math.NaN())))
			return b
		}(), "triangle 1", 0},
	} {
		_, err := Read(context.Background(), format.Input{Data: c.data})
		var bad *format.Error
		if !errors.As(err, &bad) || !strings.Contains(err.Error(), c.says) || bad.Hint == "" || bad.Line != c.line {
			t.Errorf("%s: %v", name, err)
		}
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	for _, data := range [][]byte{whole, []byte(text)} {
		if _, err := Read(ctx, format.Input{Data: data}); !errors.Is(err, context.Canceled) {
			t.Errorf("cancelled reading gave %v", err)
		}
	}
}

func FuzzRead(f *testing.F) {
	f.Add(binaryFile("solid"))
	f.Add([]byte(text))
	f.Fuzz(func(t *testing.T, data []byte) {
		if m, err := Read(t.Context(), format.Input{Data: data}); err == nil {
			m.Health()
		}
	})
}
