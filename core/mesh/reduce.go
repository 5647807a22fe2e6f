package mesh

import (
	"maps"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"
)

// Reduced is a mesh without the faces that stand in the way of connection: those that
// repeat corners until no area can be left, and those that lie on another one, corner by
// corner and wound alike. What was left out is carried along: each of its corners takes
// its place on the sheet from a corner that stayed.
type Reduced struct {
	Mesh   *Mesh
	Face   []FaceID     // face of the source for each face; nil where nothing was left out
	From   []HalfedgeID // for each corner of the source the one that it follows; nil likewise
	Folded int          // faces left out since they repeat corners
	Double int          // faces left out since they lie on another

	before *Reduced // what was left out before faces were merged
	merged bool     // faces were merged, none left out
}

// Carrier returns the face that a face of the source is, or is carried by.
func (r *Reduced) Carrier(m *Mesh, f FaceID) FaceID {
	if r.From == nil {
		return f
	}
	return r.Mesh.cornerFace[r.From[m.FaceStart[f]]]
}

// Reduce leaves out what stands in the way of connection. A mesh in which nothing does,
// or of which nothing would be left, is returned as it is. It takes time linear in the
// size of the mesh.
func Reduce(m *Mesh) *Reduced {
	kept, folded, double := keptCorners(m)
	if kept == nil {
		return &Reduced{Mesh: m}
	}
	w := &Mesh{Points: m.Points, Objects: m.Objects, Groups: m.Groups, Materials: m.Materials, Smoothing: m.Smoothing,
		Libraries: m.Libraries, Tails: m.Tails, Asides: m.Asides, Normals: m.Normals, SourceUV: m.SourceUV, FaceStart: []int32{0}}
	for _, l := range m.Layers {
		w.Layers = append(w.Layers, Layer{Name: l.Name, UV: l.UV})
	}
	r := &Reduced{Mesh: w, From: make([]HalfedgeID, m.NumCorners()), Folded: folded, Double: double}
	for i := range r.From {
		r.From[i] = None
	}
	for f := range m.NumFaces() {
		if !kept.face[f] {
			continue
		}
		lo, hi := m.Corners(FaceID(f))
		for h := lo; h < hi; h++ {
			if !kept.corner[h] {
				continue
			}
			r.From[h] = HalfedgeID(len(w.CornerPoint))
			w.CornerPoint = append(w.CornerPoint, m.CornerPoint[h])
			if m.CornerUV != nil {
				w.CornerUV = append(w.CornerUV, m.CornerUV[h])
			}
			for i, l := range m.Layers {
				w.Layers[i].Corner = append(w.Layers[i].Corner, l.Corner[h])
			}
			if m.CornerNormal != nil {
				w.CornerNormal = append(w.CornerNormal, m.CornerNormal[h])
			}
		}
		w.FaceStart = append(w.FaceStart, int32(len(w.CornerPoint)))
		w.FaceObject = append(w.FaceObject, m.FaceObject[f])
		w.FaceGroup = append(w.FaceGroup, m.FaceGroup[f])
		w.FaceMaterial = append(w.FaceMaterial, m.FaceMaterial[f])
		w.FaceSmoothing = append(w.FaceSmoothing, m.FaceSmoothing[f])
		r.Face = append(r.Face, FaceID(f))
	}
	w.connect()
	r.carry(m)
	return r
}

// keep says which corners stay.
type keep struct {
	corner []bool
	face   []bool // whether a face stays
}

// keptCorners finds what is to be left out, or returns nil if nothing is, or nothing else
// is there.
func keptCorners(m *Mesh) (k *keep, folded, double int) {
	k = &keep{make([]bool, m.NumCorners()), make([]bool, m.NumFaces())}
	for i := range k.corner {
		k.corner[i] = true
	}
	left, changed := 0, false
	for f := range m.NumFaces() {
		lo, hi := m.Corners(FaceID(f))
		n := m.unfold(lo, hi, k.corner)
		changed = changed || n < int(hi-lo)
		if k.face[f] = n >= 3; !k.face[f] {
			folded++
			continue
		}
		left++
	}
	for _, f := range m.doubles(k) {
		k.face[f], changed = false, true
		double++
		left--
	}
	if !changed || left == 0 {
		return nil, 0, 0
	}
	return k, folded, double
}

// unfold takes corners out of a polygon that repeat the one before, and spikes, where it
// goes out and back to the same place, until there are none; it returns how many are left.
// kept may be nil.
func (m *Mesh) unfold(lo, hi HalfedgeID, kept []bool) int {
	n := int(hi - lo)
	clean := true
	for h := lo; h < hi && clean; h++ {
		a, b := m.cornerPos(h), m.cornerPos(lo+(h-lo+1)%(hi-lo))
		clean = a != b && a != m.cornerPos(lo+(h-lo+2)%(hi-lo))
	}
	if clean {
		return n
	}
	var ring []HalfedgeID
	for h := lo; h < hi; h++ {
		ring = append(ring, h)
	}
	at := func(i int) r3.Vec { return m.cornerPos(ring[(i+len(ring))%len(ring)]) }
	for again := true; again && len(ring) > 2; {
		again = false
		for i := range ring {
			switch {
			case at(i) == at(i+1):
				ring = slices.Delete(ring, (i+1)%len(ring), (i+1)%len(ring)+1)
			case at(i-1) == at(i+1):
				ring = slices.Delete(ring, i, i+1)
			default:
				continue
			}
			again = true
			break
		}
	}
	if len(ring) < 3 {
		ring = ring[:0]
	}
	for h := lo; h < hi && kept != nil; h++ {
		kept[h] = slices.Contains(ring, h)
	}
	return len(ring)
}

// foldsAway tells whether nothing is left of a polygon without its spikes.
func (m *Mesh) foldsAway(f FaceID) bool {
	lo, hi := m.Corners(f)
	if hi-lo == 3 {
		return false // its area says so
	}
	return m.unfold(lo, hi, nil) < 3
}

// doubles returns the faces that lie on an earlier one. All sides of such faces are
// shared by too many, so only those need be looked at.
func (m *Mesh) doubles(k *keep) (out []FaceID) {
	crowded := map[FaceID]bool{}
	for _, e := range m.crowded {
		if f := m.cornerFace[m.edgeHalf[e]]; k.face[f] {
			crowded[f] = true
		}
	}
	// Of three faces and more on a side two may have found each other.
	suspects := slices.Sorted(maps.Keys(crowded))
	seen := map[uint64][]FaceID{} // by a digest of the ring
	ringOf := func(f FaceID) (ring []r3.Vec) {
		lo, hi := m.Corners(f)
		first := 0
		for h := lo; h < hi; h++ {
			if k.corner[h] {
				ring = append(ring, plus0(m.cornerPos(h)))
				if less(ring[len(ring)-1], ring[first]) {
					first = len(ring) - 1
				}
			}
		}
		return slices.Concat(ring[first:], ring[:first])
	}
	for _, f := range m.around(suspects) {
		if !k.face[f] {
			continue
		}
		ring := ringOf(f)
		id := digest(ring)
		if slices.ContainsFunc(seen[id], func(o FaceID) bool { return slices.Equal(ringOf(o), ring) }) {
			out = append(out, f)
			continue
		}
		seen[id] = append(seen[id], f)
	}
	return out
}

// digest is a number that equal rings have in common and others hardly ever (FNV-1a).
func digest(ring []r3.Vec) uint64 {
	h := uint64(14695981039346656037)
	for _, p := range ring {
		for _, x := range [3]float64{p.X, p.Y, p.Z} {
			h = (h ^ math.Float64bits(x)) * 1099511628211
			h ^= h >> 29
		}
	}
	return h
}

// around returns faces with all that have a point in common with them, ascending.
func (m *Mesh) around(faces []FaceID) []FaceID {
	if len(faces) == 0 {
		return nil
	}
	at := map[r3.Vec]bool{}
	for _, f := range faces {
		for _, p := range m.FacePoints(f) {
			at[plus0(m.Points[p])] = true
		}
	}
	var out []FaceID
	for f := range m.NumFaces() {
		if slices.ContainsFunc(m.FacePoints(FaceID(f)), func(p PointID) bool { return at[plus0(m.Points[p])] }) {
			out = append(out, FaceID(f))
		}
	}
	return out
}

// plus0 makes one place of -0 and 0.
func plus0(p r3.Vec) r3.Vec { return r3.Vec{X: p.X + 0, Y: p.Y + 0, Z: p.Z + 0} }

func less(a, b r3.Vec) bool {
	if a.X != b.X {
		return a.X < b.X
	}
	if a.Y != b.Y {
		return a.Y < b.Y
	}
	return a.Z < b.Z
}

// carry gives every corner that was left out one to follow: of one face where a face has
// most of its corners, so that what has no area has none on the sheet either.
func (r *Reduced) carry(m *Mesh) {
	w := r.Mesh
	at := map[r3.Vec][]HalfedgeID{}
	missing := map[r3.Vec]bool{}
	for h := range r.From {
		if r.From[h] == None {
			missing[plus0(m.cornerPos(HalfedgeID(h)))] = true
		}
	}
	for h := range w.CornerPoint {
		if p := plus0(w.cornerPos(HalfedgeID(h))); missing[p] {
			at[p] = append(at[p], HalfedgeID(h))
		}
	}
	for f := range m.NumFaces() {
		lo, hi := m.Corners(FaceID(f))
		if !slices.Contains(r.From[lo:hi], None) {
			continue
		}
		best, most := FaceID(None), 0
		for h := lo; h < hi; h++ {
			if r.From[h] != None { // it stays itself, with fewer corners
				best = w.cornerFace[r.From[h]]
				break
			}
		}
		if best == None {
			count := map[FaceID]int{}
			for h := lo; h < hi; h++ {
				for _, c := range at[plus0(m.cornerPos(h))] {
					g := w.cornerFace[c]
					count[g]++
					if count[g] > most || count[g] == most && g < best {
						best, most = g, count[g]
					}
				}
			}
		}
		if best == None {
			best = 0 // it hangs on nothing: a point of any place will do
		}
		a, b := w.Corners(best)
		own := a
		for c := a; c < b; c++ {
			if w.cornerPos(c) == m.cornerPos(lo) {
				own = c
			}
		}
		for h := lo; h < hi; h++ {
			if r.From[h] != None {
				continue
			}
			r.From[h] = own
			for c := a; c < b; c++ {
				if w.cornerPos(c) == m.cornerPos(h) {
					r.From[h] = c
					break
				}
			}
		}
	}
}
