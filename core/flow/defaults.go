package flow

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/shape"
)

// DefaultGrain chooses a grain from the shape: around a wall if it is longer that way and
// along it otherwise, on an extrusion as its flats or its blank are long, along bars and
// pipes, on a plate along its prevailing long edges or the way it is long. Cones and turned
// parts that bulge, unless they are long and slender, and domes fan out on the sheet, so they have none unless
// somebody asks for it, as free shapes do; rings and bent bars have that of their spine, which their
// straights can lie along.
func DefaultGrain(m *mesh.Mesh, faces []mesh.FaceID, fit shape.Fit) Grain {
	switch fit.Kind.Traits().Grain {
	case shape.ByProfile:
		if upright(m, faces, fit) {
			return LoopGrain(m, faces, fit)
		}
		if long, round := wallSize(m, faces, fit.Axis); long > slenderForm*round {
			g, _ := AxisGrain(fit, Along)
			return g
		}
		return Grain{} // fans out like a cone, or bulges
	case shape.ByLoops:
		return LoopGrain(m, faces, fit)
	case shape.ByFlats:
		if g, ok := bandGrain(m, faces); ok {
			return g
		}
		g, _ := AxisGrain(fit, extrusionMode(m, faces, fit.Axis))
		return g
	case shape.ByRim:
		if d, ok := prevailing(m, faces, fit.Axis); ok {
			return Grain{Mode: Toward, Axis: d}
		}
	case shape.ByTaper:
		if tapers(m, faces, fit) {
			return Grain{Mode: Along, Axis: fit.Axis, Origin: fit.Origin}
		}
	case shape.AlongSpine:
		g, _ := AxisGrain(fit, Along)
		return g
	case shape.ByWalls:
		if fit.Mostly == shape.Plane {
			if d, ok := prevailing(m, faces, fit.Axis); ok {
				return Grain{Mode: Toward, Axis: d}
			}
		}
		if g, ok := wallsGrain(m, faces); ok {
			return g
		}
		if fit.Axis != (r3.Vec{}) { // a wall that leans all round, or a ring of narrow flanks
			if mode := extrusionMode(m, faces, fit.Axis); mode == Around || fan(m, faces, fit.Axis) < mostFan {
				return Grain{Mode: mode, Axis: fit.Axis, Origin: fit.Origin}
			}
		}
	}
	return Grain{}
}

// AxisGrain is the grain along the axis of a shape, or around it: along the spine of a
// swept part, along the tube of a torus, along a thread; ok is false for shapes without an axis.
func AxisGrain(fit shape.Fit, mode Mode) (g Grain, ok bool) {
	g = Grain{Mode: mode, Axis: fit.Axis, Origin: fit.Origin}
	switch axis := fit.Kind.Traits().Axis; {
	case fit.Bent():
		g.Path = fit.Spine
		g.Axis = unit(r3.Sub(fit.Spine[len(fit.Spine)-1], fit.Spine[0]))
		return g, true
	case axis.Goes():
		return g, true
	case axis == shape.Screw:
		g.Pitch = fit.Pitch
		return g, true
	case axis == shape.Ring: // its axis is across its tube
		if g.Mode = Along; mode == Along {
			g.Mode = Around
		}
		return g, true
	}
	return Grain{}, false
}

// LoopGrain is the grain along the longest loops of a part: on a wall along or around its
// axis, whichever its edges make longer, on anything else the direction in space most
// edge length runs in; none where there is none.
func LoopGrain(m *mesh.Mesh, faces []mesh.FaceID, fit shape.Fit) Grain {
	mode := Along
	if !fit.Kind.Traits().Tube {
		if long, round := wallSize(m, faces, fit.Axis); round >= long {
			mode = Around
		}
	}
	if g, ok := AxisGrain(fit, mode); ok {
		return g
	}
	n := r3.Vec{}
	for _, f := range faces {
		n = r3.Add(n, r3.Scale(m.FaceAreas()[f], m.FaceNormals()[f]))
	}
	if d, ok := prevailing(m, faces, n); ok {
		return Grain{Mode: Toward, Axis: d}
	}
	return Grain{}
}

// Balanced tells whether a round wall is about as long around as along, so that its
// default grain may as well follow its neighbours'.
func Balanced(m *mesh.Mesh, faces []mesh.FaceID, fit shape.Fit) bool {
	if len(faces) == 0 || fit.Kind != shape.Cylinder && (fit.Kind != shape.Turned || !upright(m, faces, fit)) {
		return false
	}
	long, round := wallSize(m, faces, fit.Axis)
	return max(long, round) <= balance*min(long, round)
}

// upright tells whether a turned part is near enough to a cylinder to be laid
// straight: most of it, chamfers aside, about as far from the axis as its middle.
func upright(m *mesh.Mesh, faces []mesh.FaceID, fit shape.Fit) bool {
	type ring struct{ lo, hi, area float64 }
	var rings []ring
	var total float64
	for _, f := range faces {
		r := ring{math.Inf(1), 0, m.FaceAreas()[f]}
		for _, p := range m.FacePoints(f) {
			d := r3.Sub(m.Points[p], fit.Origin)
			t := r3.Dot(d, fit.Axis)
			rho := math.Sqrt(max(0, r3.Norm2(d)-t*t))
			r.lo, r.hi = min(r.lo, rho), max(r.hi, rho)
		}
		rings = append(rings, r)
		total += r.area
	}
	slices.SortFunc(rings, func(a, b ring) int { return cmp.Compare(a.lo+a.hi, b.lo+b.hi) })
	at, below := 0, 0.0
	for ; below+rings[at].area < total/2; at++ {
		below += rings[at].area
	}
	most := math.Sqrt(1.2)
	radius := (rings[at].lo + rings[at].hi) / 2
	var off float64
	for _, r := range rings {
		if r.lo*most < radius || r.hi > most*radius {
			off += r.area
		}
	}
	const chamfers = 0.35
	return off <= chamfers*total
}

// wallSize returns the length of a wall along its axis and around it.
func wallSize(m *mesh.Mesh, faces []mesh.FaceID, axis r3.Vec) (long, round float64) {
	lo, hi := math.Inf(1), math.Inf(-1)
	var area float64
	for _, f := range faces {
		area += m.FaceAreas()[f]
		for _, p := range m.FacePoints(f) {
			t := r3.Dot(m.Points[p], axis)
			lo, hi = min(lo, t), max(hi, t)
		}
	}
	long = hi - lo
	if long <= 1e-6*math.Sqrt(area) {
		return 0, 1
	}
	return long, area / long
}

// slenderForm is how much longer than around a turned part is that has a grain along it whatever its profile: a
// baluster, a table leg.
const slenderForm = 2

// mostFan is the angle over which a cone may fan out on the sheet to have a grain along it.
const mostFan = 30 * math.Pi / 180

// fan is the angle over which a ring about an axis fans out on the sheet: that of a cone as steep, radians. What leans to
// both sides, as the flanks of helical teeth do, fans out as little as it leans in the mean.
func fan(m *mesh.Mesh, faces []mesh.FaceID, axis r3.Vec) float64 {
	var lean, area float64
	for _, f := range faces {
		lean += m.FaceAreas()[f] * r3.Dot(m.FaceNormals()[f], axis)
		area += m.FaceAreas()[f]
	}
	return 2 * math.Pi * math.Abs(lean) / area
}

// tapers tells whether a cone is clearly longer than around and hardly fans out: a leg, not
// a funnel.
func tapers(m *mesh.Mesh, faces []mesh.FaceID, fit shape.Fit) bool {
	long, round := wallSize(m, faces, fit.Axis)
	return long > balance*round && 2*math.Pi*math.Sin(math.Abs(fit.HalfAngle)) < mostFan
}

// clearShare is the share of all edge length from which its direction leaves no doubt.
const clearShare = 0.6

// ways is how much edge length runs a way, within 3°, and across it.
type ways struct {
	all float64    // weighted, of all edges
	rim [4]float64 // of the rim: along, across, and back
}

func waysOf(edges []weighted, angle float64) (w ways) {
	near := math.Sin(3 * math.Pi / 180)
	s, c := math.Sincos(angle)
	for _, e := range edges {
		l := r2.Norm(e.d)
		if l == 0 {
			continue
		}
		x, y := (c*e.d.X+s*e.d.Y)/l, (-s*e.d.X+c*e.d.Y)/l
		k := 0
		switch {
		case math.Abs(y) < near:
		case math.Abs(x) < near:
			k, x = 1, y
		default:
			continue
		}
		if x < 0 {
			k += 2
		}
		w.all += e.weight * l
		if e.weight == 1 {
			w.rim[k] += l
		}
	}
	return w
}

// pairedAngle returns, of a direction and those of the long edges of a rim, the one in which
// most length runs, sides that face each other counting more: a tall trapezoid lies on its
// base, not on a flank.
func pairedAngle(edges []weighted, angle float64) float64 {
	rate := func(angle float64) float64 {
		w := waysOf(edges, angle)
		return w.all + 2*min(w.rim[0], w.rim[2]) + 2*min(w.rim[1], w.rim[3])
	}
	long := slices.Clone(edges)
	slices.SortStableFunc(long, func(a, b weighted) int {
		return cmp.Compare(float32(r2.Norm(b.d)*b.weight), float32(r2.Norm(a.d)*a.weight))
	})
	best := 1.1 * rate(angle) // clearly more
	for _, e := range long[:min(16, len(long))] {
		other := math.Atan2(e.d.Y, e.d.X)
		if r := rate(other); r > best*(1+1e-6) {
			best, angle = r, other
		}
	}
	return angle
}

// A blank that fits a plate so much more tightly tells its way, whatever its steps and teeth say, if so much of its rim
// runs along it.
const (
	tightBlank = 0.6
	leastBlank = 0.15
)

// blankAngle returns, of a direction and those in which enough of the rim runs, that of the tightest box, where it is
// clearly tighter: the string of a stair runs aslant.
func blankAngle(m *mesh.Mesh, faces []mesh.FaceID, u, v r3.Vec, edges []weighted, angle float64) float64 {
	box := func(angle float64) float64 {
		along, across := basisAt(u, v, angle)
		size := boxOf(m, faces, along, across)
		return size.X * size.Y
	}
	var rim []Direction
	var around float64
	for _, e := range edges {
		if e.weight == 1 {
			rim = append(rim, Direction{math.Atan2(e.d.Y, e.d.X), r2.Norm(e.d)})
			around += r2.Norm(e.d)
		}
	}
	least := tightBlank * box(angle)
	for {
		other, _ := Prevailing(rim, math.Pi)
		var on float64
		rim = slices.DeleteFunc(rim, func(d Direction) bool {
			off := math.Abs(math.Remainder(d.Angle-other, math.Pi)) < 3*math.Pi/180
			if off {
				on += d.Weight
			}
			return off
		})
		if on == 0 || on < leastBlank*around {
			return angle
		}
		if b := box(other); b < least*(1-1e-6) {
			least, angle = b, other
		}
	}
}

// basisAt is a basis of a plane turned by an angle.
func basisAt(u, v r3.Vec, angle float64) (along, across r3.Vec) {
	s, c := math.Sincos(angle)
	return r3.Add(r3.Scale(c, u), r3.Scale(s, v)), r3.Add(r3.Scale(-s, u), r3.Scale(c, v))
}

// hardly is the share of its rim that may run across for the way of the rim to decide,
// whatever the box of a plate: a tall trapezoid still lies on its base.
const hardly = 0.03

// prevailing returns the direction in space in which most edge length of a
// plate runs, the longer way of the plate if both ways across are alike.
func prevailing(m *mesh.Mesh, faces []mesh.FaceID, n r3.Vec) (r3.Vec, bool) {
	u, v := mesh.Basis(n)
	var edges []weighted
	inside := ids.Set(faces)
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			d := m.EdgeVec(h)
			w := weighted{r2.Vec{X: r3.Dot(d, u), Y: r3.Dot(d, v)}, 1}
			if t := m.Twin(h); t != mesh.None && inside[m.FaceOf(t)] {
				w.weight = 0.1 // inner edges come twice and say less than the rim
			}
			edges = append(edges, w)
		}
	}
	angle, share := prevailingAngle(edges)
	if share < 0.25 {
		return longWay(m, faces, u, v)
	}
	if share < clearShare {
		angle = pairedAngle(edges, angle)
	}
	angle = blankAngle(m, faces, u, v, edges, angle)
	rim := waysOf(edges, angle).rim
	along, across := rim[0]+rim[2], rim[1]+rim[3]
	one, two := basisAt(u, v, angle)
	size := boxOf(m, faces, one, two)
	turned := size.Y > size.X
	if math.Abs(size.X-size.Y) < asBroad*size.X { // as broad as long: as its rim runs, or the model stands
		turned = across > along
		if math.Abs(across-along) < 0.1*along {
			turned = level(two) > level(one)+1e-6
		}
	}
	if min(along, across) < hardly*max(along, across) {
		turned = across > along
	}
	if turned {
		return two, true
	}
	return one, true
}

// longWay returns the way in which a plate is long, u and v being a basis of its plane: that of
// its largest second moment. ok is false if it is hardly longer than wide.
func longWay(m *mesh.Mesh, faces []mesh.FaceID, u, v r3.Vec) (way r3.Vec, ok bool) {
	tris, origin := m.Triangles(), m.Points[m.FacePoints(faces[0])[0]]
	var area, sx, sy, sxx, sxy, syy float64
	for _, f := range faces {
		for t := tris.FaceStart[f]; t < tris.FaceStart[f+1]; t++ {
			var q [4]r2.Vec // exact for a triangle: its corners and thrice its middle
			var at [3]r3.Vec
			for k, h := range tris.Corner[t] {
				at[k] = r3.Sub(m.Points[m.From(h)], origin)
				q[k] = r2.Vec{X: r3.Dot(at[k], u), Y: r3.Dot(at[k], v)}
				q[3] = r2.Add(q[3], q[k])
			}
			w := mesh.TriangleArea(at[0], at[1], at[2])
			area, sx, sy = area+w, sx+w/3*q[3].X, sy+w/3*q[3].Y
			for _, p := range q {
				sxx, sxy, syy = sxx+w/12*p.X*p.X, sxy+w/12*p.X*p.Y, syy+w/12*p.Y*p.Y
			}
		}
	}
	if area == 0 {
		return r3.Vec{}, false
	}
	sxx, sxy, syy = sxx-sx*sx/area, sxy-sx*sy/area, syy-sy*sy/area
	mean, off := (sxx+syy)/2, math.Hypot((sxx-syy)/2, sxy)
	way, across := basisAt(u, v, math.Atan2(2*sxy, sxx-syy)/2)
	size := boxOf(m, faces, way, across)
	return way, mean+off > balance*balance*(mean-off) && area > leastFill*size.X*size.Y
}

// leastFill is the share of its box that a plate fills whose length is its way; a crescent has none.
const leastFill = 0.6

// boxOf is the size of the box of some faces along two axes.
func boxOf(m *mesh.Mesh, faces []mesh.FaceID, one, two r3.Vec) r2.Vec {
	lo, hi := r2.Vec{X: math.Inf(1), Y: math.Inf(1)}, r2.Vec{X: math.Inf(-1), Y: math.Inf(-1)}
	for _, f := range faces {
		for _, p := range m.FacePoints(f) {
			q := r2.Vec{X: r3.Dot(m.Points[p], one), Y: r3.Dot(m.Points[p], two)}
			lo = r2.Vec{X: min(lo.X, q.X), Y: min(lo.Y, q.Y)}
			hi = r2.Vec{X: max(hi.X, q.X), Y: max(hi.Y, q.Y)}
		}
	}
	return r2.Sub(hi, lo)
}

// asBroad is the difference of the sides of a box, as a share, up to which it is a square.
const asBroad = 0.002

// level rates a direction for what is as broad as long: across before to the back before up.
func level(d r3.Vec) float64 { return math.Abs(d.X) + 0.5*math.Abs(d.Z) }
