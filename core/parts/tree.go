package parts

import (
	"cmp"
	"slices"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// A Tree is a reading of a mesh. Its leaves are primitives; what lies above unites them to
// what a modeler would map as one: a wall with its beads, the teeth of a gear, a plate with
// its chamfers. Parts are a cut through it.
type Tree []Part

// usual is the detail that people expect.
const usual = 0.5

// steps are the details down to which parts are united one after the other.
var steps = []float64{usual, 0.25, 0}

// What is made of primitives as a whole, the teeth of a gear or the strips of a bar, is one
// up to this detail.
const together = 0.75

// Cut returns the parts at a detail, ordered by falling area: 0 few parts … 1 primitives.
func (t Tree) Cut(m *mesh.Mesh, detail float64) []Part {
	var out []Part
	var walk func(list []Part)
	walk = func(list []Part) {
		for _, p := range list {
			if len(p.Pieces) > 0 && detail > p.Until {
				walk(p.Pieces)
			} else {
				out = append(out, p)
			}
		}
	}
	walk(t)
	byArea(m, out)
	return out
}

// Above returns the part of the tree that unites the one made of these faces with others
// or, where the tree has no such part, the smallest that has them all; ok is false if that
// is nothing but the faces themselves.
func (t Tree) Above(faces []mesh.FaceID) (p Part, ok bool) {
	level := []Part(t)
	for len(level) > 0 {
		k := slices.IndexFunc(level, func(p Part) bool { return hasAll(p.Faces, faces) })
		if k < 0 || len(level[k].Faces) == len(faces) {
			break
		}
		p, ok = level[k], true
		level = p.Pieces
	}
	return p, ok
}

// hasAll tells whether an ascending list of faces has all of another.
func hasAll(list, faces []mesh.FaceID) bool {
	if len(list) < len(faces) {
		return false
	}
	for _, f := range faces {
		if _, ok := slices.BinarySearch(list, f); !ok {
			return false
		}
	}
	return true
}

// compound is a part of pieces that are one up to a detail.
func compound(pieces []Part, until float64, fit shape.Fit) Part {
	p := Part{Fit: fit, Pieces: pieces, Until: until}
	for _, q := range pieces {
		p.Faces = append(p.Faces, q.Faces...)
	}
	slices.Sort(p.Faces)
	return p
}

// unite returns the parts with every group made one of them, which is one up to a detail.
// Groups name parts by index, and as says what a group is.
func unite(parts []Part, groups [][]int, as func(group []int) (fit shape.Fit, until float64)) []Part {
	gone := make([]bool, len(parts))
	into := make(map[int]Part, len(groups))
	for _, grp := range groups {
		slices.Sort(grp)
		var pieces []Part
		for _, i := range grp {
			pieces = append(pieces, parts[i])
			gone[i] = true
		}
		fit, until := as(grp)
		into[grp[0]] = compound(pieces, until, fit)
	}
	var out []Part
	for i, p := range parts {
		if u, ok := into[i]; ok {
			out = append(out, u)
		} else if !gone[i] {
			out = append(out, p)
		}
	}
	return out
}

// mostSides is how many flats a box has at the most, steps and notches counted.
const mostSides = 24

// uniteWhole makes one part of all that hangs together: a box where its sides are square to
// each other, a free form otherwise.
func uniteWhole(m *mesh.Mesh, parts []Part) []Part {
	piece, n := m.Components()
	groups := make([][]int, n)
	for i, p := range parts {
		k := piece[p.Faces[0]]
		groups[k] = append(groups[k], i)
	}
	groups = slices.DeleteFunc(groups, func(g []int) bool { return len(g) < 2 })
	return unite(parts, groups, func(grp []int) (shape.Fit, float64) {
		flat := !slices.ContainsFunc(grp, func(i int) bool { return parts[i].Fit.Kind != shape.Plane })
		if flat && len(grp) <= mostSides {
			if f := shape.FitBox(shape.Gather(m, unionFaces(parts, grp))); f.Bend < normalSlack {
				return f, 0
			}
		}
		return shape.Fit{Kind: shape.Free, Origin: parts[grp[0]].Fit.Origin}, 0
	})
}

func byArea(m *mesh.Mesh, list []Part) {
	slices.SortStableFunc(list, func(a, b Part) int {
		// Rounded, so that equal parts keep the order of the file.
		return cmp.Or(cmp.Compare(float32(partArea(m, b)), float32(partArea(m, a))), cmp.Compare(a.Faces[0], b.Faces[0]))
	})
}
