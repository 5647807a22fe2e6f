package gltf

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/meshio/format"
)

// split gives corners vertices: one for all that have everything in common, their places in all
// maps too.
type split struct {
	list  []format.Map // up to the last that maps some of the corners: their numbers have no gaps
	known map[string]int32
	key   []byte

	index []int32    // of each corner
	old   [][3]int32 // what each vertex was told to be
	uv    [][]r2.Vec // of each vertex, in each map
}

func newSplit(list []format.Map, corners []mesh.HalfedgeID) *split {
	s := &split{known: map[string]int32{}}
	last := -1
	for k, m := range list {
		for _, h := range corners {
			if _, ok := m.UV(h); ok {
				last = k
				break
			}
		}
	}
	s.list = list[:last+1]
	s.uv = make([][]r2.Vec, len(s.list))
	return s
}

// corner adds a corner.
func (s *split) corner(h mesh.HalfedgeID, is [3]int32) {
	s.key = s.key[:0]
	for _, v := range is {
		s.key = append(s.key, byte(v), byte(v>>8), byte(v>>16), byte(v>>24))
	}
	var at [8]r2.Vec
	uv := at[:0]
	for _, m := range s.list {
		q, ok := m.UV(h)
		if !ok || math.IsNaN(q.X+q.Y) {
			q = r2.Vec{}
		}
		q = r2.Vec{X: float64(float32(q.X)), Y: float64(float32(1 - q.Y))} // V goes down in glTF
		uv = append(uv, q)
		for _, x := range [2]float64{q.X, q.Y} {
			b := math.Float32bits(float32(x))
			s.key = append(s.key, byte(b), byte(b>>8), byte(b>>16), byte(b>>24))
		}
	}
	i, ok := s.known[string(s.key)]
	if !ok {
		i = int32(len(s.old))
		s.known[string(s.key)] = i
		s.old = append(s.old, is)
		for k, q := range uv {
			s.uv[k] = append(s.uv[k], q)
		}
	}
	s.index = append(s.index, i)
}

// addMaps adds the coordinates of the vertices to the attributes of a primitive.
func (s *split) addMaps(o *out, attr map[string]any) {
	for k, uv := range s.uv {
		flat := make([]float32, 0, 2*len(uv))
		for _, q := range uv {
			flat = append(flat, float32(q.X), float32(q.Y))
		}
		attr[fmt.Sprintf("TEXCOORD_%d", k)] = o.floats(flat, 2, "VEC2", false)
	}
}

func unit(n r3.Vec) r3.Vec {
	l := r3.Norm(n)
	if !(l > 0) || math.IsInf(l, 0) {
		return r3.Vec{Z: 1}
	}
	return r3.Scale(1/l, n)
}
