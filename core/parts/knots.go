package parts

import (
	"math"

	"morvek/core/mesh"
)

// straightOn is the turn of a border below which it runs straight on.
const straightOn = 2 * math.Pi / 180

// knots finds the corners of each facet that lie on the surface it stands for: where it
// bends over into a neighbour, a side of it begins, ends or turns. What lies between, on a
// straight side or inside, was put there by refining the mesh, and what lies on creases
// alone by cutting it; both are inside the surface by up to the sagitta of the facet. A
// facet that bends over into nothing has all its corners.
func knots(m *mesh.Mesh, list []facet, of []int32) {
	for i := range list {
		f := &list[i]
		if f.bend > 0 {
			f.knots = f.bends(m, of, int32(i))
		}
		if len(f.knots) < 3 {
			f.knots = f.knots[:0]
			for _, id := range f.faces {
				f.knots = append(f.knots, m.FacePoints(id)...)
			}
		}
	}
}

func (f *facet) bends(m *mesh.Mesh, of []int32, id int32) (out []mesh.PointID) {
	smooth := make(map[int32]bool, len(f.sides))
	for _, s := range f.sides {
		smooth[int32(s.other)] = s.smooth
	}
	beyond := func(h mesh.HalfedgeID) int32 {
		t := m.Twin(h)
		if t == mesh.None {
			return mesh.None
		}
		return of[m.FaceOf(t)]
	}
	for _, face := range f.faces {
		lo, hi := m.Corners(face)
		for h := lo; h < hi; h++ {
			a := beyond(h)
			if a == id {
				continue
			}
			next, b := m.Next(h), int32(0)
			for range len(f.faces) + 1 { // round the corner, inside the facet
				if b = beyond(next); b != id {
					break
				}
				next = m.Next(m.Twin(next))
			}
			if !smooth[a] && !smooth[b] {
				continue
			}
			if a != b || mesh.Angle(m.EdgeVec(h), m.EdgeVec(next)) > straightOn {
				out = append(out, m.To(h))
			}
		}
	}
	return out
}
