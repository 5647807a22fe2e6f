package parts

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// tube tells whether connected faces are a section swept along a spine: an open
// tube with two ends, longer than wide, of the same girth all along, or long and
// tapering. Sections are the points equally far from both ends, so the mesh needs
// no rings; one that tapers does.
func tube(m *mesh.Mesh, faces []mesh.FaceID) (shape.Fit, bool) {
	return tubeOf(mesh.NewPatch(m, faces, func(mesh.EdgeID) bool { return false }))
}

// tubeOf does so for a patch.
func tubeOf(p *mesh.Patch) (shape.Fit, bool) {
	none := shape.Fit{}
	ends := p.Borders()
	if len(ends) != 2 || p.Euler() != 0 {
		return none, false
	}
	a, b := overSurface(p, ends[0]), overSurface(p, ends[1])
	area := p.Area()
	girth := min(loopLength(p, ends[0]), loopLength(p, ends[1]))
	if girth <= 0 || area < 0.5*girth*girth || math.IsInf(a[0]+b[0], 1) {
		return none, false
	}
	rings := layers(p, ends[0], ends[1])
	var weight []float64
	ringed := rings != nil
	if !ringed { // by the area round a corner: there are more of them where a mesh was refined
		rings, weight = slabs(p, a, b, area, girth), make([]float64, len(p.Pos))
		for _, t := range p.Tris {
			for _, v := range t {
				weight[v] += mesh.TriangleArea(p.Pos[t[0]], p.Pos[t[1]], p.Pos[t[2]])
			}
		}
	}
	spine, long := middles(p, rings, weight)
	if len(spine) < 3 || long < 1.5*girth/math.Pi {
		return none, false
	}
	reach, mean := reaches(p, rings, spine)
	if ringed && area/long-girth > girthSlack*girth && tapers(reach, mean, spine, long) {
		return shape.Fit{Kind: shape.Swept, Origin: spine[len(spine)/2], Radius: area / long / (2 * math.Pi), Spine: spine}, true
	}
	off, bad := spread(reach, mean)
	if bad > len(rings)/10 || math.Abs(area/long-girth) > girthSlack*girth {
		return none, false
	}
	return shape.Fit{Kind: shape.Swept, Origin: spine[len(spine)/2], Radius: area / long / (2 * math.Pi), Error: off, Spine: spine}, true
}

// middles returns the mean points of sections, weighed by corner, all alike where weight is nil, and how long the line through them is.
func middles(p *mesh.Patch, sections [][]int32, weight []float64) (spine []r3.Vec, long float64) {
	for k, r := range sections {
		var c r3.Vec
		var sum float64
		for _, v := range r {
			w := 1.0
			if weight != nil {
				w = weight[v]
			}
			c = r3.Add(c, r3.Scale(w, p.Pos[v]))
			sum += w
		}
		spine = append(spine, r3.Scale(1/max(sum, 1e-300), c))
		if k > 0 {
			long += r3.Norm(r3.Sub(spine[k], spine[k-1]))
		}
	}
	return spine, long
}

// reaches returns how far the points of each section lie from the spine, and all of them, in the mean.
func reaches(p *mesh.Patch, sections [][]int32, spine []r3.Vec) (reach []float64, mean float64) {
	reach = make([]float64, len(sections))
	var n float64
	for k, r := range sections {
		for _, v := range r {
			d := polylineDistance(p.Pos[v], spine)
			reach[k] += d / float64(len(r))
			mean += d
			n++
		}
	}
	return reach, mean / n
}

// unlikeReach is the share of the mean by which the reach of a section may differ from it.
const unlikeReach = 0.15

// spread is the root mean square of what reaches are off their mean, and how many are unlike it.
func spread(reach []float64, mean float64) (off float64, bad int) {
	for _, r := range reach {
		e := r - mean
		off += e * e
		if math.Abs(e) > unlikeReach*mean {
			bad++
		}
	}
	return math.Sqrt(off / float64(len(reach))), bad
}

// girthSlack is how much the girth of a bar may differ from that of its thinner end.
const girthSlack = 0.2

// What a tapering bar is: so many times as long as wide, growing or shrinking by so much per
// length at most, and by so much off what is between its neighbours; a vase is none.
const (
	taperLong  = 3
	taperSlope = 0.3
	taperStep  = 0.05
)

// tapers tells whether the sections of a long bar grow or shrink evenly along its spine.
// reach is how far each goes from the spine, and mean that of all.
func tapers(reach []float64, mean float64, spine []r3.Vec, long float64) bool {
	if mean*2*taperLong > long {
		return false
	}
	for k := 1; k < len(reach); k++ {
		if math.Abs(reach[k]-reach[k-1]) > taperSlope*r3.Norm(r3.Sub(spine[k], spine[k-1])) {
			return false
		}
		if k+1 < len(reach) && math.Abs(reach[k]-(reach[k-1]+reach[k+1])/2) > taperStep*reach[k] {
			return false
		}
	}
	return true
}

// strip tells whether a set of facets is one strip of a bent bar or sheet: each goes over
// into the next alone, so that it lies flat whichever way it bends, and it is longer than
// wide.
func (g *model) strip(set []int) (shape.Fit, bool) {
	in := make(map[int]bool, len(set))
	for _, i := range set {
		in[i] = true
	}
	next := func(i int) (out []int) {
		for _, s := range g.list[i].sides {
			if s.smooth && in[s.other] {
				out = append(out, s.other)
			}
		}
		return out
	}
	first := -1
	for _, i := range set {
		switch n := len(next(i)); {
		case n > 2 || n == 0:
			return shape.Fit{}, false
		case n == 1 && (first < 0 || i < first):
			first = i
		}
	}
	if first < 0 {
		return shape.Fit{}, false
	}
	var spine []r3.Vec
	var area float64
	for at, before := first, -1; at >= 0; {
		spine = append(spine, g.list[at].centre)
		area += g.list[at].area
		to := -1
		for _, o := range next(at) {
			if o != before {
				to = o
			}
		}
		at, before = to, at
	}
	if len(spine) != len(set) {
		return shape.Fit{}, false
	}
	var long float64
	for k := 1; k < len(spine); k++ {
		long += r3.Norm(r3.Sub(spine[k], spine[k-1]))
	}
	if long*long < 2*area {
		return shape.Fit{}, false
	}
	return shape.Fit{Kind: shape.Swept, Origin: spine[len(spine)/2], Radius: area / long / (2 * math.Pi), Spine: spine}, true
}

// layers returns the vertices of a tube ring by ring if its mesh is made of
// rings: the same number of vertices at each count of edges from one end. A
// triangulated tube has the same rings.
func layers(p *mesh.Patch, from, to []int32) [][]int32 {
	near := make([][]int32, len(p.Pos))
	for _, t := range p.Tris {
		for k := range 3 {
			near[t[k]] = append(near[t[k]], t[(k+1)%3], t[(k+2)%3])
		}
	}
	seen := make([]bool, len(p.Pos))
	var ring []int32
	for _, c := range from {
		ring = append(ring, p.CornerVert[c])
		seen[p.CornerVert[c]] = true
	}
	var out [][]int32
	n := len(ring)
	for len(ring) > 0 {
		if len(ring) != n {
			return nil
		}
		out = append(out, ring)
		var next []int32
		for _, v := range ring {
			for _, o := range near[v] {
				if !seen[o] {
					seen[o] = true
					next = append(next, o)
				}
			}
		}
		ring = next
	}
	for _, c := range to {
		if !slices.Contains(out[len(out)-1], p.CornerVert[c]) {
			return nil
		}
	}
	if len(to) != n {
		return nil
	}
	return out
}

// slabs groups the vertices of any tube by their share of the way between the
// ends a and b, about two slabs for each width of the tube.
func slabs(p *mesh.Patch, a, b []float64, area, girth float64) [][]int32 {
	n := int(min(48, max(4, area/(girth*girth)*4)))
	out := make([][]int32, n)
	for v := range p.Pos {
		s := 0.0
		if l := a[v] + b[v]; l > 0 {
			s = a[v] / l
		}
		k := min(n-1, int(s*float64(n)))
		out[k] = append(out[k], int32(v))
	}
	return slices.DeleteFunc(out, func(r []int32) bool { return len(r) == 0 })
}

// overSurface returns the distance of each vertex to a border along edges.
func overSurface(p *mesh.Patch, border []int32) []float64 {
	d := make([]float64, len(p.Pos))
	for i := range d {
		d[i] = math.Inf(1)
	}
	type link struct {
		to     int32
		length float64
	}
	links := make([][]link, len(p.Pos))
	for _, t := range p.Tris {
		for k := range 3 {
			u, v := t[k], t[(k+1)%3]
			l := r3.Norm(r3.Sub(p.Pos[u], p.Pos[v]))
			links[u] = append(links[u], link{v, l})
			links[v] = append(links[v], link{u, l})
		}
	}
	var front []int32
	for _, c := range border {
		d[p.CornerVert[c]] = 0
		front = append(front, p.CornerVert[c])
	}
	// Label correcting from ring to ring: few repeats on tubes.
	for len(front) > 0 {
		var next []int32
		for _, u := range front {
			for _, l := range links[u] {
				if nd := d[u] + l.length; nd < d[l.to]*(1-1e-12) {
					d[l.to] = nd
					next = append(next, l.to)
				}
			}
		}
		slices.Sort(next)
		front = slices.Compact(next)
	}
	return d
}

// loopTurns is how far a border turns at each of its corners, radians.
func loopTurns(p *mesh.Patch, loop []int32) []float64 {
	at := func(k int) r3.Vec { return p.Pos[p.CornerVert[loop[(k+len(loop))%len(loop)]]] }
	out := make([]float64, len(loop))
	for k := range loop {
		out[k] = mesh.Angle(r3.Sub(at(k), at(k-1)), r3.Sub(at(k+1), at(k)))
	}
	return out
}

func loopLength(p *mesh.Patch, loop []int32) (l float64) {
	for _, c := range loop {
		a, b := p.Ends(c)
		l += r3.Norm(r3.Sub(p.Pos[b], p.Pos[a]))
	}
	return l
}

func polylineDistance(q r3.Vec, line []r3.Vec) float64 {
	best := math.Inf(1)
	for k := 1; k < len(line); k++ {
		d := r3.Sub(line[k], line[k-1])
		t := 0.0
		if l := r3.Norm2(d); l > 0 {
			t = r3.Dot(r3.Sub(q, line[k-1]), d) / l
		}
		// The ends run on, so that points of the end sections are measured across.
		if k > 1 {
			t = max(0, t)
		}
		if k+1 < len(line) {
			t = min(1, t)
		}
		best = min(best, r3.Norm(r3.Sub(q, r3.Add(line[k-1], r3.Scale(t, d)))))
	}
	return best
}
