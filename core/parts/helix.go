package parts

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// What winds about an axis at one pitch, threads, coils, twisted bars, is one shape however
// far it goes round. Strips of a thread that lie on a cylinder or a cone slip along more
// motions than that of the thread; they are taken for what their neighbours are.

const (
	leastTurn    = 0.45                // turns it must wind for a pitch to be believed
	leastPitch   = 0.05                // of its radius, where it winds less than once
	leastAdvance = 0.2                 // of its pitch that it must be long
	helixLean    = 4 * math.Pi / 180   // of normals along the motion, facets aside
	helixBend    = 2.5 * math.Pi / 180 // root mean square of that
	helixStray   = 0.02                // share of the area that may lean more
	screwBend    = 0.3                 // of what is turned, bend from which it rather winds
)

// winding tells whether facets wind about an axis at one pitch; at next to none they are turned,
// at a very long one drawn out.
func (g *model) winding(set []int) (shape.Fit, bool) {
	if len(set) < shape.Helix.Traits().Least {
		return shape.Fit{}, false
	}
	f := shape.FitHelix(g.gather(set))
	if math.IsInf(f.Error, 1) || f.Radius > g.diag {
		return f, false
	}
	turns := g.follows(set, f)
	if turns < leastTurn {
		return f, false
	}
	if hardly(f, turns) {
		return shape.AsTurned(g.gather(set), f.Axis, f.Origin), true
	}
	if !g.advances(set, f) {
		f = shape.FitExtruded(g.gather(set))
		return f, f.Bend <= helixBend
	}
	f.Pitch *= g.flattened(set, f)
	if t, ok := tube(g.mesh, g.faces(set)); ok { // a coil
		f.Spine, f.Radius = t.Spine, t.Radius
		for _, p := range t.Spine {
			rho, _ := shape.Meridian(p, f.Axis, f.Origin)
			f.Major += rho / float64(len(t.Spine))
		}
	}
	return f, true
}

// flattened is how much longer the pitch of a screw is than its facets tell: the chord of a
// facet of angle d runs level with the helix, but in its middle the surface is nearer to the
// axis, by which a motion of pitch p looks like one of p·(d/2)/tan(d/2).
func (g *model) flattened(set []int, f shape.Fit) float64 {
	angle := angleAbout(f.Axis, f.Origin)
	var sum, area float64
	for _, i := range set {
		c := &g.list[i]
		var points []mesh.PointID
		for _, face := range c.faces {
			points = append(points, g.mesh.FacePoints(face)...)
		}
		lo, hi := g.reach(angle, i, points)
		if half := (hi - lo) / 2; half > 1e-6 && half < 1 {
			sum += c.area * math.Tan(half) / half
			area += c.area
		}
	}
	if area == 0 {
		return 1
	}
	return sum / area
}

// winds tells whether facets follow the motion of a helix, far enough round and along.
func (g *model) winds(set []int, f shape.Fit) bool {
	turns := g.follows(set, f)
	return turns >= leastTurn && !hardly(f, turns) && g.advances(set, f)
}

// follows is how often facets go round that follow the motion of a helix, 0 where they do not.
func (g *model) follows(set []int, f shape.Fit) (turns float64) {
	var off, area, bend float64
	for _, i := range set {
		c := &g.list[i]
		d := f.Deviation(c.centre, c.normal)
		area += c.area
		bend += c.area * d * d
		if d > helixLean+c.slack {
			off += c.area
		}
	}
	if off > helixStray*area || bend > helixBend*helixBend*area {
		return 0
	}
	return math.Abs(g.turn(set, f)) / (2 * math.Pi)
}

// hardly tells whether a pitch is too little to be told from none: a rim that is only a bit askew.
func hardly(f shape.Fit, turns float64) bool {
	return turns < 1 && math.Abs(f.Pitch) < leastPitch*f.Radius
}

// advances tells whether facets go on along the axis by enough of the pitch to be told from what is drawn out
// along it, and wide rather than winding.
func (g *model) advances(set []int, f shape.Fit) bool {
	lo, hi := math.Inf(1), math.Inf(-1)
	for _, i := range set {
		for _, face := range g.list[i].faces {
			for _, p := range g.mesh.FacePoints(face) {
				z := r3.Dot(f.Axis, g.mesh.Points[p])
				lo, hi = min(lo, z), max(hi, z)
			}
		}
	}
	return hi-lo >= leastAdvance*math.Abs(f.Pitch)
}

// turn is how far facets go round the axis of a helix, in radians, counted on from facet to
// facet; 0 where the count depends on the way, as on a ring.
func (g *model) turn(set []int, f shape.Fit) float64 {
	about := angleAbout(f.Axis, f.Origin)
	angle := func(i int) float64 { return about(g.list[i].centre) }
	at := make(map[int]float64, len(set))
	for _, i := range set {
		at[i] = math.NaN()
	}
	at[set[0]] = angle(set[0])
	lo, hi := at[set[0]], at[set[0]]
	for todo := []int{set[0]}; len(todo) > 0; {
		i := todo[0]
		todo = todo[1:]
		for _, s := range g.list[i].sides {
			was, in := at[s.other]
			if !in || !s.smooth {
				continue
			}
			a := angle(s.other)
			a += 2 * math.Pi * math.Round((at[i]-a)/(2*math.Pi))
			if math.IsNaN(was) {
				at[s.other] = a
				lo, hi = min(lo, a), max(hi, a)
				todo = append(todo, s.other)
			} else if math.Abs(was-a) > math.Pi {
				return 0
			}
		}
	}
	return hi - lo
}

// followThreads makes threads of what lies beside one and winds as it does.
func (g *model) followThreads(parts []Part) []Part {
	owner := map[mesh.FaceID]int{}
	var queue []int
	for i, p := range parts {
		for _, f := range p.Faces {
			owner[f] = i
		}
		if p.Fit.Kind == shape.Helix && !p.Fit.Bent() {
			queue = append(queue, i)
		}
	}
	if len(queue) == 0 {
		return parts
	}
	facetsOf := map[int][]int{}
	for k := range g.list {
		if i, ok := owner[g.list[k].faces[0]]; ok {
			facetsOf[i] = append(facetsOf[i], k)
		}
	}
	for ; len(queue) > 0; queue = queue[1:] {
		fit := parts[queue[0]].Fit
		for _, k := range facetsOf[queue[0]] {
			for _, s := range g.list[k].sides {
				i := owner[g.list[s.other].faces[0]]
				if parts[i].Fit.Kind == shape.Helix || len(facetsOf[i]) < shape.Helix.Traits().Least || !g.winds(facetsOf[i], fit) {
					continue
				}
				if p := mesh.NewPatch(g.mesh, parts[i].Faces, func(mesh.EdgeID) bool { return false }); !p.IsDisk() {
					continue // a shank goes all round
				}
				own := fit
				own.Radius = 0
				for _, f := range parts[i].Faces {
					for _, p := range g.mesh.FacePoints(f) {
						rho, _ := shape.Meridian(g.mesh.Points[p], fit.Axis, fit.Origin)
						own.Radius = max(own.Radius, rho)
					}
				}
				parts[i].Fit, parts[i].Pieces = own, nil
				queue = append(queue, i)
			}
		}
	}
	return parts
}
