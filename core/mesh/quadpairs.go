package mesh

// QuadPairs returns for each triangle the one that it makes a quad with, None for those that make none and for other
// faces: where there is but one that it could be, that one, else the squarest first (Karp & Sipser 1981), so that long
// quads, whose triangles fit either neighbour, leave none alone at the end of their rows.
func QuadPairs(m *Mesh) []FaceID {
	out := make([]FaceID, m.NumFaces())
	for f := range out {
		out[f] = None
	}
	list := newMerger(m).pairs()
	squarest(list)
	sides := func(p pair) (a, b FaceID) { return m.cornerFace[p.h], m.cornerFace[m.twin[p.h]] }
	could := make([][]FaceID, m.NumFaces())
	for _, p := range list {
		a, b := sides(p)
		could[a], could[b] = append(could[a], b), append(could[b], a)
	}
	choices := func(f FaceID) (n int, last FaceID) {
		for _, o := range could[f] {
			if out[o] == None {
				n, last = n+1, o
			}
		}
		return n, last
	}
	var alone []FaceID
	look := func(f FaceID) {
		if n, _ := choices(f); n == 1 && out[f] == None {
			alone = append(alone, f)
		}
	}
	join := func(a, b FaceID) {
		out[a], out[b] = b, a
		for _, f := range [2]FaceID{a, b} {
			for _, o := range could[f] {
				look(o)
			}
		}
	}
	settle := func() {
		for len(alone) > 0 {
			f := alone[0]
			alone = alone[1:]
			if n, o := choices(f); n == 1 && out[f] == None {
				join(f, o)
			}
		}
	}
	for f := range could {
		look(FaceID(f))
	}
	settle()
	for _, p := range list {
		if a, b := sides(p); out[a] == None && out[b] == None {
			join(a, b)
			settle()
		}
	}
	return out
}
