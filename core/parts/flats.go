package parts

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// flat is a maximal set of connected faces in one plane: the facet a modeler
// sees, however it is subdivided.
type flat struct {
	faces  []mesh.FaceID
	normal r3.Vec
	area   float64
	sides  []side
}

// side is the border between a flat and one neighbour.
type side struct {
	other  int
	length float64
	dir    r3.Vec // sum of the edge vectors, signs aligned
	bend   float64
	convex bool
	smooth bool
	extent float64 // of the flat itself across this side: area per length of border
}

const (
	flatAngle   = 0.4 * math.Pi / 180
	coarseAngle = 42 * math.Pi / 180 // from nine sides round, a polygon is a circle
	halfDegree  = 0.5 * math.Pi / 180
)

// flats groups faces into flats, grown from the largest face so that the
// result does not depend on file order, and links the neighbours.
func flats(m *mesh.Mesh, crease float64) (list []flat, of []int32) {
	n, area := m.FaceNormals(), m.FaceAreas()
	order := make([]mesh.FaceID, m.NumFaces())
	for i := range order {
		order[i] = mesh.FaceID(i)
	}
	slices.SortStableFunc(order, func(a, b mesh.FaceID) int { return cmp.Compare(area[b], area[a]) })
	of = make([]int32, m.NumFaces())
	for i := range of {
		of[i] = mesh.None
	}
	slack := m.Diagonal() * 1e-5
	var stack []mesh.FaceID
	for _, seed := range order {
		if of[seed] != mesh.None {
			continue
		}
		id := int32(len(list))
		fl := flat{}
		of[seed] = id
		stack = append(stack[:0], seed)
		for len(stack) > 0 {
			f := stack[len(stack)-1]
			stack = stack[:len(stack)-1]
			fl.faces = append(fl.faces, f)
			fl.area += area[f]
			fl.normal = r3.Add(fl.normal, r3.Scale(area[f], n[f]))
			lo, hi := m.Corners(f)
			for h := lo; h < hi; h++ {
				t := m.Twin(h)
				if t == mesh.None {
					continue
				}
				g := m.FaceOf(t)
				if of[g] == mesh.None && coplanar(m, seed, g, slack) {
					of[g] = id
					stack = append(stack, g)
				}
			}
		}
		if l := r3.Norm(fl.normal); l > 0 {
			fl.normal = r3.Scale(1/l, fl.normal)
		}
		slices.Sort(fl.faces)
		list = append(list, fl)
	}
	link(m, list, of, crease)
	return list, of
}

// coplanar compares a face with the seed of its flat; slack is the coordinate
// error that small faces are forgiven. Faces without area join anything.
func coplanar(m *mesh.Mesh, seed, f mesh.FaceID, slack float64) bool {
	a := m.FaceAreas()[f]
	var longest float64
	lo, hi := m.Corners(f)
	for h := lo; h < hi; h++ {
		longest = max(longest, r3.Norm(m.EdgeVec(h)))
	}
	if a <= longest*longest*1e-9 {
		return true
	}
	tol := flatAngle + min(4*flatAngle, slack*longest/a)
	return mesh.Angle(m.FaceNormals()[seed], m.FaceNormals()[f]) <= tol
}

func link(m *mesh.Mesh, list []flat, of []int32, crease float64) {
	for i := range list {
		fl := &list[i]
		at := map[int32]int{}
		for _, f := range fl.faces {
			lo, hi := m.Corners(f)
			for h := lo; h < hi; h++ {
				t := m.Twin(h)
				if t == mesh.None || of[m.FaceOf(t)] == int32(i) {
					continue
				}
				o := of[m.FaceOf(t)]
				k, ok := at[o]
				if !ok {
					k = len(fl.sides)
					at[o] = k
					fl.sides = append(fl.sides, side{other: int(o)})
				}
				s := &fl.sides[k]
				v := m.EdgeVec(h)
				s.length += r3.Norm(v)
				if r3.Dot(s.dir, v) < 0 {
					v = r3.Scale(-1, v)
				}
				s.dir = r3.Add(s.dir, v)
				s.convex = m.Dihedral(m.Edge(h)) > 0
			}
		}
		for k := range fl.sides {
			s := &fl.sides[k]
			s.bend = mesh.Angle(fl.normal, list[s.other].normal)
			s.extent = fl.area / s.length
		}
	}
	for i := range list {
		for k := range list[i].sides {
			s := &list[i].sides[k]
			s.smooth = s.bend <= crease+halfDegree || s.bend <= coarseAngle && regular(list, i, k)
		}
	}
}

// regular tells whether a bend above the crease angle is one step of a coarse
// round: both flats equally wide, each with an equal bend on its far side.
func regular(list []flat, i, k int) bool {
	s := list[i].sides[k]
	back := slices.IndexFunc(list[s.other].sides, func(t side) bool { return t.other == i })
	if back < 0 {
		return false
	}
	t := list[s.other].sides[back]
	if s.extent > 1.3*t.extent || t.extent > 1.3*s.extent {
		return false
	}
	goesOn := func(f flat, not side) bool {
		return slices.ContainsFunc(f.sides, func(o side) bool {
			apart := mesh.Angle(o.dir, not.dir)
			return o.other != not.other && o.convex == not.convex && o.bend > 0.8*not.bend && o.bend < 1.25*not.bend &&
				min(apart, math.Pi-apart) < math.Pi/4
		})
	}
	return goesOn(list[i], s) && goesOn(list[s.other], t)
}
