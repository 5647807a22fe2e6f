package parts

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// band is a part that runs once round an axis: a wall, a cone, a step, a bevel.
type band struct {
	part   int
	area   float64
	lo, hi float64 // radii it spans
	axis   r3.Vec
	origin r3.Vec
}

// radiusSpread is how far radii of one turned wall may lie from each other at the usual
// detail: the wall is laid as a rectangle of mean radius, so this bounds its stretch.
const radiusSpread = 1.13

// uniteTurned joins coaxial bands that follow each other into turned walls, as
// long as their radii stay close: a can with ridges is one wall and two lids.
// What remains narrow goes with the wall rather than with the lid, since a wall
// takes it without bending it.
func uniteTurned(m *mesh.Mesh, parts []Part, detail float64) []Part {
	t := &walls{mesh: m, parts: parts, bands: make([]*band, len(parts)), spread: 1 + (radiusSpread-1)*(1-detail)/(1-usual)}
	t.near, _ = neighbours(m, parts)
	for i, p := range parts {
		t.bands[i] = asBand(m, i, p)
	}
	t.lendAxes(func(int) bool { return false })
	flanks := t.flanks(t.join())
	t.lendAxes(func(i int) bool { return flanks[i] })
	wall := t.join()
	waved := t.waves(wall)

	byFirst := map[int][]int{}
	for i := range parts {
		byFirst[wall.first(i)] = append(byFirst[wall.first(i)], i)
	}
	var groups [][]int
	for i := range parts {
		if len(byFirst[i]) > 1 {
			groups = append(groups, byFirst[i])
		}
	}
	return unite(parts, groups, func(grp []int) (shape.Fit, float64) {
		b := wall.of[wall.first(grp[0])]
		until := min(1-(b.hi/b.lo-1)/(radiusSpread-1)*(1-usual), 0.95)
		if waved[wall.first(grp[0])] {
			until = together
		}
		if main, ok := dominated(m, parts, grp); ok { // a wall with its bevels
			return parts[main].Fit, until
		}
		return shape.AsTurned(shape.Gather(m, unionFaces(parts, grp)), b.axis, b.origin), until
	})
}

// walls are the bands among some parts, which may follow each other as one wall.
type walls struct {
	mesh   *mesh.Mesh
	parts  []Part
	near   [][]border
	bands  []*band // none where a part is no band
	spread float64 // of the radii of one wall
}

// joined are bands that follow each other.
type joined struct {
	root []int
	of   []*band // by first part
}

// first returns the first part of the wall that a part is in.
func (j joined) first(i int) int {
	for j.root[i] != i {
		i = j.root[i]
	}
	return i
}

// join makes walls of bands that follow each other, those of like radius first.
func (t *walls) join() joined {
	type joint struct {
		a, b   int
		length float64
		spread float64
	}
	var joints []joint
	for i, list := range t.near {
		for _, b := range list {
			if x, y := t.bands[i], t.bands[b.other]; i < b.other && x != nil && y != nil && coaxial(t.mesh, x, y) {
				joints = append(joints, joint{i, b.other, b.length, max(x.hi, y.hi) / min(x.lo, y.lo)})
			}
		}
	}
	slices.SortFunc(joints, func(x, y joint) int {
		return cmp.Or(cmp.Compare(math.Round(x.spread*1e6), math.Round(y.spread*1e6)), cmp.Compare(x.a, y.a), cmp.Compare(x.b, y.b))
	})
	out := joined{root: make([]int, len(t.parts)), of: slices.Clone(t.bands)}
	for i := range out.root {
		out.root[i] = i
	}
	for _, j := range joints {
		a, b := out.first(j.a), out.first(j.b)
		if a == b {
			continue
		}
		if u := out.both(a, b); u.hi <= u.lo*t.spread && allRound(j.length, u.lo) {
			out.join(a, b)
		}
	}
	return out
}

// allRound tells whether a joint goes all the way round, else the wall would be torn.
func allRound(length, radius float64) bool { return length >= 0.9*2*math.Pi*radius }

// both is the band of two walls, by their first parts.
func (j joined) both(a, b int) band {
	u, v := *j.of[a], j.of[b]
	u.part, u.area = min(a, b), u.area+v.area
	u.lo, u.hi = min(u.lo, v.lo), max(u.hi, v.hi)
	return u
}

// join makes one wall of two, by their first parts, and returns its first part.
func (j joined) join(a, b int) int {
	u := j.both(a, b)
	j.root[max(a, b)] = u.part
	j.of[u.part] = &u
	return u.part
}

// asBand returns the band a part is, or nil: cylinders and cones that close
// round their axis bring their own axis; plane rings and narrow closed strips
// get theirs from a neighbour.
func asBand(m *mesh.Mesh, i int, p Part) *band {
	switch p.Fit.Kind {
	case shape.Cylinder, shape.Cone, shape.Turned, shape.Torus:
		return newBand(m, i, p, p.Fit.Axis, p.Fit.Origin)
	}
	return nil
}

func newBand(m *mesh.Mesh, i int, p Part, axis, origin r3.Vec) *band {
	b := &band{part: i, axis: axis, origin: origin, lo: math.Inf(1)}
	for _, f := range p.Faces {
		b.area += m.FaceAreas()[f]
		for _, q := range m.FacePoints(f) {
			r := axisDistance(m.Points[q], axis, origin)
			b.lo, b.hi = min(b.lo, r), max(b.hi, r)
		}
	}
	if b.lo <= 1e-6*b.hi || !closesRound(m, p.Faces, axis, origin) {
		return nil
	}
	return b
}

func axisDistance(p, axis, origin r3.Vec) float64 {
	d := r3.Sub(p, origin)
	return r3.Norm(r3.Sub(d, r3.Scale(r3.Dot(d, axis), axis)))
}

// leansRound is the sine of the angle by which a facet of a wall may lean round its axis.
const leansRound = 0.1

// closesRound tells whether the faces are an open tube about the axis: two
// borders, each going round once, every normal in the plane of its radius.
func closesRound(m *mesh.Mesh, faces []mesh.FaceID, axis, origin r3.Vec) bool {
	n := m.FaceNormals()
	for _, f := range faces {
		lo, hi := math.Inf(1), math.Inf(-1) // how far its normal leans round the axis, seen from its corners
		for _, p := range m.FacePoints(f) {
			if round := r3.Cross(axis, r3.Sub(m.Points[p], origin)); r3.Norm(round) > 0 {
				lean := r3.Dot(n[f], mesh.Unit(round))
				lo, hi = min(lo, lean), max(hi, lean)
			}
		}
		if lo > leansRound || hi < -leansRound {
			return false
		}
	}
	p := mesh.NewPatch(m, faces, func(mesh.EdgeID) bool { return false })
	loops := p.Borders()
	if len(loops) != 2 || p.Euler() != 0 {
		return false
	}
	for _, loop := range loops {
		if math.Abs(math.Abs(p.Winding(loop, axis, origin))-2*math.Pi) > 0.1 {
			return false
		}
	}
	return true
}

// lendAxes makes bands of flat rings and closed strips beside a band; of rings square to
// the axis only of those that may be.
func (t *walls) lendAxes(square func(i int) bool) {
	tried := map[[2]int]bool{}
	for changed := true; changed; {
		changed = false
		for i, list := range t.near {
			for _, b := range list {
				k := [2]int{i, b.other}
				if t.bands[i] == nil || t.bands[b.other] != nil || tried[k] {
					continue
				}
				tried[k] = true
				kind := t.parts[b.other].Fit.Kind
				if kind != shape.Plane && kind != shape.Free && kind != shape.Sphere || isPlate(t.parts[b.other].Fit, t.bands[i].axis) && !square(b.other) {
					continue
				}
				if lent := newBand(t.mesh, b.other, t.parts[b.other], t.bands[i].axis, t.bands[i].origin); lent != nil && lent.hi < lent.lo*t.spread {
					t.bands[b.other] = lent
					changed = true
				}
			}
		}
	}
}

// flanks tells which flat rings square to an axis are the flanks of a groove or a ridge:
// two that a wall lies between and that both lead outward, or both inward. Any other such
// ring is a step, where one wall ends and another begins.
func (t *walls) flanks(wall joined) []bool {
	beside := map[[2]int][]int{} // by wall and, 0, inward or, 1, outward
	for i, list := range t.near {
		for _, b := range list {
			if t.bands[i] == nil || t.bands[b.other] != nil || !isPlate(t.parts[b.other].Fit, t.bands[i].axis) {
				continue
			}
			ring := newBand(t.mesh, b.other, t.parts[b.other], t.bands[i].axis, t.bands[i].origin)
			if ring == nil {
				continue
			}
			first := wall.first(i)
			k := [2]int{first, 0}
			if w := wall.of[first]; ring.lo+ring.hi > w.lo+w.hi {
				k[1] = 1
			}
			beside[k] = append(beside[k], b.other)
		}
	}
	out := make([]bool, len(t.parts))
	for _, both := range beside {
		if len(both) == 2 {
			out[both[0]], out[both[1]] = true, true
		}
	}
	return out
}

// isPlate tells whether a ring lies square to the axis: a step or an end, where a wall ends.
func isPlate(f shape.Fit, axis r3.Vec) bool {
	return f.Kind == shape.Plane && math.Abs(r3.Dot(f.Axis, axis)) > math.Cos(normalSlack)
}

func coaxial(m *mesh.Mesh, a, b *band) bool {
	if math.Abs(r3.Dot(a.axis, b.axis)) < math.Cos(0.5*math.Pi/180) {
		return false
	}
	return axisDistance(b.origin, a.axis, a.origin) < 1e-3*max(a.hi, b.hi)+1e-6*m.Diagonal()
}
