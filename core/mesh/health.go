package mesh

import "gonum.org/v1/gonum/spatial/r3"

// Ailment is something about a mesh that a modeler should know on arrival.
type Ailment struct {
	Kind  string // zero-area, crowded-edge, flipped, doubled-points, unused-points
	Count int
	Faces []FaceID
	Note  string
}

// Health lists what was left out of a mesh.
func (r *Reduced) Health(source *Mesh) (out []Ailment) {
	if r.From == nil {
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
		out = append(out, Ailment{"folded", len(folded), folded, "faces that repeat corners until nothing is left; they are carried along by their neighbours"})
	}
	if len(doubled) > 0 {
		out = append(out, Ailment{"doubled", len(doubled), doubled, "faces that lie on another one; both are mapped to the same place"})
	}
	return out
}

// Health lists what is odd about the mesh; an empty list is a clean bill.
func (m *Mesh) Health() []Ailment {
	var out []Ailment
	add := func(kind string, count int, faces []FaceID, note string) {
		if count > 0 {
			out = append(out, Ailment{kind, count, faces, note})
		}
	}
	tiny := m.Specks()
	var flat []FaceID
	for f, a := range m.FaceAreas() {
		if a <= tiny {
			flat = append(flat, FaceID(f))
		}
	}
	add("zero-area", len(flat), flat, "faces without area; they get a place of no size on the sheet")

	var many, flipped []FaceID
	nMany, nFlip := 0, 0
	byPlace := map[[2]r3.Vec][]HalfedgeID{}
	for _, e := range m.crowded {
		h := m.edgeHalf[e]
		a, b := m.Points[m.From(h)], m.Points[m.To(h)]
		if a.X > b.X || a.X == b.X && (a.Y > b.Y || a.Y == b.Y && a.Z > b.Z) {
			a, b = b, a
		}
		byPlace[[2]r3.Vec{a, b}] = append(byPlace[[2]r3.Vec{a, b}], h)
	}
	seen := map[EdgeID]bool{}
	for _, e := range m.crowded {
		if seen[e] {
			continue
		}
		h := m.edgeHalf[e]
		a, b := m.Points[m.From(h)], m.Points[m.To(h)]
		hs := byPlace[[2]r3.Vec{a, b}]
		if hs == nil {
			hs = byPlace[[2]r3.Vec{b, a}]
		}
		for _, g := range hs {
			seen[m.edge[g]] = true
		}
		if len(hs) == 2 {
			nFlip++
			flipped = append(flipped, m.cornerFace[hs[0]], m.cornerFace[hs[1]])
		} else {
			nMany++
			for _, g := range hs {
				many = append(many, m.cornerFace[g])
			}
		}
	}
	add("crowded-edge", nMany, many, "edges shared by three or more faces; those that bend least stay together, others are cut off there")
	add("flipped", nFlip, flipped, "edges whose two faces are wound against each other; they are treated as cuts")

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
	add("doubled-points", doubled, nil, "points at the same position as another; within an object they count as one")
	add("unused-points", unused, nil, "points no face uses; they are kept")
	return out
}
