package parts

import (
	"math"
	"slices"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// border is where two parts meet.
type border struct {
	other  int
	length float64
	bend   float64 // mean over the length, radians, positive where convex
	edges  []mesh.EdgeID
}

// neighbours returns the borders of each part, longest first, and the length of
// its whole rim, open edges included.
func neighbours(m *mesh.Mesh, parts []Part) (list [][]border, rim []float64) {
	owner := owners(m, parts)
	list, rim = make([][]border, len(parts)), make([]float64, len(parts))
	at := map[[2]int]int{}
	for e := range m.NumEdges() {
		id := mesh.EdgeID(e)
		f, g := m.EdgeFaces(id)
		l := m.EdgeLength(id)
		if g == mesh.None || owner[f] < 0 || owner[g] < 0 {
			for _, k := range []mesh.FaceID{f, g} {
				if k != mesh.None && owner[k] >= 0 {
					rim[owner[k]] += l
				}
			}
			continue
		}
		if owner[f] == owner[g] {
			continue
		}
		bend := m.Dihedral(id)
		for _, k := range [2][2]int{{owner[f], owner[g]}, {owner[g], owner[f]}} {
			i, ok := at[k]
			if !ok {
				i = len(list[k[0]])
				at[k] = i
				list[k[0]] = append(list[k[0]], border{other: k[1]})
			}
			b := &list[k[0]][i]
			b.length += l
			b.bend += l * bend
			b.edges = append(b.edges, id)
			rim[k[0]] += l
		}
	}
	for i := range list {
		for k := range list[i] {
			if b := &list[i][k]; b.length > 0 {
				b.bend /= b.length
			}
		}
		slices.SortStableFunc(list[i], func(a, b border) int {
			if x, y := float32(a.length), float32(b.length); x != y {
				if x > y {
					return -1
				}
				return 1
			}
			return a.other - b.other
		})
	}
	return list, rim
}

func owners(m *mesh.Mesh, parts []Part) []int {
	owner := make([]int, m.NumFaces())
	for f := range owner {
		owner[f] = -1
	}
	for i, p := range parts {
		for _, f := range p.Faces {
			owner[f] = i
		}
	}
	return owner
}

// width is the breadth of a narrow part: twice its area over its rim.
func width(area, rim float64) float64 {
	if rim == 0 {
		return math.Sqrt(area)
	}
	return 2 * area / rim
}

func unionFaces(parts []Part, group []int) (faces []mesh.FaceID) {
	for _, i := range group {
		faces = append(faces, parts[i].Faces...)
	}
	slices.Sort(faces)
	return faces
}

// isWall tells whether a shape goes round an axis and can take a band.
func isWall(k shape.Kind) bool {
	t := k.Traits()
	return t.Axis.Around() || t.Tube
}
