package mesh

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"
)

// What triangles may be merged over.
const (
	coplanar    = 0.05 * math.Pi / 180 // the bend up to which faces are one plane
	quadBend    = 20 * math.Pi / 180   // and up to which two triangles may be a quad
	quadCorner  = 50 * math.Pi / 180   // how much its corners may differ from right angles
	mostCorners = 64                   // of a polygon
)

// Merge returns a mesh in which triangles that were polygons once are these again: flat regions of
// triangles whose points all lie on their border become polygons, pairs of triangles that make a
// quad become quads, the squarest first. Object, group, material, smoothing and the maps that came along stay
// whole. Each corner of a triangle takes its place on the sheet from the corner of the polygon at
// its point. A mesh in which nothing can be merged is returned as it is.
func Merge(m *Mesh) *Reduced {
	g := newMerger(m)
	g.polygons()
	g.quads()
	if len(g.rings) == 0 {
		return &Reduced{Mesh: m}
	}
	return g.made()
}

// Then is the reduction of a mesh that was reduced before.
func (r *Reduced) Then(next *Reduced) *Reduced {
	if next.From == nil {
		return r
	}
	if r.From == nil {
		return next
	}
	out := &Reduced{Mesh: next.Mesh, Folded: r.Folded, Double: r.Double, From: make([]HalfedgeID, len(r.From)), before: r}
	for h, c := range r.From {
		out.From[h] = next.From[c]
	}
	for _, f := range next.Face {
		out.Face = append(out.Face, r.Face[f])
	}
	return out
}

type merger struct {
	m     *Mesh
	of    []int32        // the polygon that a face becomes part of, or None
	rings [][]HalfedgeID // corners of each polygon
}

func newMerger(m *Mesh) *merger {
	g := &merger{m: m, of: make([]int32, m.NumFaces())}
	for f := range g.of {
		g.of[f] = None
	}
	return g
}

// over tells whether faces on both sides of a halfedge may become one.
func (g *merger) over(h HalfedgeID) bool {
	m := g.m
	t := m.twin[h]
	if t == None {
		return false
	}
	a, b := m.cornerFace[h], m.cornerFace[t]
	if a == b || m.From(h) != m.To(t) || m.From(t) != m.To(h) || m.FaceObject[a] != m.FaceObject[b] || m.FaceGroup[a] != m.FaceGroup[b] || m.FaceMaterial[a] != m.FaceMaterial[b] || m.FaceSmoothing[a] != m.FaceSmoothing[b] {
		return false
	}
	same := func(corner []int32, equal func(x, y int32) bool) bool {
		if corner == nil {
			return true
		}
		for _, p := range [2][2]HalfedgeID{{h, m.Next(t)}, {m.Next(h), t}} {
			if x, y := corner[p[0]], corner[p[1]]; x != y && (x == None || y == None || !equal(x, y)) {
				return false
			}
		}
		return true
	}
	if !same(m.CornerUV, func(x, y int32) bool { return m.SourceUV[x] == m.SourceUV[y] }) {
		return false
	}
	for _, l := range m.Layers {
		if !same(l.Corner, func(x, y int32) bool { return l.UV[x] == l.UV[y] }) {
			return false
		}
	}
	return true
}

func (g *merger) triangle(f FaceID) bool { return g.m.FaceStart[f+1]-g.m.FaceStart[f] == 3 }

// polygons merges flat regions of three triangles and more: to quads where that leaves none, else
// to one polygon.
func (g *merger) polygons() {
	m := g.m
	seen := make([]bool, m.NumFaces())
	for f := range FaceID(m.NumFaces()) {
		if seen[f] || !g.triangle(f) {
			continue
		}
		seen[f] = true
		region := []FaceID{f}
		for at := 0; at < len(region); at++ {
			lo, hi := m.Corners(region[at])
			for h := lo; h < hi; h++ {
				if !g.over(h) || math.Abs(m.Dihedral(m.edge[h])) > coplanar {
					continue
				}
				if o := m.cornerFace[m.twin[h]]; !seen[o] && g.triangle(o) {
					seen[o] = true
					region = append(region, o)
				}
			}
		}
		if len(region) >= 3 && !g.inQuads(region) && len(region)+2 <= mostCorners {
			g.ring(region)
		}
	}
}

// ring makes a polygon of faces, if their border is one ring that meets each point once and all
// points lie on it.
func (g *merger) ring(faces []FaceID) {
	m := g.m
	in := make(map[FaceID]bool, len(faces))
	points := map[PointID]bool{}
	for _, f := range faces {
		in[f] = true
		for _, p := range m.FacePoints(f) {
			points[p] = true
		}
	}
	next := map[PointID]HalfedgeID{} // the border from a point
	n := 0
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			if t := m.twin[h]; t != None && in[m.cornerFace[t]] && g.over(h) && math.Abs(m.Dihedral(m.edge[h])) <= coplanar {
				continue
			}
			if _, twice := next[m.From(h)]; twice {
				return
			}
			next[m.From(h)] = h
			n++
		}
	}
	if n != len(points) {
		return
	}
	first := m.From(firstOf(m, faces[0], next))
	var ring []HalfedgeID
	for at := first; len(ring) <= n; {
		h, ok := next[at]
		if !ok {
			return
		}
		ring = append(ring, h)
		if at = m.To(h); at == first {
			break
		}
	}
	if len(ring) == n && n >= 3 {
		g.add(faces, ring)
	}
}

// firstOf is the border that begins at the first corner of a face that has one.
func firstOf(m *Mesh, f FaceID, next map[PointID]HalfedgeID) HalfedgeID {
	lo, hi := m.Corners(f)
	for h := lo; h < hi; h++ {
		if b, ok := next[m.From(h)]; ok {
			return b
		}
	}
	return lo
}

func (g *merger) add(faces []FaceID, ring []HalfedgeID) {
	for _, f := range faces {
		g.of[f] = int32(len(g.rings))
	}
	g.rings = append(g.rings, ring)
}

// pair is two triangles on both sides of a halfedge that would be a quad.
type pair struct {
	h     HalfedgeID
	worst float32 // difference of a corner from a right angle
}

// pairOver is the pair at an edge, if it is one.
func (g *merger) pairOver(e EdgeID) (pair, bool) {
	m := g.m
	h := m.edgeHalf[e]
	t := m.twin[h]
	if t == None || !g.free(m.cornerFace[h]) || !g.free(m.cornerFace[t]) || !g.over(h) || math.Abs(m.Dihedral(e)) > quadBend {
		return pair{}, false
	}
	p := [4]r3.Vec{m.Points[m.From(h)], m.Points[m.To(m.Next(t))], m.Points[m.To(h)], m.Points[m.To(m.Next(h))]}
	worst := 0.
	for i := range p {
		a, b := r3.Sub(p[(i+1)%4], p[i]), r3.Sub(p[(i+3)%4], p[i])
		worst = max(worst, math.Abs(Angle(a, b)-math.Pi/2))
	}
	return pair{h, float32(math.Round(worst * 1e4))}, worst <= quadCorner
}

// matched chooses pairs that share no triangle, the squarest first.
func (g *merger) matched(list []pair) (out []pair) {
	m := g.m
	squarest(list)
	taken := map[FaceID]bool{}
	for _, p := range list {
		if a, b := m.cornerFace[p.h], m.cornerFace[m.twin[p.h]]; !taken[a] && !taken[b] {
			taken[a], taken[b] = true, true
			out = append(out, p)
		}
	}
	return out
}

// squarest sorts pairs, the squarest first.
func squarest(list []pair) {
	slices.SortFunc(list, func(a, b pair) int { return cmp.Or(cmp.Compare(a.worst, b.worst), cmp.Compare(a.h, b.h)) })
}

func (g *merger) join(list []pair) {
	m := g.m
	for _, p := range list {
		t := m.twin[p.h]
		g.add([]FaceID{m.cornerFace[p.h], m.cornerFace[t]}, []HalfedgeID{m.Next(p.h), m.Prev(p.h), m.Next(t), m.Prev(t)})
	}
}

// quads merges pairs of the triangles that are left.
func (g *merger) quads() { g.join(g.matched(g.pairs())) }

// pairs lists all pairs that could be, each triangle in as many as it could make.
func (g *merger) pairs() (list []pair) {
	for e := range EdgeID(g.m.NumEdges()) {
		if p, ok := g.pairOver(e); ok {
			list = append(list, p)
		}
	}
	return list
}

// inQuads merges the triangles of a flat region to quads, if that leaves none.
func (g *merger) inQuads(region []FaceID) bool {
	m := g.m
	in := make(map[FaceID]bool, len(region))
	for _, f := range region {
		in[f] = true
	}
	var list []pair
	for _, f := range region {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			if t := m.twin[h]; t != None && in[m.cornerFace[t]] && m.edgeHalf[m.edge[h]] == h {
				if p, ok := g.pairOver(m.edge[h]); ok {
					list = append(list, p)
				}
			}
		}
	}
	pairs := g.matched(list)
	if 2*len(pairs) < len(region) {
		return false
	}
	g.join(pairs)
	return true
}

func (g *merger) free(f FaceID) bool { return g.of[f] == None && g.triangle(f) }

// made is the mesh of the polygons and of all faces that stay, each where its first face was.
func (g *merger) made() *Reduced {
	m := g.m
	r := &Reduced{From: make([]HalfedgeID, m.NumCorners())}
	var faces []Recut
	done := make([]bool, len(g.rings))
	starts := make([]HalfedgeID, len(g.rings))
	own := make([]HalfedgeID, m.NumFaces())
	n := HalfedgeID(0)
	for f := range FaceID(m.NumFaces()) {
		k := g.of[f]
		if k != None && done[k] {
			continue
		}
		cut := Recut{Of: f}
		if k != None {
			done[k], starts[k], cut.Corners = true, n, g.rings[k]
		} else {
			own[f], cut = n, m.Whole(f)
		}
		n += HalfedgeID(len(cut.Corners))
		faces = append(faces, cut)
		r.Face = append(r.Face, f)
	}
	at := make([]map[PointID]HalfedgeID, len(g.rings))
	for k, ring := range g.rings {
		at[k] = make(map[PointID]HalfedgeID, len(ring))
		for i, h := range ring {
			at[k][m.From(h)] = starts[k] + HalfedgeID(i)
		}
	}
	for f := range FaceID(m.NumFaces()) {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			if k := g.of[f]; k != None {
				r.From[h] = at[k][m.From(h)]
			} else {
				r.From[h] = own[f] + h - lo
			}
		}
	}
	w, err := m.Recut(faces)
	if err != nil { // cannot be: all points stay
		return &Reduced{Mesh: m}
	}
	r.Mesh, r.merged = w, true
	return r
}
