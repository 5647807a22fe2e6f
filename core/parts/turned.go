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
	spread := 1 + (radiusSpread-1)*(1-detail)/(1-usual)
	owner := owners(m, parts)
	bands := make([]*band, len(parts))
	for i, p := range parts {
		bands[i] = asBand(m, i, p)
	}
	lendAxes(m, parts, owner, bands, spread)

	type joint struct {
		a, b   int
		length float64
		spread float64
	}
	lengths := map[[2]int]float64{}
	for e := range m.NumEdges() {
		f, g := m.EdgeFaces(mesh.EdgeID(e))
		if g == mesh.None || owner[f] == owner[g] || owner[f] < 0 || owner[g] < 0 {
			continue
		}
		a, b := min(owner[f], owner[g]), max(owner[f], owner[g])
		if bands[a] != nil && bands[b] != nil && coaxial(m, bands[a], bands[b]) {
			lengths[[2]int{a, b}] += m.EdgeLength(mesh.EdgeID(e))
		}
	}
	var joints []joint
	for k, l := range lengths {
		lo, hi := min(bands[k[0]].lo, bands[k[1]].lo), max(bands[k[0]].hi, bands[k[1]].hi)
		joints = append(joints, joint{k[0], k[1], l, hi / lo})
	}
	slices.SortFunc(joints, func(x, y joint) int {
		return cmp.Or(cmp.Compare(math.Round(x.spread*1e6), math.Round(y.spread*1e6)), cmp.Compare(x.a, y.a), cmp.Compare(x.b, y.b))
	})
	root := make([]int, len(parts))
	for i := range root {
		root[i] = i
	}
	find := func(i int) int {
		for root[i] != i {
			i = root[i]
		}
		return i
	}
	for _, j := range joints {
		a, b := find(j.a), find(j.b)
		if a == b {
			continue
		}
		u := *bands[a]
		v := bands[b]
		u.lo, u.hi = min(u.lo, v.lo), max(u.hi, v.hi)
		// A joint must go all the way round, or the wall would be torn.
		if u.hi > u.lo*spread || j.length < 0.9*2*math.Pi*u.lo {
			continue
		}
		u.area += v.area
		root[max(a, b)] = min(a, b)
		u.part = min(a, b)
		bands[min(a, b)] = &u
	}
	byRoot := map[int][]int{}
	for i := range parts {
		byRoot[find(i)] = append(byRoot[find(i)], i)
	}
	var groups [][]int
	for i := range parts {
		if len(byRoot[i]) > 1 {
			groups = append(groups, byRoot[i])
		}
	}
	return unite(parts, groups, func(grp []int) (shape.Fit, float64) {
		b := bands[find(grp[0])]
		until := min(1-(b.hi/b.lo-1)/(radiusSpread-1)*(1-usual), 0.95)
		if main, ok := dominated(m, parts, grp); ok { // a wall with its bevels
			return parts[main].Fit, until
		}
		return shape.AsTurned(shape.Gather(m, unionFaces(parts, grp)), b.axis, b.origin), until
	})
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

// closesRound tells whether the faces are an open tube about the axis: two
// borders, each going round once, every normal in the plane of its radius.
func closesRound(m *mesh.Mesh, faces []mesh.FaceID, axis, origin r3.Vec) bool {
	n := m.FaceNormals()
	for _, f := range faces {
		d := r3.Sub(m.FaceCentre(f), origin)
		round := r3.Cross(axis, d)
		if l := r3.Norm(round); l == 0 || math.Abs(r3.Dot(n[f], round)) > 0.1*l {
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

// lendAxes makes bands of plane rings and closed strips beside a band.
func lendAxes(m *mesh.Mesh, parts []Part, owner []int, bands []*band, spread float64) {
	tried := map[[2]int]bool{}
	ridged := ridges(m, parts, bands)
	for changed := true; changed; {
		changed = false
		for e := range m.NumEdges() {
			f, g := m.EdgeFaces(mesh.EdgeID(e))
			if g == mesh.None || owner[f] < 0 || owner[g] < 0 {
				continue
			}
			for _, k := range [2][2]int{{owner[f], owner[g]}, {owner[g], owner[f]}} {
				from, to := k[0], k[1]
				if from == to || bands[from] == nil || bands[to] != nil || tried[k] {
					continue
				}
				tried[k] = true
				kind := parts[to].Fit.Kind
				if kind != shape.Plane && kind != shape.Free && kind != shape.Sphere || isPlate(parts[to].Fit, bands[from].axis) && !ridged[to] {
					continue
				}
				if b := newBand(m, to, parts[to], bands[from].axis, bands[from].origin); b != nil && b.hi < b.lo*spread {
					bands[to] = b
					changed = true
				}
			}
		}
	}
}

// ridges tells which flat rings square to an axis are the flanks of a groove or a ridge: a
// wall between two of them that both lead outward, or both inward. Any other such ring is a
// step, where one wall ends and another begins.
func ridges(m *mesh.Mesh, parts []Part, bands []*band) []bool {
	near, _ := neighbours(m, parts)
	out := make([]bool, len(parts))
	for i, w := range bands {
		if w == nil {
			continue
		}
		var flanks [2][]int // inward, outward
		for _, b := range near[i] {
			if bands[b.other] != nil || !isPlate(parts[b.other].Fit, w.axis) {
				continue
			}
			if r := newBand(m, b.other, parts[b.other], w.axis, w.origin); r != nil {
				if r.lo+r.hi > w.lo+w.hi {
					flanks[1] = append(flanks[1], b.other)
				} else {
					flanks[0] = append(flanks[0], b.other)
				}
			}
		}
		for _, both := range flanks {
			if len(both) == 2 {
				out[both[0]], out[both[1]] = true, true
			}
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
