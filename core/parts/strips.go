package parts

import (
	"cmp"
	"maps"
	"math"
	"runtime"
	"slices"

	"morvek/core/mesh"
	"morvek/core/parallel"
	"morvek/core/shape"
)

// absorbStrips gives chamfers, fillets and bevels to a neighbour: narrow parts
// between two wider ones that bend the same way on both long sides. Strips that follow
// each other between the same two go together. A band round a wall goes with the wall,
// which takes it without bending it; any other strip goes where the seam that remains is
// less exposed, then where it bends less. Crumbs, the small patches where strips meet and
// faces without area, follow. Exposure is asked for from several goroutines at once.
func absorbStrips(m *mesh.Mesh, parts []Part, o Options, detail float64) []Part {
	s := &strips{mesh: m, widths: measureWidths(m, parts, detail), host: upTo(len(parts)), taken: make([]bool, len(parts)), curved: make([]float64, len(parts))}
	runs := s.runs()
	// Which neighbour is a question of rays, so all runs ask at once.
	second := make([]bool, len(runs))
	g := parallel.Group{}
	g.SetLimit(runtime.GOMAXPROCS(0))
	for k, r := range runs {
		g.Go(func() error {
			second[k] = s.chooses(r, o)
			return nil
		})
	}
	_ = g.Wait()
	for k, r := range runs {
		s.absorb(r, second[k])
	}
	s.crumbs()
	groups, main := s.groups()
	return unite(parts, groups, func(grp []int) (shape.Fit, float64) {
		h := main[grp[0]]
		f, until := parts[h].Fit, 0.95
		for _, i := range grp {
			if s.taken[i] && i != h && len(s.near[i]) > 1 {
				until = min(until, max(detail, 1-s.wide[i]/min(s.wide[s.near[i][0].other], s.wide[s.near[i][1].other])))
			}
		}
		if s.curved[h] > curvedShare*s.area[h] && (f.Kind == shape.Cylinder || f.Kind == shape.Cone) {
			// A wall with much bevel lies flat no more: it is a turned part of several.
			return shape.AsTurned(shape.Gather(m, unionFaces(parts, grp)), f.Axis, f.Origin), until
		}
		return f, until
	})
}

// strips is which narrow parts go with which neighbour.
type strips struct {
	*widths
	mesh   *mesh.Mesh
	host   []int             // the part each goes with, itself where it stays
	taken  []bool            // it goes with another
	curved []float64         // area of curved strips a part has taken
	ends   map[int][2]border // of each strip: where it, or what lies beside it, meets its hosts
}

// run is strips that follow each other, and lie beside each other, between the same two
// parts, hosts[0] the first.
type run struct {
	strips []int
	hosts  [2]int
}

// runs returns the strips in runs, the narrowest first.
func (s *strips) runs() []run {
	s.ends = map[int][2]border{}
	hosts := map[int][2]int{}
	for i, p := range s.parts {
		washer := (p.Fit.Kind == shape.Cylinder || p.Fit.Kind == shape.Swept || len(p.Pieces) > 0 && p.Fit.Kind != shape.Free) && isBand(s.mesh, p.Faces) // its wall, narrow as it is, or a bead
		if washer || p.Fit.Kind == shape.Helix || p.Fit.Soft() {
			continue
		}
		if a, b, ok := s.between(i); ok {
			s.ends[i] = [2]border{a, b}
			hosts[i] = [2]int{min(a.other, b.other), max(a.other, b.other)}
		}
	}
	order := slices.Collect(maps.Keys(hosts))
	slices.SortFunc(order, s.narrower)
	seen := map[int]bool{}
	var out []run
	for _, i := range order {
		if seen[i] {
			continue
		}
		seen[i] = true
		r := run{[]int{i}, hosts[i]}
		join := func(j int) {
			if h, ok := hosts[j]; ok && h == r.hosts && !seen[j] {
				seen[j] = true
				r.strips = append(r.strips, j)
			}
		}
		for k := 0; k < len(r.strips); k++ {
			i := r.strips[k]
			for _, b := range s.near[i] {
				join(b.other)
				if s.area[b.other] <= crumbSize*s.wide[i]*s.wide[i] { // a corner between two strips
					for _, c := range s.near[b.other] {
						join(c.other)
					}
				}
			}
		}
		out = append(out, r)
	}
	return out
}

// at returns where a strip, or what lies beside it, meets one of its hosts.
func (s *strips) at(i, host int) border {
	if s.ends[i][0].other == host {
		return s.ends[i][0]
	}
	return s.ends[i][1]
}

// chooses tells whether a run goes with its second host, by what most of it would.
func (s *strips) chooses(r run, o Options) bool {
	var sum float64
	for _, i := range r.strips {
		a, b := s.at(i, r.hosts[0]), s.at(i, r.hosts[1])
		if chooses(s.mesh, s.parts, i, b, a, o) {
			sum += a.length
		} else {
			sum -= a.length
		}
	}
	return sum > 0
}

// absorb gives a run to its host, the whole of it: half a bevel would leave a step in the
// seam. A plate takes few curved strips; where it has enough of them the other host takes
// the run.
func (s *strips) absorb(r run, second bool) {
	h, other := r.hosts[0], r.hosts[1]
	if second {
		h, other = other, h
	}
	if s.parts[r.strips[0]].fillet && s.taken[h] != s.taken[other] { // a fillet goes with who stays
		if s.taken[h] {
			h = other
		}
		other = h
	}
	if s.taken[h] || s.taken[other] {
		return
	}
	var bent float64
	for _, i := range r.strips {
		bent += curvedArea(s.mesh, s.parts[i])
	}
	takes := func(h int) bool {
		k := s.parts[h].Fit.Kind
		return bent == 0 || isWall(k) && k != shape.Extruded || s.curved[h]+bent <= bevelShare*s.area[h]
	}
	if !takes(h) && takes(other) {
		h = other
	}
	for _, i := range r.strips {
		s.curved[h] += curvedArea(s.mesh, s.parts[i])
		s.taken[i] = true
		s.host[i] = h
	}
}

// bevelShare is how much of a part may be curved bevels, which stretch beside it, before
// more of them go elsewhere.
const bevelShare = 0.3

// crumbs gives what is small among strips to the one it meets most.
func (s *strips) crumbs() {
	order := upTo(len(s.parts))
	slices.SortFunc(order, s.narrower)
	for _, i := range order {
		if s.taken[i] || len(s.near[i]) == 0 {
			continue
		}
		var beside float64 // width of the strips that meet here
		most, best := 0.0, -1
		for _, b := range s.near[i] {
			if s.taken[b.other] {
				beside = max(beside, s.wide[b.other])
			}
			if l := b.length; s.area[i] == 0 && l > most || s.taken[b.other] && l > most {
				most, best = l, b.other
			}
		}
		if best >= 0 && s.area[i] <= crumbSize*beside*beside {
			if s.area[i] > 0 || s.taken[best] {
				s.taken[i] = true
			}
			if s.host[best] != i {
				s.host[i] = best
			}
		}
	}
}

// crumbSize is the area of what is small where strips meet, in squares of their width.
const crumbSize = 2.5

// groups returns the parts that go together, and by the first of each group the one that
// they go with.
func (s *strips) groups() (list [][]int, main map[int]int) {
	of := map[int][]int{}
	for i := range s.parts {
		h := lastHost(s.host, i)
		of[h] = append(of[h], i)
	}
	main = map[int]int{}
	for h := range s.parts {
		if g := of[h]; len(g) > 1 {
			main[g[0]] = h
			list = append(list, g)
		}
	}
	slices.SortFunc(list, func(a, b []int) int { return a[0] - b[0] })
	return list, main
}

// lastHost follows hosts from one to the next, up to one that stays itself.
func lastHost(host []int, i int) int {
	for range host {
		if host[i] == i {
			break
		}
		i = host[i]
	}
	return i
}

// upTo returns the numbers below n.
func upTo(n int) []int {
	out := make([]int, n)
	for i := range out {
		out[i] = i
	}
	return out
}

// widths tells how wide parts are, and which of them are strips between two wider ones.
type widths struct {
	parts     []Part
	rims      bool // chamfers of narrow rims count
	near      [][]border
	rim       []float64
	area      []float64
	wide      []float64
	narrow    float64 // how wide a strip may be, as a share of the narrower neighbour
	narrowest float64 // how wide at the most, model units
}

func measureWidths(m *mesh.Mesh, parts []Part, detail float64) *widths {
	w := &widths{parts: parts, rims: true, area: make([]float64, len(parts)), wide: make([]float64, len(parts)), narrow: 1 - detail, narrowest: 0.09 * (1 - detail) * m.Diagonal()}
	w.near, w.rim = neighbours(m, parts)
	for i, p := range parts {
		w.area[i] = partArea(m, p)
		w.wide[i] = width(w.area[i], w.rim[i])
	}
	return w
}

// narrower orders parts by width, equal ones by the file.
func (w *widths) narrower(a, b int) int {
	return cmp.Or(cmp.Compare(float32(w.wide[a]), float32(w.wide[b])), cmp.Compare(w.parts[a].Faces[0], w.parts[b].Faces[0]))
}

// isStrip tells whether a part is a narrow strip between its two longest neighbours, to
// both of which it bends the same way.
func (w *widths) isStrip(i int) bool {
	if !w.isLong(i) || w.wide[i] > w.narrowest {
		return false
	}
	a, b := w.near[i][0], w.near[i][1]
	// The rim of a thin plate, at right angles to both, is none.
	return w.isNarrow(i, w.wide[i], a, b) && max(w.turn(i, a), w.turn(i, b)) <= steepest
}

// isLong tells whether a part runs along between its two longest neighbours, to both of
// which it bends the same way.
func (w *widths) isLong(i int) bool {
	near := w.near[i]
	if len(near) > 2 && near[2].length > 0.9*near[1].length { // the corner of a box between three chamfers
		return false
	}
	return len(near) > 1 && w.area[i] >= 5*w.wide[i]*w.wide[i] && near[1].length >= 0.25*w.rim[i] && near[0].bend*near[1].bend > 0
}

// mostRows bounds how many strips side by side are one bevel.
const mostRows = 8

// between returns where a strip meets the two parts it lies between or, if it is one row of
// a bevel of several, where its outer rows do; ok is false for what is no strip.
func (w *widths) between(i int) (a, b border, ok bool) {
	if near := w.near[i]; w.parts[i].fillet && len(near) > 1 { // all rows of it
		return near[0], near[1], w.wide[i] <= w.narrowest && w.isNarrow(i, w.wide[i], near[0], near[1])
	}
	if !w.isLong(i) {
		return a, b, false
	}
	wide, sign, rows := w.wide[i], w.near[i][0].bend, 1
	var ends [2]border
	from := [2]int{i, i}
	for k := range ends {
		ends[k] = w.near[i][k]
		for at := i; rows < mostRows; rows++ {
			next := ends[k].other
			if !w.isLong(next) || next == i || w.wide[next] > 2*w.wide[i] || w.wide[i] > 2*w.wide[next] || w.near[next][0].bend*sign <= 0 {
				break
			}
			on := -1
			for j := range 2 {
				if w.near[next][j].other == at {
					on = 1 - j
				}
			}
			if on < 0 {
				break
			}
			wide += w.wide[next]
			at, ends[k], from[k] = next, w.near[next][on], next
		}
	}
	if ends[0].other == ends[1].other || wide > w.narrowest {
		return a, b, false
	}
	ok = w.isNarrow(i, wide, ends[0], ends[1]) && max(w.turn(from[0], ends[0]), w.turn(from[1], ends[1])) <= steepest
	return ends[0], ends[1], ok
}

// isNarrow tells whether a strip is narrow beside its neighbours: half as wide as the
// narrower at the usual detail, more if it is known for a fillet, or, along a rim, no wider
// than that and far narrower than the other.
func (w *widths) isNarrow(i int, strip float64, a, b border) bool {
	least, most := min(w.wide[a.other], w.wide[b.other]), max(w.wide[a.other], w.wide[b.other])
	share := w.narrow
	if w.parts[i].fillet {
		if share *= filletWider; strip <= filletNarrow*most {
			return true
		}
	}
	return strip <= share*least || w.rims && strip <= least && strip <= rimShare*w.narrow*most
}

// filletWider is how much wider than a bevel a fillet may be.
const filletWider = 1.8

// rimShare is how narrow a chamfer of a narrow rim is beside the wall, more than usual.
const rimShare = 0.5

// turn is how far a neighbour is turned away from a part: the bend where they meet and, if
// there is a bevel there that went with a flat neighbour, beyond that.
func (w *widths) turn(i int, b border) float64 {
	t := math.Abs(b.bend)
	if p, q := w.parts[i].Fit, w.parts[b.other].Fit; p.Kind == shape.Plane && q.Kind == shape.Plane {
		t = max(t, mesh.Angle(p.Axis, q.Axis))
	}
	return t
}

// curvedShare is how much of a part may be curved strips that do not lie flat
// with it, before their stretch tells on the whole.
const curvedShare = 0.04

// curvedArea is the area of what is not flat in a part.
func curvedArea(m *mesh.Mesh, p Part) (a float64) {
	if p.Fit.Kind == shape.Plane {
		return 0
	}
	if len(p.Pieces) == 0 {
		return partArea(m, p)
	}
	for _, q := range p.Pieces {
		a += curvedArea(m, q)
	}
	return a
}

// steepest is the bend to a neighbour above which a narrow part is a side of its
// own rather than a chamfer.
const steepest = 68 * math.Pi / 180

// chooses tells whether strip i goes with the neighbour across b rather than
// the one across a.
func chooses(m *mesh.Mesh, parts []Part, i int, b, a border, o Options) bool {
	closed := func(k int) bool { return isWall(parts[k].Fit.Kind) }
	if isBand(m, parts[i].Faces) && closed(a.other) != closed(b.other) {
		return closed(b.other)
	}
	if o.Exposure != nil {
		// Going with b leaves the seam at a, and the other way round.
		if x, y := exposed(m, a, o), exposed(m, b, o); math.Abs(x-y) > 0.02 {
			return x < y
		}
	}
	if x, y := math.Abs(b.bend), math.Abs(a.bend); math.Abs(x-y) > 1*math.Pi/180 {
		return x < y
	}
	x, y := parts[b.other], parts[a.other]
	if p, q := float32(partArea(m, x)), float32(partArea(m, y)); p != q {
		return p > q
	}
	return x.Faces[0] < y.Faces[0]
}

// exposureSamples bounds how many edges of a border are looked at.
const exposureSamples = 2

func exposed(m *mesh.Mesh, b border, o Options) float64 {
	step := (len(b.edges) + exposureSamples - 1) / exposureSamples
	var sum, n float64
	for k := 0; k < len(b.edges); k += step {
		f, g := m.EdgeFaces(b.edges[k])
		sum += (o.Exposure(f) + o.Exposure(g)) / 2
		n++
	}
	return sum / max(1, n)
}

// isBand tells whether faces close on themselves as a ring.
func isBand(m *mesh.Mesh, faces []mesh.FaceID) bool {
	p := mesh.NewPatch(m, faces, func(mesh.EdgeID) bool { return false })
	return p.Euler() == 0 && len(p.Borders()) == 2
}

// dominated tells whether one part of a group makes up nearly all of it.
func dominated(m *mesh.Mesh, parts []Part, group []int) (main int, yes bool) {
	var total float64
	main = group[0]
	for _, i := range group {
		total += partArea(m, parts[i])
		if partArea(m, parts[i]) > partArea(m, parts[main]) {
			main = i
		}
	}
	return main, parts[main].Fit.Kind != shape.Plane && partArea(m, parts[main]) > (1-curvedShare)*total
}
