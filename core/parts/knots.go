package parts

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// straightOn is the turn of a border below which it runs straight on.
const straightOn = 2 * math.Pi / 180

// knots finds the corners of each facet that lie on the surface it stands for: where it
// bends over into a neighbour, a side of it begins, ends or turns. What lies between, on a
// straight side or inside, was put there by refining the mesh, and what lies on creases
// alone by cutting it; both are inside the surface by up to the sagitta of the facet. Where
// a crease meets a side that bends over, a column may end or a cut may cross from one shape
// to the next: such corners are not firm. A facet that bends over into nothing has all its
// corners.
func knots(m *mesh.Mesh, list []facet, of []int32) {
	for i := range list {
		f := &list[i]
		if f.bend > 0 {
			f.knots, f.firm = f.bends(m, of, int32(i))
		}
		if len(f.knots) < 3 {
			f.knots = f.knots[:0]
			for _, id := range f.faces {
				f.knots = append(f.knots, m.FacePoints(id)...)
			}
			f.firm = len(f.knots)
		}
	}
}

// bends returns the corners at which a facet bends over into a neighbour, and how many of
// them, the first, do so on both sides.
func (f *facet) bends(m *mesh.Mesh, of []int32, id int32) (out []mesh.PointID, firm int) {
	var loose []mesh.PointID
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
			switch {
			case smooth[a] != smooth[b]:
				loose = append(loose, m.To(h))
			case a != b || mesh.Angle(m.EdgeVec(h), m.EdgeVec(next)) > straightOn:
				out = append(out, m.To(h))
			}
		}
	}
	return append(out, loose...), len(out)
}

// chord is how far inside a wall or cone the corners of a facet may be that are not firm: by the sagitta
// of the facet, a hair more, where a cut ends it on its way round; 0 where none is firm.
func (g *model) chord(f *shape.Fit, i int, p r3.Vec) float64 {
	c := &g.list[i]
	if c.firm < 1 {
		return 0
	}
	round := axisDistance(p, f.Axis, f.Origin)
	if f.Kind == shape.Cone { // the bend is less than the way round
		round /= math.Cos(f.HalfAngle)
	}
	return 1.01 * round * (1 - math.Cos(c.bend/2))
}

// onChord tells whether a corner of a facet, the kth, is where a cut ended it: off the shape, but no
// more than its chord is.
func (g *model) onChord(f *shape.Fit, i, k int) bool {
	if k < g.list[i].firm || f.Kind != shape.Cylinder && f.Kind != shape.Cone {
		return false
	}
	p := g.mesh.Points[g.list[i].knots[k]]
	off, most := f.Distance(p), g.chord(f, i, p)
	return off < -max(leastChord*most, strayNoise*g.tol.noise) && off >= -most
}

// leastChord is the share of the sagitta below which a corner is as good as on the surface.
const leastChord = 1e-3
