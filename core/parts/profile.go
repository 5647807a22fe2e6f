package parts

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/ids"
	"morvek/core/shape"
)

// sphereNear is how far off the axis, as a share of its radius, the centre of an arc may
// be that is a dome.
const sphereNear = 2e-3

// leastTaper is the half angle below which a row of a turned form is a cylinder: with the axis
// given, noise makes cones of these more easily than of what is fitted freely.
const leastTaper = 0.2 * math.Pi / 180

// fromAxis returns how to propose what a facet of a turned form may belong to, with the
// axis held: a straight run of the profile from the facet alone, an arc from the facet and
// one that it bends over into along the profile.
func (g *model) fromAxis(axis, origin r3.Vec) func(int, func(int) bool) []region {
	straight := func(set []int, f shape.Fit) (shape.Fit, bool) {
		return shape.Straight(g.gatherOn(set, &f), axis, origin, leastTaper), true
	}
	arc := func(set []int, f shape.Fit) (shape.Fit, bool) {
		f = shape.Arc(g.gatherOn(set, &f), axis, origin, sphereNear)
		return f, !math.IsInf(f.Error, 1)
	}
	row := func(i int) []int { return []int{i} }
	if g.noisy() {
		row = func(i int) []int { return g.row(i, axis, origin) }
	}
	tried := map[bool]map[int]bool{false: {}, true: {}} // facets that were in a straight run, and in an arc
	try := func(start []int, f shape.Fit, free func(int) bool, round bool, refit func([]int, shape.Fit) (shape.Fit, bool)) (region, bool) {
		r, ok := g.growBy(start, f, free, refit)
		if ok && g.noisy() {
			r = g.byRows(r, axis, origin, free)
		}
		for _, k := range r.set {
			tried[round][k] = true
		}
		return r, ok
	}
	return func(i int, free func(int) bool) (out []region) {
		mine := row(i)
		if f, _ := straight(mine, shape.Fit{}); !tried[false][i] && f.Kind != shape.Plane && g.holds(f, mine) {
			if r, ok := try(mine, f, free, false, straight); ok {
				out = append(out, r)
			}
		}
		if tried[true][i] {
			return out
		}
		var best region
		for _, s := range g.list[i].sides {
			if !s.smooth || g.list[s.other].area == 0 || !free(s.other) || !g.isRow(axis, origin, i, s) {
				continue // a side between two facets of one row runs along the profile
			}
			start := append(row(s.other), mine...)
			slices.Sort(start)
			start = slices.Compact(start)
			f, ok := arc(start, shape.Fit{})
			if !ok || !g.holds(f, start) {
				continue
			}
			if r, ok := try(start, f, free, true, arc); ok && r.area > best.area && g.rows(r.set, axis, origin) >= leastRows {
				best = r
			}
		}
		if best.area > 0 {
			out = append(out, best)
		}
		return out
	}
}

// noisy is the noise, as a share of the diagonal, from which one facet tells little of a
// profile, but the row round the axis that it is in does.
const noisy = 1e-7

// leastRow is how many facets of a row tell that one of them has strayed.
const leastRow = 8

func (g *model) noisy() bool { return g.tol.noise > noisy*g.diag }

// byRows is a region about an axis that has each row of facets as a whole or not at all, as most of it
// says: single ones go over into what is beside them by noise alone.
func (g *model) byRows(r region, axis, origin r3.Vec, free func(int) bool) region {
	in, seen := ids.Set(r.set), map[int]bool{}
	var out []int
	look := func(i int) {
		if seen[i] {
			return
		}
		row := slices.DeleteFunc(g.row(i, axis, origin), func(k int) bool {
			return seen[k] || !in[k] && !(free(k) && g.worst(r.fit, k) <= strayNoise*g.tol.noise)
		})
		n := 0
		for _, k := range row {
			seen[k] = true
			if in[k] {
				n++
			}
		}
		switch {
		case 2*n > len(row):
			out = append(out, row...)
		case 4*n > len(row) || len(row) < leastRow:
			out = append(out, slices.DeleteFunc(row, func(k int) bool { return !in[k] })...)
		}
	}
	for _, i := range r.set {
		look(i)
	}
	if len(out) < r.fit.Kind.Traits().Least {
		return r
	}
	slices.Sort(out)
	return g.region(out, r.fit)
}

// row returns the facets that lie round an axis at the place of one.
func (g *model) row(i int, axis, origin r3.Vec) []int {
	rho, t := shape.Meridian(g.list[i].centre, axis, origin)
	reach := 0.2*math.Sqrt(g.list[i].area) + 3*g.tol.noise
	g.now++
	g.stamp[i] = g.now
	out := []int{i}
	for k := 0; k < len(out); k++ {
		for _, s := range g.list[out[k]].sides {
			if !s.smooth || g.stamp[s.other] == g.now || g.list[s.other].area == 0 {
				continue
			}
			if a, b := shape.Meridian(g.list[s.other].centre, axis, origin); math.Hypot(a-rho, b-t) < reach {
				g.stamp[s.other] = g.now
				out = append(out, s.other)
			}
		}
	}
	return out
}

// leastRows is how many points of a profile make an arc: any three lie on one.
const leastRows = 4

// rows counts the distinct points of the profile of a set of facets.
func (g *model) rows(set []int, axis, origin r3.Vec) int {
	return len(g.profile(set, axis, origin))
}

// profile returns the corners of a set of facets, by the points of its profile.
func (g *model) profile(set []int, axis, origin r3.Vec) (out [][]r3.Vec) {
	type knot struct {
		at float64 // of its profile, along no likely direction of it
		p  r3.Vec
	}
	var all []knot
	for _, i := range set {
		for _, c := range g.list[i].knots {
			p := g.mesh.Points[c]
			rho, t := shape.Meridian(p, axis, origin)
			all = append(all, knot{t + 0.618*rho, p})
		}
	}
	slices.SortFunc(all, func(a, b knot) int { return cmp.Compare(a.at, b.at) })
	for k, c := range all {
		if k == 0 || c.at-all[k-1].at > 2*(g.tol.least+3*g.tol.noise) {
			out = append(out, nil)
		}
		out[len(out)-1] = append(out[len(out)-1], c.p)
	}
	return out
}

// axisOf returns the axis of a turned form: that of the largest exact shape about it,
// which the normals of all its facets tell less exactly.
func (g *model) axisOf(whole shape.Fit, chosen []region) (axis, origin r3.Vec) {
	axis, origin = whole.Axis, whole.Origin
	most := 0.0
	for _, r := range chosen {
		if k := r.fit.Kind; k != shape.Cylinder && k != shape.Cone && k != shape.Torus || r.area < most || !g.isExact(r) {
			continue
		}
		if math.Abs(r3.Dot(r.fit.Axis, whole.Axis)) > math.Cos(normalSlack) && axisDistance(r.fit.Origin, whole.Axis, whole.Origin) < 0.01*max(r.fit.Radius, r.fit.Major) {
			most = r.area
			axis, origin = r.fit.Axis, r.fit.Origin
		}
	}
	return axis, origin
}

// alongProfile returns the pieces of the profile of a turned form, where they say more in
// fewer words than what was found without its axis.
func (g *model) alongProfile(set []int, whole shape.Fit, chosen []region, left [][]int, progress func() error) ([]region, [][]int, error) {
	axis, origin := g.axisOf(whole, chosen)
	if g.noisy() {
		axis, origin = shape.Centred(g.profile(set, axis, origin), axis, origin)
	}
	mine, rest, err := g.cover(set, g.fromAxis(axis, origin), len(set), progress)
	if err != nil {
		return nil, nil, err
	}
	if g.words(mine)+len(rest) >= g.words(chosen)+len(slices.Concat(left...)) {
		return chosen, left, nil
	}
	return mine, g.connected(rest), nil
}

// words is how much there is to say about shapes: simple ones take few numbers, and what
// is not exact has to be told facet by facet.
func (g *model) words(list []region) (n int) {
	for _, r := range list {
		n += 4
		if !g.isExact(r) {
			n += len(r.set)
		}
	}
	return n
}
