package parts

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/shape"
)

// surface is the rule a region of flats obeys: all its normals keep one angle
// to an axis. At a right angle that is a cylinder or an extrusion, otherwise a
// cone.
type surface struct {
	axis   r3.Vec
	height float64 // n·axis
	sharp  bool    // may run over creases, as the teeth of a gear do
}

const (
	normalSlack = 1.2 * math.Pi / 180
	barelyBent  = 1.5 * math.Pi / 180
	gearFlats   = 12 // an extrusion over creases needs that many flats to be one thing
)

func (s surface) holds(n r3.Vec) bool {
	return math.Abs(math.Asin(clamp(r3.Dot(n, s.axis)))-math.Asin(clamp(s.height))) <= normalSlack
}

func clamp(x float64) float64 { return max(-1, min(1, x)) }

// region is a candidate part.
type region struct {
	rule  surface
	flats []int
	area  float64
	kind  shape.Kind
}

type grower struct {
	list  []flat
	stamp []int32
	now   int32
}

// grow collects the flats reachable from seed that obey the rule and are not taken.
func (g *grower) grow(seed int, rule surface, taken []bool) region {
	g.now++
	r := region{rule: rule}
	g.stamp[seed] = g.now
	queue := []int{seed}
	for len(queue) > 0 {
		i := queue[0]
		queue = queue[1:]
		r.flats = append(r.flats, i)
		r.area += g.list[i].area
		for _, s := range g.list[i].sides {
			if g.stamp[s.other] == g.now || taken[s.other] || !(s.smooth || rule.sharp) {
				continue
			}
			if rule.holds(g.list[s.other].normal) {
				g.stamp[s.other] = g.now
				queue = append(queue, s.other)
			}
		}
	}
	return r
}

// growRefined grows, takes the axis of what was found, and grows again.
func (g *grower) growRefined(seed int, rule surface, taken []bool) region {
	r := g.grow(seed, rule, taken)
	if len(r.flats) < 3 {
		return r
	}
	s := g.normals(r.flats)
	next := rule
	if rule.height == 0 {
		next.axis, _ = shape.AcrossAxis(s)
	} else {
		next.axis, next.height, _ = shape.ConeAxis(s)
	}
	if !next.holds(g.list[seed].normal) {
		return r
	}
	return g.grow(seed, next, taken)
}

func (g *grower) normals(flats []int) shape.Faces {
	var s shape.Faces
	for _, i := range flats {
		s.Normals = append(s.Normals, g.list[i].normal)
		s.Areas = append(s.Areas, g.list[i].area)
	}
	return s
}

// slice tells whether a region is a slice of something larger rather than a
// thing of its own: either much of its border lies on a smooth run of facets of
// like size, where a modeler would not stop, or many of its flats bend on
// smoothly outside the region for longer than inside it.
func (g *grower) slice(flats []int) bool {
	g.now++
	for _, i := range flats {
		g.stamp[i] = g.now
	}
	var odd, border, loose, area float64
	for _, i := range flats {
		var inside, outside float64
		for _, s := range g.list[i].sides {
			in := g.stamp[s.other] == g.now
			if s.smooth && in {
				inside += s.length
			} else if s.smooth {
				outside += s.length
			}
			if in {
				continue
			}
			border += s.length
			if s.smooth && (s.extent < 2.5*g.list[s.other].area/s.length || s.bend < barelyBent) {
				odd += s.length
			}
		}
		area += g.list[i].area
		if len(flats) > 1 && outside > inside {
			loose += g.list[i].area
		}
	}
	return odd > 0.4*border || loose > 0.3*area
}

// candidates returns every region worth considering, each adjacency tried once
// for each kind of rule.
func (g *grower) candidates(progress func(done, of int) error) ([]region, error) {
	free := make([]bool, len(g.list))
	covered := map[[3]int]bool{}
	var out []region
	consider := func(r region) {
		if !g.slice(r.flats) {
			out = append(out, r)
		}
	}
	cover := func(r region, kind int) {
		g.now++
		for _, i := range r.flats {
			g.stamp[i] = g.now
		}
		for _, i := range r.flats {
			for _, s := range g.list[i].sides {
				if g.stamp[s.other] == g.now {
					covered[[3]int{i, s.other, kind}] = true
				}
			}
		}
	}
	for i := range g.list {
		if i&0xff == 0 {
			if err := progress(i, len(g.list)); err != nil {
				return nil, err
			}
		}
		f := &g.list[i]
		consider(region{flats: []int{i}, area: f.area, kind: shape.Plane})
		for _, s := range f.sides {
			o := &g.list[s.other]
			if s.other < i || s.bend < flatAngle/4 || f.area == 0 || o.area == 0 {
				continue
			}
			axis := r3.Cross(f.normal, o.normal)
			if s.bend < halfDegree {
				axis = s.dir
			}
			axis = r3.Unit(axis)
			for kind, sharp := range []bool{false, true} {
				if covered[[3]int{i, s.other, kind}] || !s.smooth && !sharp {
					continue
				}
				r := g.growRefined(i, surface{axis: axis, sharp: sharp}, free)
				cover(r, kind)
				if len(r.flats) >= 3 && !sharp || sharp && len(r.flats) >= gearFlats && g.toothed(r) {
					r.kind = shape.Extruded
					consider(r)
				}
			}
		}
		for _, rule := range g.coneRules(i) {
			if covered[[3]int{i, rule.via, 2}] {
				continue
			}
			r := g.growRefined(i, rule.surface, free)
			cover(r, 2)
			if len(r.flats) >= 5 {
				r.kind = shape.Cone
				consider(r)
			}
		}
	}
	return out, nil
}

// toothed tells whether an extrusion over creases is one thing with a profile
// (a gear, a rack) rather than a box: narrow flats, none of them dominant, and
// real creases between them.
func (g *grower) toothed(r region) bool {
	var largest float64
	creases := 0
	for _, i := range r.flats {
		largest = max(largest, g.list[i].area)
		for _, s := range g.list[i].sides {
			if !s.smooth && slices.Contains(r.flats, s.other) {
				creases++
			}
		}
	}
	return largest < r.area/6 && creases >= len(r.flats)/2
}

type coneRule struct {
	surface
	via int
}

// coneRules proposes cones from a flat and two neighbours on opposite sides.
func (g *grower) coneRules(i int) []coneRule {
	var out []coneRule
	f := &g.list[i]
	for a, s := range f.sides {
		if !s.smooth || s.bend < flatAngle {
			continue
		}
		for _, t := range f.sides[a+1:] {
			if !t.smooth || t.bend < flatAngle || s.convex != t.convex {
				continue
			}
			n0, n1, n2 := g.list[s.other].normal, f.normal, g.list[t.other].normal
			axis := r3.Cross(r3.Sub(n1, n0), r3.Sub(n2, n1))
			l := r3.Norm(axis)
			if l < 1e-9 {
				continue
			}
			axis = r3.Scale(1/l, axis)
			h := r3.Dot(axis, n1)
			if h < 0 {
				axis, h = r3.Scale(-1, axis), -h
			}
			if h < math.Sin(1.5*math.Pi/180) || h > math.Sin(88*math.Pi/180) {
				continue
			}
			out = append(out, coneRule{surface{axis: axis, height: h}, s.other})
		}
	}
	return out
}
