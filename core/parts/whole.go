package parts

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// model is a mesh seen as facets, with what recognition keeps about it.
type model struct {
	mesh *mesh.Mesh
	list []facet
	tol  tolerance
	diag float64

	stamp []int32
	now   int32
	tried map[shape.Kind]map[int]bool // facets that were in a candidate of a kind, in the cover under way
}

// leastCone is the half angle below which a cone is a cylinder.
const leastCone = 0.05 * math.Pi / 180

// pointLimit bounds how many corners a fit looks at.
const pointLimit = 2000

// gather collects facets for a fit.
func (g *model) gather(set []int) shape.Faces { return g.gatherOn(set, &shape.Fit{}) }

// gatherOn collects facets for a fit again, without the corners that a cut left on the chords
// of what was fitted.
func (g *model) gatherOn(set []int, on *shape.Fit) shape.Faces {
	var s shape.Faces
	corners := 0
	for _, i := range set {
		corners += len(g.list[i].knots)
	}
	step, k := (corners+pointLimit-1)/pointLimit, 0
	s.Normals, s.Areas, s.Centres = make([]r3.Vec, 0, len(set)), make([]float64, 0, len(set)), make([]r3.Vec, 0, len(set))
	s.Points = make([]r3.Vec, 0, min(corners, pointLimit))
	for _, i := range set {
		f := &g.list[i]
		s.Normals = append(s.Normals, f.normal)
		s.Areas = append(s.Areas, f.area)
		s.Centres = append(s.Centres, f.centre)
		for c, p := range f.knots {
			if k%step == 0 && !g.onChord(on, i, c) {
				s.Points = append(s.Points, g.mesh.Points[p])
			}
			k++
		}
	}
	return s
}

// fits returns how a set of facets fits each kind it could be, simple kinds
// first; kinds that make no sense for it are left out.
func (g *model) fits(set []int, rough bool) []shape.Fit {
	s := g.gather(set)
	s.Rough = rough
	out := []shape.Fit{shape.FitPlane(s)}
	if len(set) < 3 {
		return out
	}
	axis, _ := shape.AcrossAxis(s)
	wall := shape.FitCylinder(s, axis)
	out = append(out, wall)
	if len(set) >= 4 {
		if cone, ok := coneOf(s); ok {
			out = append(out, cone)
		}
		out = append(out, shape.FitSphere(s))
	}
	turned := shape.FitTurned(s)
	if len(set) >= 6 && turned.Axis != (r3.Vec{}) {
		ring := shape.FitTorus(s, turned.Axis, turned.Origin)
		if len(set) > discFacets { // a piece of pipe is nearly turned about itself
			if axis, centre, ok := shape.BentAxis(s, wall); ok {
				if f := shape.FitTorus(s, axis, centre); f.Error < ring.Error {
					ring = f
				}
			}
		}
		out = append(out, ring)
	}
	out = append(out, shape.FitExtruded(s))
	if len(set) >= 6 {
		out = append(out, turned)
	}
	return out
}

// coneOf fits a cone; ok is false where that would be a wall or a plate.
func coneOf(s shape.Faces) (f shape.Fit, ok bool) {
	axis, h, _ := shape.ConeAxis(s)
	if h > math.Sin(leastCone) && h < math.Sin(math.Pi/2-leastCone) {
		return shape.FitCone(s, axis, h), true
	}
	return f, false
}

// whole returns the simplest shape that explains a set of facets altogether:
// closed forms tell which kinds are worth refining.
func (g *model) whole(set []int) (shape.Fit, bool) {
	for _, f := range g.fits(set, true) {
		if f.Kind == shape.Extruded && g.plates(set) || f.Kind == shape.Sphere && !g.hasInner(set) { // two rings lie on some ball whatever they are
			continue
		}
		if f, ok := g.confirm(f, set); ok {
			return f, true
		}
		if f.Kind == shape.Sphere {
			if f, ok := g.cutBall(set); ok {
				return f, true
			}
		}
	}
	return shape.Fit{}, false
}

// leastColumns is how many facets lie beside each other round the axis of a turned form at
// the least: a strip of one column is its own mirror image, so that its normals meet an axis
// whatever it is.
const leastColumns = 3

// columns counts the directions from an axis in which facets lie.
func (g *model) columns(set []int, f shape.Fit) (n int) {
	angle := angleAbout(f.Axis, f.Origin)
	at := make([]float64, len(set))
	for k, i := range set {
		at[k] = angle(g.list[i].centre)
	}
	slices.Sort(at)
	last := math.Inf(-1)
	for _, a := range at {
		if a-last > normalSlack {
			n++
		}
		last = a
	}
	return n
}

// fewPlates is how many large flats are still plates that meet at an angle rather than a
// profile, and platesShare the share of the area they have then.
const (
	fewPlates   = 6
	platesShare = 0.97
	besides     = 2 // so many smaller ones may be there
	plateBend   = 1 * math.Pi / 180
)

// plates tells whether facets are a few flats that meet at an angle, as the walls of a
// hopper do: each is a plane of its own before one direction explains them all.
func (g *model) plates(set []int) bool {
	var area float64
	for _, i := range set {
		area += g.list[i].area
	}
	order := slices.Clone(set)
	slices.SortFunc(order, func(a, b int) int { return cmp.Compare(g.list[b].area, g.list[a].area) })
	flat, n := 0.0, 0
	for n < len(order) && flat <= platesShare*area {
		flat += g.list[order[n]].area
		n++
	}
	if n > fewPlates || len(order)-n > besides {
		return false // the small ones may be the rounds between the large
	}
	for _, i := range order[:n] {
		for _, run := range g.opposite(i) { // three as wide as each other are a round
			if least, most := g.areas(run); most < 2*least {
				return false
			}
		}
		for _, s := range g.list[i].sides {
			if s.smooth && g.fold(i, s) < plateBend+2*(g.list[i].slack+g.list[s.other].slack) && slices.Contains(order[:n], s.other) {
				return false
			}
		}
	}
	return true
}

// fold is the angle, radians, by which a facet and another are folded about the side between them: what is twisted
// along it, as the flanks of helical teeth are, is not.
func (g *model) fold(i int, s side) float64 {
	return math.Abs(math.Asin(max(-1, min(1, r3.Dot(r3.Cross(g.list[i].normal, g.list[s.other].normal), mesh.Unit(s.dir))))))
}

// areas returns the least and the largest area of some facets.
func (g *model) areas(set []int) (least, most float64) {
	least = math.Inf(1)
	for _, i := range set {
		least, most = min(least, g.list[i].area), max(most, g.list[i].area)
	}
	return least, most
}

// discFacets is of how many facets the normals tell little of an axis: triangles in no rows lean any way.
const discFacets = 36

// confirm refines a fit that is worth it and tells whether it holds.
func (g *model) confirm(f shape.Fit, set []int) (shape.Fit, bool) {
	if f.HasDistance() && f.Kind != shape.Plane {
		rough := 0.005*f.Radius + 3*g.tol.noise
		if f.Kind == shape.Torus || len(set) <= discFacets { // their axis is not to be had in closed form
			rough = 0.15 * f.Radius
		}
		if !(f.Error < rough && f.Bend < 0.3) {
			return f, false
		}
		f = g.exact(set, f)
	}
	return f, g.holds(f, set)
}

// exact refines a fit on a set of facets.
func (g *model) exact(set []int, f shape.Fit) shape.Fit {
	s := g.gatherOn(set, &f)
	switch f.Kind {
	case shape.Cylinder:
		return shape.FitCylinder(s, f.Axis)
	case shape.Cone:
		return shape.FitCone(s, f.Axis, math.Sin(f.HalfAngle))
	case shape.Sphere:
		return shape.FitSphere(s)
	case shape.Torus:
		return shape.FitTorus(s, f.Axis, f.Origin)
	}
	return f
}

// holds tells whether a fit explains a set of facets: corners near it, and no
// more than a hundredth of the area leaning against it.
func (g *model) holds(f shape.Fit, set []int) bool {
	if math.IsInf(f.Error, 1) || math.IsNaN(f.Error) || math.IsNaN(f.Radius) {
		return false
	}
	if f.HasDistance() && f.Kind != shape.Plane {
		if f.Radius > g.diag || f.Error > g.tol.near(f)/1.75 {
			return false
		}
	}
	if f.Kind == shape.Torus && (f.Major < 0.3*f.Radius || f.Major > 2*g.diag || g.unlike(f, set)) {
		return false
	}
	if f.Kind == shape.Cylinder && len(set) == 3 && g.trapezoid(f, set) {
		return false
	}
	if f.Kind == shape.Plane && f.Error > g.tol.least+2*g.tol.noise {
		return false
	}
	if f.Kind == shape.Cone && f.HalfAngle < leastCone || f.Kind == shape.Turned && g.columns(set, f) < leastColumns {
		return false
	}
	var off, area, far float64
	limit := 0.01
	for _, i := range set {
		c := &g.list[i]
		leans := f.Deviation(c.centre, c.normal)
		lean := g.leaningOn(&f, i, leans)
		if !f.HasDistance() { // nothing else keeps these from leaking
			lean = normalSlack/2 + c.slack + 0.2*c.bend
			if f.Kind == shape.Extruded {
				lean = extrudedSpread + c.slack
			}
		}
		area += c.area
		if leans > lean || g.spans(f, i) {
			off += c.area
		}
	}
	if off > limit*area {
		return false
	}
	if f.HasDistance() && f.Kind != shape.Plane {
		for _, i := range set {
			far = max(far, g.worst(f, i))
		}
		return far <= 5*g.tol.near(f)
	}
	return true
}

// unevenRows is how much longer one of a few rows may be than another for them to be an arc.
const unevenRows = 1.3

// fewRows is how many rows of facets tell little of a ring: there is a circle through any three
// points, such as those of a cone and the pipe that it ends in, and one near many four.
const fewRows = 3

// unlike tells whether a ring is a few rows of facets that have little in common.
func (g *model) unlike(f shape.Fit, set []int) bool {
	angle := func(q r3.Vec) float64 { // round the tube
		d := r3.Sub(q, f.Origin)
		h := r3.Dot(d, f.Axis)
		return math.Atan2(h, r3.Norm(r3.Sub(d, r3.Scale(h, f.Axis)))-f.Major)
	}
	type row struct{ at, lo, hi float64 }
	rows := make([]row, len(set))
	for k, i := range set {
		rows[k].at = angle(g.list[i].centre)
		rows[k].lo, rows[k].hi = g.reach(angle, i, g.list[i].knots)
	}
	slices.SortFunc(rows, func(a, b row) int { return cmp.Or(cmp.Compare(b.hi-b.lo, a.hi-a.lo), cmp.Compare(a.at, b.at)) })
	var found []row // by their longest facets; what a cut has shortened lies in one
	for _, r := range rows {
		in := func(o row) bool {
			off := math.Remainder(r.at-o.at, 2*math.Pi)
			return off > o.lo && off < o.hi
		}
		if slices.ContainsFunc(found, in) {
			continue
		}
		if found = append(found, r); len(found) > fewRows {
			return false
		}
	}
	span := func(r row) float64 { return r.hi - r.lo }
	return len(found) > 1 && span(found[0]) > unevenRows*span(found[len(found)-1])
}

// trapezoid tells whether three facets about an axis are a flat between two bevels rather than a round:
// there is a circle through the corners of any such section.
func (g *model) trapezoid(f shape.Fit, set []int) bool {
	angle := angleAbout(f.Axis, f.Origin)
	wide := make([]float64, len(set))
	for k, i := range set {
		lo, hi := g.reach(angle, i, g.list[i].knots)
		wide[k] = hi - lo
	}
	slices.Sort(wide)
	return wide[2] > flatBetween*wide[1]
}

// flatBetween is how much wider than its bevels a flat is at the least.
const flatBetween = 3

// extrudedSpread is the lean up to which a profile counts as straight: a rod
// that bends a little is none.
const extrudedSpread = 0.3 * math.Pi / 180

// worst is the largest distance of the corners of a facet.
func (g *model) worst(f shape.Fit, i int) (far float64) {
	for k, p := range g.list[i].knots {
		if !g.onChord(&f, i, k) {
			far = max(far, math.Abs(f.Distance(g.mesh.Points[p])))
		}
	}
	return far
}

// owns tells whether a facet lies on a shape that is being grown.
func (g *model) owns(f shape.Fit, i int) bool {
	c := &g.list[i]
	switch f.Kind {
	case shape.Extruded:
		return f.Deviation(c.centre, c.normal) <= normalSlack/2+c.slack
	case shape.Turned:
		return f.Deviation(c.centre, c.normal) <= normalSlack/2+c.slack+0.2*c.bend && !g.spans(f, i)
	}
	off := f.Deviation(c.centre, c.normal)
	return off <= g.leaningOn(&f, i, off) && g.worst(f, i) <= g.tol.near(f) && !g.spans(f, i)
}

// spanned is how far the corners of a facet may turn from it on a round shape, in bends, in the mean; of one that has
// all its corners on the shape, in bends of its neighbours too, for at the rim of a cut one side may be all that bends.
const (
	spanned     = 0.75
	spannedThen = 1.2
)

// spans tells whether a facet reaches further round a shape than bends allow: the side of a square
// bar with rounded edges has its corners on a circle, but is flat.
func (g *model) spans(f shape.Fit, i int) bool {
	c := &g.list[i]
	if f.Kind != shape.Cylinder && f.Kind != shape.Cone && f.Kind != shape.Turned || c.bend == 0 {
		return false
	}
	var sum float64
	n := 0
	for _, p := range c.knots {
		if q := g.mesh.Points[p]; axisDistance(q, f.Axis, f.Origin) > g.tol.least { // the tip of a cone faces every way
			sum += f.Deviation(q, c.normal)
			n++
		}
	}
	mean := sum/float64(max(n, 1)) - halfDegree - c.slack
	most := spanned * c.bend
	if mean > most && f.Kind != shape.Turned && len(c.knots) <= 4 && len(c.faces) <= 2 && g.inscribed(&f, i) {
		bend := c.bend
		for _, s := range c.sides {
			if s.smooth {
				bend = max(bend, g.list[s.other].bend)
			}
		}
		most = spannedThen * bend
	}
	return mean > most
}

func (g *model) faces(set []int) (out []mesh.FaceID) {
	for _, i := range set {
		out = append(out, g.list[i].faces...)
	}
	return out
}
