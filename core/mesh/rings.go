package mesh

import "math"

// GrowFaces adds to picked faces a ring of those around them: all that share a point with one.
// The result is ascending.
func (m *Mesh) GrowFaces(faces []FaceID) []FaceID {
	points := m.pointsOf(faces, true)
	return m.facesWhere(func(f FaceID) bool { return m.anyPoint(f, points) })
}

// ShrinkFaces takes from picked faces their outer ring: those that share a point with one that is
// not picked. The result is ascending.
func (m *Mesh) ShrinkFaces(faces []FaceID) []FaceID {
	in, outside := m.faceSet(faces), m.pointsOf(faces, false)
	return m.facesWhere(func(f FaceID) bool { return in[f] && !m.anyPoint(f, outside) })
}

// GrowEdges adds to picked edges all that share an end with one. The result is ascending.
func (m *Mesh) GrowEdges(edges []EdgeID) []EdgeID {
	ends := make([]bool, m.NumPoints())
	for _, e := range edges {
		a, b := m.EdgeEnds(e)
		ends[a], ends[b] = true, true
	}
	return m.edgesWhere(func(e EdgeID) bool { a, b := m.EdgeEnds(e); return ends[a] || ends[b] })
}

// ShrinkEdges takes from picked edges those at their ends: a loose line gets shorter by an edge
// at each end, a closed loop stays. The result is ascending.
func (m *Mesh) ShrinkEdges(edges []EdgeID) []EdgeID {
	in := make([]bool, m.NumEdges())
	count := make([]int, m.NumPoints())
	for _, e := range edges {
		if in[e] {
			continue
		}
		in[e] = true
		a, b := m.EdgeEnds(e)
		count[a]++
		count[b]++
	}
	return m.edgesWhere(func(e EdgeID) bool {
		a, b := m.EdgeEnds(e)
		return in[e] && count[a] > 1 && count[b] > 1
	})
}

// SameSize returns all faces with as many corners and the same area as a picked one, within a share
// of 1 in 100. The result is ascending.
func (m *Mesh) SameSize(faces []FaceID) []FaceID {
	const within = 0.01
	type size struct {
		corners int
		step    int // of a scale of areas whose steps are that share
	}
	area := m.FaceAreas()
	of := func(f FaceID) size {
		lo, hi := m.Corners(f)
		return size{int(hi - lo), int(math.Floor(math.Log(max(area[f], math.SmallestNonzeroFloat64)) / math.Log1p(within)))}
	}
	like := map[size][]float64{}
	for _, f := range faces {
		s := of(f)
		for _, step := range []int{-1, 0, 1} { // as large may mean across the border of two steps
			k := size{s.corners, s.step + step}
			like[k] = append(like[k], area[f])
		}
	}
	return m.facesWhere(func(f FaceID) bool {
		for _, a := range like[of(f)] {
			if math.Abs(area[f]-a) <= within*max(area[f], a) {
				return true
			}
		}
		return false
	})
}

// EdgeEnds returns the points at both ends of an edge.
func (m *Mesh) EdgeEnds(e EdgeID) (a, b PointID) {
	h := m.edgeHalf[e]
	return m.From(h), m.To(h)
}

func (m *Mesh) facesWhere(ok func(f FaceID) bool) (out []FaceID) {
	for f := range FaceID(m.NumFaces()) {
		if ok(f) {
			out = append(out, f)
		}
	}
	return out
}

func (m *Mesh) faceSet(faces []FaceID) []bool {
	in := make([]bool, m.NumFaces())
	for _, f := range faces {
		in[f] = true
	}
	return in
}

// pointsOf marks the points of picked faces, or of all others.
func (m *Mesh) pointsOf(faces []FaceID, picked bool) []bool {
	in, out := m.faceSet(faces), make([]bool, m.NumPoints())
	for f := range FaceID(m.NumFaces()) {
		if in[f] != picked {
			continue
		}
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			out[m.CornerPoint[h]] = true
		}
	}
	return out
}

func (m *Mesh) anyPoint(f FaceID, points []bool) bool {
	lo, hi := m.Corners(f)
	for h := lo; h < hi; h++ {
		if points[m.CornerPoint[h]] {
			return true
		}
	}
	return false
}
