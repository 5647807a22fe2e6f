package wire

import (
	"encoding/binary"
	"math"

	"morvek/core/mesh"
	"morvek/workspace"
)

// A block travels as little-endian arrays: four letters, a count, then each array
// as its length in bytes and its data, padded to four bytes. web/bench/blocks.ts
// reads them.
type block struct{ b []byte }

func newBlock(mark string, arrays int) *block {
	b := &block{b: append(make([]byte, 0, 1<<16), mark...)}
	b.b = binary.LittleEndian.AppendUint32(b.b, uint32(arrays))
	return b
}

func (b *block) ints(n int, at func(i int) int32) {
	b.b = binary.LittleEndian.AppendUint32(b.b, uint32(4*n))
	for i := range n {
		b.b = binary.LittleEndian.AppendUint32(b.b, uint32(at(i)))
	}
}

func (b *block) floats(n int, at func(i int) float32) {
	b.ints(n, func(i int) int32 { return int32(math.Float32bits(at(i))) })
}

func (b *block) flags(n int, at func(i int) bool) {
	b.bytes(n, func(i int) byte {
		if at(i) {
			return 1
		}
		return 0
	})
}

func (b *block) bytes(n int, at func(i int) byte) {
	b.b = binary.LittleEndian.AppendUint32(b.b, uint32(n))
	for i := range n {
		b.b = append(b.b, at(i))
	}
	for len(b.b)%4 != 0 {
		b.b = append(b.b, 0)
	}
}

// Mesh writes what the views need of a mesh: points about the middle of
// the model, faces, triangles, edges with their two corners and their bend.
func Mesh(m *mesh.Mesh) []byte {
	lo, hi := m.Bounds()
	t := m.Triangles()
	b := newBlock("MVM1", 7)
	b.floats(3*m.NumPoints(), func(i int) float32 {
		p := m.Points[i/3]
		switch i % 3 {
		case 0:
			return float32(p.X - (lo.X+hi.X)/2)
		case 1:
			return float32(p.Y - (lo.Y+hi.Y)/2)
		}
		return float32(p.Z - (lo.Z+hi.Z)/2)
	})
	b.ints(len(m.FaceStart), func(i int) int32 { return m.FaceStart[i] })
	b.ints(m.NumCorners(), func(i int) int32 { return int32(m.CornerPoint[i]) })
	b.ints(3*len(t.Corner), func(i int) int32 { return int32(t.Corner[i/3][i%3]) })
	b.ints(len(t.Face), func(i int) int32 { return int32(t.Face[i]) })
	b.ints(m.NumCorners(), func(i int) int32 { return int32(m.Edge(mesh.HalfedgeID(i))) })
	b.floats(m.NumEdges(), func(i int) float32 { return float32(m.Dihedral(mesh.EdgeID(i))) })
	return b.b
}

// Layout writes the state of the map with its measures per face.
func Layout(o *workspace.Opened) []byte {
	m, s, r := o.Doc.Mesh, o.Doc.State, o.Proof()
	b := newBlock("MVL4", 9)
	uv := s.Map.UV()
	b.floats(2*m.NumCorners(), func(i int) float32 {
		if i%2 == 0 {
			return float32(uv[i/2].X)
		}
		return float32(uv[i/2].Y)
	})
	b.ints(m.NumFaces(), func(i int) int32 { return int32(s.PartOf(mesh.FaceID(i))) })
	b.ints(m.NumFaces(), func(i int) int32 { return r.ShellOf[i] })
	b.flags(m.NumFaces(), func(i int) bool { return s.Map.IsMapped(mesh.FaceID(i)) })
	b.flags(m.NumEdges(), func(i int) bool { return s.Map.IsCut(mesh.EdgeID(i)) })
	b.floats(m.NumFaces(), func(i int) float32 { return r.Stretch[i] })
	b.floats(m.NumFaces(), func(i int) float32 { return r.Angular[i] })
	b.floats(m.NumFaces(), func(i int) float32 { return r.GrainErr[i] })
	wish := make([]int8, 0, 3*m.NumFaces())
	for f := range mesh.FaceID(m.NumFaces()) {
		d := grainDirection(o, f)
		wish = append(wish, d[:]...)
	}
	b.bytes(len(wish), func(i int) byte { return byte(wish[i]) })
	return b.b
}

// Exposure writes the exposure of each face, 0 hidden to 1 open.
func Exposure(v []float32) []byte {
	b := newBlock("MVX1", 1)
	b.floats(len(v), func(i int) float32 { return max(0, min(1, v[i])) })
	return b.b
}

// Images writes which faces and edges are each other's image, -1 where there is none.
func Images(face []mesh.FaceID, edge []mesh.EdgeID) []byte {
	b := newBlock("MVI1", 2)
	b.ints(len(face), func(i int) int32 { return int32(face[i]) })
	b.ints(len(edge), func(i int) int32 { return int32(edge[i]) })
	return b.b
}

// Changes writes what became of each face, of the mesh before and of the one after.
func Changes[T ~uint8](before, after []T) []byte {
	b := newBlock("MVC1", 2)
	for _, list := range [][]T{before, after} {
		b.bytes(len(list), func(i int) byte { return byte(list[i]) })
	}
	return b.b
}

// grainDirection is the wished direction of a face, 127 to the unit; zero where there is
// none.
func grainDirection(o *workspace.Opened, f mesh.FaceID) (out [3]int8) {
	s := o.Doc.State
	p := s.PartOf(f)
	if p < 0 {
		return out
	}
	if d, ok := s.Parts[p].Grain.At(o.Doc.Mesh.FaceCentre(f), o.Doc.Mesh.FaceNormals()[f]); ok {
		for k, x := range []float64{d.X, d.Y, d.Z} {
			out[k] = int8(math.Round(127 * x))
		}
	}
	return out
}
