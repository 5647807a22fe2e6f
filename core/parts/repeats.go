package parts

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// Repeat tells that a part is equal to an earlier one, or to its mirror image.
type Repeat struct {
	Of       int // index of the first part of its kind, or mesh.None
	Mirrored bool
}

// repeatTolerance is the difference of lengths, relative to the longest edge, up
// to which two parts count as equal.
const repeatTolerance = 1e-4

// Repeats finds equal and mirrored-equal face sets: candidates by counts, area
// and edge lengths, confirmed by walking both from matched halfedges.
func Repeats(m *mesh.Mesh, faces [][]mesh.FaceID) []Repeat {
	out := make([]Repeat, len(faces))
	type key struct{ faces, corners int }
	type first struct {
		part int
		w    *walker
	}
	firsts := map[key][]first{}
	for i, f := range faces {
		out[i].Of = mesh.None
		if len(f) == 0 {
			continue
		}
		w := newWalker(m, f)
		k := key{len(f), w.corners}
		for _, a := range firsts[k] {
			if !near(a.w.area, w.area) || !slices.EqualFunc(a.w.lengths, w.lengths, near) {
				continue
			}
			_, same := match(a.w, w, false)
			mirrored := false
			if !same {
				_, mirrored = match(a.w, w, true)
			}
			if same || mirrored {
				out[i] = Repeat{a.part, mirrored}
				break
			}
		}
		if out[i].Of == mesh.None {
			firsts[k] = append(firsts[k], first{i, w})
		}
	}
	return out
}

func near(a, b float64) bool { return math.Abs(a-b) <= 3*repeatTolerance*max(math.Abs(a), math.Abs(b)) }

// Correspond returns for each corner of the faces a the corner of the faces b
// that lies at the same place of an equal (or mirrored-equal) part; ok is false
// if they are not equal.
func Correspond(m *mesh.Mesh, a, b []mesh.FaceID, mirrored bool) (map[mesh.HalfedgeID]mesh.HalfedgeID, bool) {
	if len(a) != len(b) || len(a) == 0 {
		return nil, false
	}
	return match(newWalker(m, a), newWalker(m, b), mirrored)
}

// walker is a face set with what it is compared by.
type walker struct {
	m       *mesh.Mesh
	faces   []mesh.FaceID
	in      map[mesh.FaceID]bool
	corners int
	area    float64
	lengths []float64 // of all halfedges, ascending
}

func newWalker(m *mesh.Mesh, faces []mesh.FaceID) *walker {
	w := &walker{m: m, faces: faces, in: make(map[mesh.FaceID]bool, len(faces))}
	for _, f := range faces {
		w.in[f] = true
		w.area += m.FaceAreas()[f]
		lo, hi := m.Corners(f)
		w.corners += int(hi - lo)
		for h := lo; h < hi; h++ {
			w.lengths = append(w.lengths, r3.Norm(m.EdgeVec(h)))
		}
	}
	slices.Sort(w.lengths)
	return w
}

// inside tells whether a halfedge has its twin within the set.
func (w *walker) inside(h mesh.HalfedgeID) bool {
	t := w.m.Twin(h)
	return t != mesh.None && w.in[w.m.FaceOf(t)]
}

// signature is what a halfedge is recognised by: its length, the corners of its
// face, its neighbours' lengths and whether it is a border.
type signature struct {
	size, border         int
	length, before, next float64
}

func (w *walker) sign(h mesh.HalfedgeID, mirrored bool) signature {
	m := w.m
	lo, hi := m.Corners(m.FaceOf(h))
	s := signature{size: int(hi - lo), length: r3.Norm(m.EdgeVec(h)), before: r3.Norm(m.EdgeVec(m.Prev(h))), next: r3.Norm(m.EdgeVec(m.Next(h)))}
	if mirrored {
		s.before, s.next = s.next, s.before
	}
	if !w.inside(h) {
		s.border = 1
	}
	return s
}

func (s signature) like(o signature, tol float64) bool {
	return s.size == o.size && s.border == o.border && math.Abs(s.length-o.length) <= tol &&
		math.Abs(s.before-o.before) <= tol && math.Abs(s.next-o.next) <= tol
}

// startLimit bounds how many places the walk is started from.
const startLimit = 64

// match walks both sets in step and returns the corners that correspond.
func match(a, b *walker, mirrored bool) (map[mesh.HalfedgeID]mesh.HalfedgeID, bool) {
	tol := repeatTolerance * a.lengths[len(a.lengths)-1]
	// Start at the rarest kind of halfedge of a.
	type bucket struct {
		sig  signature
		half []mesh.HalfedgeID
	}
	var buckets []bucket
	for _, f := range a.faces[:min(len(a.faces), 200)] {
		lo, hi := a.m.Corners(f)
		for h := lo; h < hi; h++ {
			s := a.sign(h, false)
			k := slices.IndexFunc(buckets, func(b bucket) bool { return b.sig.like(s, tol) })
			if k < 0 {
				if len(buckets) == startLimit {
					continue
				}
				buckets = append(buckets, bucket{sig: s})
				k = len(buckets) - 1
			}
			buckets[k].half = append(buckets[k].half, h)
		}
	}
	rare := slices.MinFunc(buckets, func(x, y bucket) int { return cmp.Compare(len(x.half), len(y.half)) })
	equal := func(h, g mesh.HalfedgeID) bool {
		m := a.m
		return math.Abs(r3.Norm(m.EdgeVec(h))-r3.Norm(m.EdgeVec(g))) <= tol && (!a.inside(h) || math.Abs(m.Dihedral(m.Edge(h))-m.Dihedral(m.Edge(g))) <= 2e-3)
	}
	tried := 0
	for _, f := range b.faces {
		lo, hi := b.m.Corners(f)
		for h := lo; h < hi; h++ {
			if !rare.sig.like(b.sign(h, mirrored), tol) {
				continue
			}
			if c, ok := walk(a, b, rare.half[0], h, mirrored, equal); ok {
				return c, true
			}
			if tried++; tried > startLimit {
				return nil, false
			}
		}
	}
	return nil, false
}

// walk pairs the halfedges h of a and g of b and all that follow, as long as they are alike. In a mirrored
// part faces run the other way round, so what was next is previous, and the start
// of a halfedge corresponds to the end of the other.
func walk(a, b *walker, h, g mesh.HalfedgeID, mirrored bool, like func(h, g mesh.HalfedgeID) bool) (map[mesh.HalfedgeID]mesh.HalfedgeID, bool) {
	m := a.m
	pair := make(map[mesh.HalfedgeID]mesh.HalfedgeID, a.corners) // of halfedges
	seen := map[mesh.FaceID]bool{}
	onto := map[mesh.FaceID]bool{}
	type step struct{ h, g mesh.HalfedgeID }
	queue := []step{{h, g}}
	for k := 0; k < len(queue); k++ {
		h, g := queue[k].h, queue[k].g
		fa, fb := m.FaceOf(h), m.FaceOf(g)
		if seen[fa] {
			if pair[h] != g {
				return nil, false
			}
			continue
		}
		if onto[fb] {
			return nil, false
		}
		seen[fa], onto[fb] = true, true
		lo, hi := m.Corners(fa)
		if l, r := m.Corners(fb); r-l != hi-lo {
			return nil, false
		}
		for range hi - lo {
			if a.inside(h) != b.inside(g) || !like(h, g) {
				return nil, false
			}
			pair[h] = g
			if a.inside(h) {
				queue = append(queue, step{m.Twin(h), m.Twin(g)})
			}
			h = m.Next(h)
			if mirrored {
				g = m.Prev(g)
			} else {
				g = m.Next(g)
			}
		}
	}
	if len(seen) != len(a.faces) {
		return nil, false
	}
	if mirrored { // from halfedges to the corners they start at
		corner := make(map[mesh.HalfedgeID]mesh.HalfedgeID, len(pair))
		for h, g := range pair {
			corner[h] = m.Next(g)
		}
		pair = corner
	}
	return pair, true
}
