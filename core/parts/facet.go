package parts

import (
	"cmp"
	"maps"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// facet is a maximal set of connected faces in one plane: what a modeler sees as
// one face, however it is subdivided.
type facet struct {
	faces  []mesh.FaceID
	normal r3.Vec
	centre r3.Vec // of area
	area   float64
	slack  float64 // angle by which noise may tilt it, radians
	bend   float64 // largest bend over its smooth sides
	sides  []side
	knots  []mesh.PointID // corners that lie on the surface itself rather than on a chord
	firm   int            // how many of them do for certain; they come first
}

// side is the border between a facet and one neighbour.
type side struct {
	other  int
	length float64
	dir    r3.Vec // sum of the edge vectors, signs aligned
	bend   float64
	convex bool
	smooth bool
	extent float64 // of the facet itself across this side: area per length of border
}

const (
	coarseAngle = 42 * math.Pi / 180 // from nine sides round, a polygon is a circle
	halfDegree  = 0.5 * math.Pi / 180
	facetAngle  = 0.4 * math.Pi / 180
)

// facets groups faces into facets, grown from the largest face so that the
// result does not depend on file order, and links the neighbours.
func facets(m *mesh.Mesh, only []mesh.FaceID, crease float64, tol tolerance) []facet {
	n, area := m.FaceNormals(), m.FaceAreas()
	order := slices.Clone(only)
	if only == nil {
		for f := range m.NumFaces() {
			order = append(order, mesh.FaceID(f))
		}
	}
	slices.SortStableFunc(order, func(a, b mesh.FaceID) int { return cmp.Compare(area[b], area[a]) })
	of := make([]int32, m.NumFaces())
	for i := range of {
		of[i] = outside
	}
	for _, f := range order {
		of[f] = mesh.None
	}
	var list []facet
	var queue []mesh.FaceID
	tilts := make([]float64, len(of))
	for f := range tilts {
		tilts[f] = tol.tilt(m, mesh.FaceID(f))
	}
	other := twisted(m, order, tol, tilts)
	for _, seed := range order {
		if of[seed] != mesh.None {
			continue
		}
		id := int32(len(list))
		fc := facet{}
		var sum, moment r3.Vec
		take := func(f mesh.FaceID) {
			of[f] = id
			queue = append(queue, f)
			if o := other[f]; o != mesh.None && of[o] == mesh.None {
				of[o] = id
				queue = append(queue, o)
			}
		}
		queue = queue[:0]
		take(seed)
		for len(queue) > 0 {
			f := queue[0]
			queue = queue[1:]
			fc.faces = append(fc.faces, f)
			fc.area += area[f]
			firm := facetAngle / max(facetAngle, tilts[f]) // slivers face anywhere
			sum = r3.Add(sum, r3.Scale(area[f]*firm*firm, n[f]))
			moment = r3.Add(moment, r3.Scale(area[f], m.FaceCentre(f)))
			plane := mesh.Unit(sum)
			if fc.area == 0 {
				plane = r3.Vec{}
			}
			lo, hi := m.Corners(f)
			for h := lo; h < hi; h++ {
				t := m.Twin(h)
				if t == mesh.None {
					continue
				}
				g := m.FaceOf(t)
				if of[g] == mesh.None && tol.coplanar(m, plane, r3.Scale(1/max(fc.area, 1e-300), moment), g, tilts[g]) {
					take(g)
				}
			}
		}
		if fc.area > 0 {
			fc.normal, fc.centre = mesh.Unit(sum), r3.Scale(1/fc.area, moment)
		} else {
			fc.centre = m.FaceCentre(seed)
		}
		slices.Sort(fc.faces)
		list = append(list, fc)
	}
	list = breakRows(m, list, of, crease)
	link(m, list, of, crease, tol)
	knots(m, list, of)
	soften(list)
	return list
}

// outside marks faces that are not looked at.
const outside = -2

// breakRows splits facets along rows of the mesh that run on as bends on both
// sides: on a bent pipe the column of faces that shows its side is flat all
// along, but belongs to as many rings as its neighbours do.
func breakRows(m *mesh.Mesh, list []facet, of []int32, crease float64) []facet {
	// Edges at each point.
	start := make([]int32, m.NumPoints()+1)
	for e := range m.NumEdges() {
		h := m.EdgeHalf(mesh.EdgeID(e))
		start[m.From(h)+1]++
		start[m.To(h)+1]++
	}
	for i := range m.NumPoints() {
		start[i+1] += start[i]
	}
	at := make([]mesh.EdgeID, start[m.NumPoints()])
	fill := slices.Clone(start)
	for e := range m.NumEdges() {
		h := m.EdgeHalf(mesh.EdgeID(e))
		for _, p := range [2]mesh.PointID{m.From(h), m.To(h)} {
			at[fill[p]] = mesh.EdgeID(e)
			fill[p]++
		}
	}
	bent := make([]bool, m.NumEdges())
	for e := range bent {
		a, b := m.EdgeFaces(mesh.EdgeID(e))
		bent[e] = b != mesh.None && of[a] >= 0 && of[b] >= 0 && of[a] != of[b] && mesh.Angle(list[of[a]].normal, list[of[b]].normal) <= crease
	}
	away := func(e mesh.EdgeID, p mesh.PointID) r3.Vec {
		v := m.EdgeVec(m.EdgeHalf(e))
		if m.From(m.EdgeHalf(e)) != p {
			v = r3.Scale(-1, v)
		}
		return v
	}
	// The edge inside facet fc at p that carries on a bend that ends there.
	carriesOn := func(p mesh.PointID, fc int32) mesh.EdgeID {
		best, least := mesh.EdgeID(mesh.None), coarseAngle
		for _, line := range at[start[p]:start[p+1]] {
			a, b := m.EdgeFaces(line)
			if !bent[line] || of[a] == fc || of[b] == fc {
				continue
			}
			// It may carry on best as a bend along the facet: then no edge inside is meant.
			on, turn, inside := mesh.EdgeID(mesh.None), least, false
			for _, e := range at[start[p]:start[p+1]] {
				a, b := m.EdgeFaces(e)
				if b == mesh.None || of[a] != fc && of[b] != fc || of[a] != of[b] && !bent[e] {
					continue
				}
				if t := math.Pi - mesh.Angle(away(line, p), away(e, p)); t < turn {
					on, turn, inside = e, t, of[a] == of[b]
				}
			}
			if inside {
				best, least = on, turn
			}
		}
		return best
	}
	// runsOut tells whether an edge inside a facet ends at p in such a place, straight on
	// over edges that refining has put between. All on the way have the same answer.
	const no, yes = 1, 2
	known := make([][2]int8, m.NumEdges()) // by the end it leaves at
	runsOut := func(e mesh.EdgeID, p mesh.PointID) bool {
		f, _ := m.EdgeFaces(e)
		var way []*int8
		for {
			k := &known[e][0]
			if p != m.From(m.EdgeHalf(e)) {
				k = &known[e][1]
			}
			if *k == no {
				return false
			}
			way = append(way, k)
			if *k == yes || carriesOn(p, of[f]) == e {
				for _, k := range way {
					*k = yes
				}
				return true
			}
			*k = no // a way that closes never ends
			next := mesh.EdgeID(mesh.None)
			for _, o := range at[start[p]:start[p+1]] {
				if a, b := m.EdgeFaces(o); o != e && b != mesh.None && of[a] == of[f] && of[b] == of[f] && math.Pi-mesh.Angle(away(e, p), away(o, p)) < straightOn {
					next = o
				}
			}
			if next == mesh.None {
				return false
			}
			e, p = next, m.From(m.EdgeHalf(next))+m.To(m.EdgeHalf(next))-p
		}
	}
	rows := map[mesh.EdgeID]bool{}
	torn := map[int32]bool{}
	for e := range bent {
		id := mesh.EdgeID(e)
		a, b := m.EdgeFaces(id)
		if b == mesh.None || of[a] != of[b] || of[a] < 0 {
			continue
		}
		h := m.EdgeHalf(id)
		if runsOut(id, m.From(h)) && runsOut(id, m.To(h)) {
			rows[id] = true
			torn[of[a]] = true
		}
	}
	for _, id := range slices.Sorted(maps.Keys(torn)) {
		for k, part := range m.Connected(list[id].faces, func(e mesh.EdgeID) bool { return rows[e] }) {
			to := id
			if k > 0 {
				to = int32(len(list))
				list = append(list, facet{normal: list[id].normal})
			}
			fc := &list[to]
			fc.faces, fc.area, fc.centre = part, 0, r3.Vec{}
			for _, f := range part {
				of[f] = to
				fc.area += m.FaceAreas()[f]
				fc.centre = r3.Add(fc.centre, r3.Scale(m.FaceAreas()[f], m.FaceCentre(f)))
			}
			fc.centre = r3.Scale(1/max(fc.area, 1e-300), fc.centre)
		}
	}
	return list
}

func link(m *mesh.Mesh, list []facet, of []int32, crease float64, tol tolerance) {
	for i := range list {
		fc := &list[i]
		var at map[int]int
		find := func(o int) int {
			if at == nil {
				if k := slices.IndexFunc(fc.sides, func(s side) bool { return s.other == o }); k >= 0 || len(fc.sides) < 16 {
					return k
				}
				at = make(map[int]int, 64) // a large polygon with many neighbours
				for k, s := range fc.sides {
					at[s.other] = k
				}
			}
			if k, ok := at[o]; ok {
				return k
			}
			return -1
		}
		var rim float64
		for _, f := range fc.faces {
			lo, hi := m.Corners(f)
			for h := lo; h < hi; h++ {
				t := m.Twin(h)
				if t != mesh.None && of[m.FaceOf(t)] == int32(i) {
					continue
				}
				v := m.EdgeVec(h)
				rim += r3.Norm(v)
				if t == mesh.None || of[m.FaceOf(t)] < 0 {
					continue
				}
				o := int(of[m.FaceOf(t)])
				k := find(o)
				if k < 0 {
					k = len(fc.sides)
					fc.sides = append(fc.sides, side{other: o})
					if at != nil {
						at[o] = k
					}
				}
				s := &fc.sides[k]
				s.length += r3.Norm(v)
				s.convex = r3.Dot(r3.Cross(fc.normal, list[o].normal), v) > 0
				if r3.Dot(s.dir, v) < 0 {
					v = r3.Scale(-1, v)
				}
				s.dir = r3.Add(s.dir, v)
			}
		}
		if fc.area > 0 { // tilt of a strip of this width with its rims off by the noise
			fc.slack = math.Atan(2 * tol.noise * rim / (2 * fc.area))
		}
		for k := range fc.sides {
			s := &fc.sides[k]
			s.bend = mesh.Angle(fc.normal, list[s.other].normal)
			s.extent = fc.area / max(s.length, 1e-300)
		}
	}
	for i := range list {
		for k := range list[i].sides {
			s := &list[i].sides[k]
			give := min(list[i].slack+list[s.other].slack, coarseAngle/4)
			s.smooth = s.bend <= crease+halfDegree+give || s.bend <= coarseAngle && regular(list, i, k)
			if s.smooth {
				list[i].bend = max(list[i].bend, s.bend)
			}
		}
	}
}

// regular tells whether a bend above the crease angle is one step of a coarse
// round: both facets equally wide, each with an equal bend on its far side.
func regular(list []facet, i, k int) bool {
	s := list[i].sides[k]
	back := slices.IndexFunc(list[s.other].sides, func(t side) bool { return t.other == i })
	if back < 0 {
		return false
	}
	t := list[s.other].sides[back]
	if s.extent > 1.3*t.extent || t.extent > 1.3*s.extent {
		return false
	}
	goesOn := func(f facet, not side) (before int, ok bool) {
		k := slices.IndexFunc(f.sides, func(o side) bool {
			return o.other != not.other && o.convex == not.convex && o.bend > 0.8*not.bend && o.bend < 1.25*not.bend &&
				apart(o.dir, not.dir) < math.Pi/4
		})
		if k < 0 {
			return 0, false
		}
		return f.sides[k].other, true
	}
	before, ok := goesOn(list[i], s)
	if !ok {
		return false
	}
	if _, ok := goesOn(list[s.other], t); !ok {
		return false
	}
	return azimuth(list[before].normal, list[i].normal, list[s.other].normal) <= coarseAngle
}

// azimuth is the turn from the second of three normals to the third about the axis
// that all three lean to alike. Six chamfers of a nut bend by 41° each, but turn by
// 60°: they are no round.
func azimuth(a, b, c r3.Vec) float64 {
	axis := r3.Cross(r3.Sub(b, a), r3.Sub(c, b))
	if r3.Norm(axis) < 1e-9 {
		return mesh.Angle(b, c)
	}
	axis = mesh.Unit(axis)
	across := func(n r3.Vec) r3.Vec { return r3.Sub(n, r3.Scale(r3.Dot(n, axis), axis)) }
	return mesh.Angle(across(b), across(c))
}

// inNoRows tells whether most of the area of facets is of triangles that are alone in their planes, as meshers of
// solids leave them: those of rows lie in a plane by twos.
func (g *model) inNoRows(set []int) bool {
	var area, triangles float64
	for _, i := range set {
		area += g.list[i].area
		if len(g.list[i].knots) == 3 {
			triangles += g.list[i].area
		}
	}
	return triangles > area/2
}

// components numbers the sets of facets that hang together over smooth sides;
// facets without area bind nothing together.
func components(list []facet) (sets [][]int) {
	seen := make([]bool, len(list))
	for i := range list {
		if seen[i] {
			continue
		}
		seen[i] = true
		set := []int{i}
		for k := 0; k < len(set); k++ {
			f := &list[set[k]]
			if f.area == 0 {
				continue
			}
			for _, s := range f.sides {
				if s.smooth && !seen[s.other] && list[s.other].area > 0 {
					seen[s.other] = true
					set = append(set, s.other)
				}
			}
		}
		sets = append(sets, set)
	}
	return sets
}
