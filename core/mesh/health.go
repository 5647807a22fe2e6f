package mesh

import (
	"slices"

	"gonum.org/v1/gonum/spatial/r3"
)

// Ailment is something about a mesh that a modeler should know on arrival.
type Ailment struct {
	Kind   string // folded, doubled, zero-area, crowded-edge, open-border, doubled-points, unused-points; those of package mend
	Count  int
	Faces  []FaceID
	Note   string
	Repair string // that does away with it, "" where there is none
}

// Health lists what was left out of a mesh.
func (r *Reduced) Health(source *Mesh) (out []Ailment) {
	if r.before != nil {
		return r.before.Health(source)
	}
	if r.From == nil || r.merged {
		return nil
	}
	var folded, doubled []FaceID
	kept := map[FaceID]bool{}
	for _, f := range r.Face {
		kept[f] = true
	}
	for f := range source.NumFaces() {
		switch {
		case kept[FaceID(f)]:
		case source.FaceAreas()[f] > 0:
			doubled = append(doubled, FaceID(f))
		default:
			folded = append(folded, FaceID(f))
		}
	}
	if len(folded) > 0 {
		out = append(out, Ailment{"folded", len(folded), folded, "faces that repeat corners until nothing is left; they are carried along by their neighbours", "folded"})
	}
	if len(doubled) > 0 {
		out = append(out, Ailment{"doubled", len(doubled), doubled, "faces that lie on another one; both are mapped to the same place", "doubled"})
	}
	return out
}

// Health lists what is odd about the mesh; an empty list is a clean bill.
func (m *Mesh) Health() []Ailment {
	var out []Ailment
	add := func(kind string, count int, faces []FaceID, note, repair string) {
		if count > 0 {
			out = append(out, Ailment{kind, count, faces, note, repair})
		}
	}
	tiny := m.Specks()
	var flat []FaceID
	for f, a := range m.FaceAreas() {
		if a <= tiny {
			flat = append(flat, FaceID(f))
		}
	}
	add("zero-area", len(flat), flat, "faces without area; they get a place of no size on the sheet", "")

	var many []FaceID
	nMany := 0
	byPlace := map[[2]r3.Vec][]HalfedgeID{}
	span := func(e EdgeID) [2]r3.Vec {
		h := m.edgeHalf[e]
		a, b := m.Points[m.From(h)], m.Points[m.To(h)]
		if less(b, a) {
			a, b = b, a
		}
		return [2]r3.Vec{a, b}
	}
	for _, e := range m.crowded {
		byPlace[span(e)] = append(byPlace[span(e)], m.edgeHalf[e])
	}
	seen := map[EdgeID]bool{}
	for _, e := range m.crowded {
		if hs := byPlace[span(e)]; !seen[e] && len(hs) != 2 { // two are wound against each other
			nMany++
			for _, h := range hs {
				seen[m.edge[h]] = true
				many = append(many, m.cornerFace[h])
			}
		}
	}
	add("crowded-edge", nMany, many, "edges shared by three or more faces; those that bend least stay together, others are cut off there", "")
	loops, rim := m.openBorders()
	add("open-border", loops, rim, "borders where the mesh ends; holes, or the rims of walls without thickness", "holes")

	used := make([]bool, len(m.Points))
	for _, p := range m.CornerPoint {
		used[p] = true
	}
	unused, doubled := 0, 0
	for i, p := range m.Places() {
		if !used[i] {
			unused++
		} else if int(p) != i {
			doubled++
		}
	}
	add("doubled-points", doubled, nil, "points at the same position as another; within an object they count as one", "weld")
	add("unused-points", unused, nil, "points no face uses; they are kept", "unused")
	return out
}

// openBorders counts the borders at which the mesh ends, of edges that hang together, and lists the
// faces along them. Edges at which faces are only wound against each other are none.
func (m *Mesh) openBorders() (count int, faces []FaceID) {
	crowded := make([]bool, m.NumEdges())
	for _, e := range m.crowded {
		crowded[e] = true
	}
	above := map[r3.Vec]r3.Vec{} // of places on borders: one that hangs together with it
	root := func(p r3.Vec) r3.Vec {
		for {
			q, ok := above[p]
			if !ok {
				above[p] = p
				return p
			}
			if q == p {
				return p
			}
			above[p] = above[q]
			p = q
		}
	}
	for e := range EdgeID(m.NumEdges()) {
		h := m.edgeHalf[e]
		if m.twin[h] != None || crowded[e] || m.From(h) == m.To(h) {
			continue
		}
		faces = append(faces, m.cornerFace[h])
		a, b := root(plus0(m.Points[m.From(h)])), root(plus0(m.Points[m.To(h)]))
		if a != b {
			above[a] = b
		}
	}
	for p, q := range above {
		if p == q {
			count++
		}
	}
	slices.Sort(faces)
	return count, slices.Compact(faces)
}
