package parts

import (
	"cmp"
	"container/heap"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// region is a candidate part: facets that one shape explains.
type region struct {
	set  []int
	fit  shape.Fit
	area float64
}

func (g *model) region(set []int, fit shape.Fit) region {
	r := region{set: set, fit: fit}
	for _, i := range set {
		r.area += g.list[i].area
	}
	return r
}

// rank is what candidates compete by: area, simple shapes before general ones.
func (r region) rank() float32 {
	w := 1.0
	if r.fit.Kind == shape.Extruded {
		w = 0.9
	}
	return float32(w * r.area)
}

// flood collects the facets reachable from start over smooth sides that a shape
// owns and that are free, until there are limit of them.
func (g *model) flood(start []int, f shape.Fit, free func(int) bool, limit int) []int {
	g.now++
	var out []int
	for _, i := range start {
		if free(i) && g.stamp[i] != g.now {
			g.stamp[i] = g.now
			out = append(out, i)
		}
	}
	for k := 0; k < len(out) && len(out) < limit; k++ {
		for _, s := range g.list[out[k]].sides {
			if s.smooth && g.stamp[s.other] != g.now && g.list[s.other].area > 0 && free(s.other) && g.owns(f, s.other) {
				g.stamp[s.other] = g.now
				out = append(out, s.other)
			}
		}
	}
	return out
}

// grow extends a fit from a few facets to all it explains, fitting again each
// time the region has become four times as large.
func (g *model) grow(start []int, f shape.Fit, free func(int) bool) (region, bool) {
	return g.growBy(start, f, free, g.refit)
}

func (g *model) growBy(start []int, f shape.Fit, free func(int) bool, refit func([]int, shape.Fit) (shape.Fit, bool)) (region, bool) {
	set := start
	for range 12 {
		limit := 4*len(set) + 8
		next := g.flood(start, f, free, limit)
		if len(next) < f.Kind.Traits().Least {
			return region{}, false
		}
		done := len(next) < limit && len(next) <= len(set)
		set = next
		again, ok := refit(set, f)
		if !ok {
			return region{}, false
		}
		f = again
		if done {
			break
		}
	}
	set = g.flood(start, f, free, len(g.list)+1)
	if exact, ok := g.sharpened(set, f); ok {
		f = exact
		set = g.flood(start, f, func(i int) bool {
			return free(i) && (f.Kind != shape.Torus || g.worst(f, i) <= g.exactly(&f))
		}, len(g.list)+1)
	}
	return g.region(set, f), len(set) >= f.Kind.Traits().Least
}

// sharpened fits a shape that is only near to what lies on it exactly; ok is false where nothing does. Rings of rows
// stay as near as they are, since pipes are mitred one way or another.
func (g *model) sharpened(set []int, f shape.Fit) (_ shape.Fit, ok bool) {
	if !f.HasDistance() || f.Kind == shape.Plane || len(set) < certainFacets || g.isExact(g.region(set, f)) {
		return f, false
	}
	if f.Kind == shape.Torus && !g.inNoRows(set) {
		return f, false
	}
	return g.trimmed(set, f)
}

// trims is how often a fit drops the facets that are off by more than most; farNearer is how much nearer it comes to
// those that stay where the others are of another shape.
const (
	trims     = 8
	trimsTo   = 0.7 // times the error before, at the most
	farNearer = 20
)

// trimmed fits a shape to the facets of a set that lie on it exactly, when the others are few: what a growing fit took
// in of its neighbours (least trimmed squares, Rousseeuw 1984). ok is false where there is no such shape.
func (g *model) trimmed(set []int, f shape.Fit) (_ shape.Fit, ok bool) {
	kept, first := set, f.Error
	for range trims {
		was := f.Error
		f = g.exact(kept, f)
		if f.Error < first/farNearer && g.isExact(g.region(kept, f)) {
			return f, true
		}
		if f.Error > trimsTo*was && len(kept) < len(set) {
			return f, false
		}
		var near []int
		for _, i := range kept {
			if g.worst(f, i) <= 1.5*f.Error {
				near = append(near, i)
			}
		}
		if kept = near; 2*len(kept) < len(set) || len(kept) < certainFacets {
			return f, false
		}
	}
	return f, false
}

// refit fits the same kind to another set of facets.
func (g *model) refit(set []int, f shape.Fit) (shape.Fit, bool) {
	s := g.gatherOn(set, &f)
	s.Rough = true
	switch f.Kind {
	case shape.Plane:
		return shape.FitPlane(s), true
	case shape.Cylinder:
		axis, _ := shape.AcrossAxis(s)
		return shape.FitCylinder(s, axis), true
	case shape.Cone:
		axis, h, _ := shape.ConeAxis(s)
		if h < math.Sin(0.5*math.Pi/180) {
			return f, false
		}
		return shape.FitCone(s, axis, h), true
	case shape.Sphere:
		return shape.FitSphere(s), true
	case shape.Extruded:
		return shape.FitExtruded(s), true
	}
	if f.Kind == shape.Torus { // its axis is not to be had in closed form
		s.Rough = false
		return shape.FitTorus(s, f.Axis, f.Origin), true
	}
	t := shape.FitTurned(s)
	return t, t.Axis != (r3.Vec{})
}

// disc returns up to n facets of like size around one, nearest first over smooth
// sides.
func (g *model) disc(i, n int) []int {
	g.now++
	g.stamp[i] = g.now
	out := []int{i}
	for k := 0; k < len(out) && len(out) < n; k++ {
		for _, s := range g.list[out[k]].sides {
			if o := g.list[s.other].area; s.smooth && g.stamp[s.other] != g.now && o > 0 && o < 5*g.list[i].area && g.list[i].area < 5*o {
				g.stamp[s.other] = g.now
				out = append(out, s.other)
			}
		}
	}
	return out
}

// seedLimit bounds how many seeds of one component are tried; on forms that
// nothing explains more of them would not help.
const seedLimit = 600

// missLimit is how many seeds in a row may lead to nothing before the others are taken to
// lie on the same form that nothing explains.
const missLimit = 24

// split returns the shapes a smooth component is made of, and what is left.
// Walls and cones are grown first, from the lines in which facets meet; what
// they leave is often one shape, an elbow between two pipes; only where it is
// not are shapes sought by discs of facets, if at all.
func (g *model) split(set []int, discs bool, progress func() error) (chosen []region, left [][]int, err error) {
	chosen, rest, err := g.cover(set, g.fromLines, len(set), progress)
	if err != nil {
		return nil, nil, err
	}
	for _, r := range g.connected(rest) {
		if f, ok := g.whole(r); ok && (f.Kind != shape.Turned || len(chosen) == 0) {
			chosen = append(chosen, g.region(r, f))
			continue
		}
		if !discs {
			left = append(left, r)
			continue
		}
		more, still, err := g.cover(r, g.fromDiscs, missLimit, progress)
		if err != nil {
			return nil, nil, err
		}
		chosen = append(chosen, more...)
		for _, r := range g.connected(still) {
			if f, ok := g.whole(r); ok {
				chosen = append(chosen, g.region(r, f))
			} else {
				left = append(left, r)
			}
		}
	}
	return chosen, left, nil
}

// cover grows candidates from the facets of a set, largest facets first, and
// lets the largest candidates take their facets, in the manner of a greedy set
// cover (Schnabel et al. 2007). After patience seeds in a row that lead to nothing exact no
// more are proposed.
func (g *model) cover(set []int, propose func(i int, free func(int) bool) []region, patience int, progress func() error) (chosen []region, left []int, err error) {
	inside := make(map[int]bool, len(set))
	for _, i := range set {
		inside[i] = true
	}
	free := func(i int) bool { return inside[i] }
	seeds := g.largestFirst(set)
	g.tried = map[shape.Kind]map[int]bool{shape.Cylinder: {}, shape.Cone: {}, shape.Extruded: {}}
	var cands, general []region
	// Facets whose kind of candidate was found need not be tried again.
	done := map[shape.Kind]map[int]bool{shape.Plane: {}, shape.Turned: {}, shape.Free: {}}
	consider := func(r region) {
		if len(r.set) < r.fit.Kind.Traits().Least || !g.certain(r) && g.slice(r) || !g.holds(r.fit, r.set) {
			return
		}
		mark := done[shape.Free]
		switch r.fit.Kind {
		case shape.Plane:
			mark = nil
		case shape.Turned: // a profile round an axis explains too much to compete
			mark = done[shape.Turned]
			general = append(general, r)
		}
		for _, j := range r.set {
			if mark != nil {
				mark[j] = true
			}
		}
		if r.fit.Kind != shape.Turned {
			cands = append(cands, r)
		}
	}
	misses := 0
	for k, i := range seeds {
		if k%64 == 0 {
			if err := progress(); err != nil {
				return nil, nil, err
			}
		}
		if !done[shape.Plane][i] {
			if r, ok := g.grow([]int{i}, shape.FitPlane(g.gather([]int{i})), free); ok {
				for _, j := range r.set {
					done[shape.Plane][j] = true
				}
				consider(r)
			}
		}
		if k > seedLimit || misses > patience || done[shape.Free][i] || done[shape.Turned][i] {
			continue
		}
		misses++
		for _, r := range propose(i, free) {
			if consider(r); g.isExact(r) {
				misses = 0
			}
		}
	}
	taken := map[int]bool{}
	exact, near := g.byExactness(cands)
	chosen = append(g.choose(exact, taken), g.choose(near, taken)...)
	chosen = append(chosen, g.choose(general, taken)...)
	for _, i := range set {
		if !taken[i] {
			left = append(left, i)
		}
	}
	return chosen, left, nil
}

// walls grows the cylinders a facet may belong to.
func (g *model) walls(i int, free func(int) bool) []region { return g.bands(i, free, shape.Cylinder) }

// bands grows shapes round an axis that a facet may belong to, starting from the lines in
// which it meets its neighbours.
func (g *model) bands(i int, free func(int) bool, kinds ...shape.Kind) (out []region) {
	for _, three := range g.opposite(i) {
		for _, kind := range kinds {
			if g.tried[kind][i] && g.tried[kind][three[1]] {
				continue
			}
			fit, ok := g.refit(three, shape.Fit{Kind: kind})
			if !ok || !g.holds(fit, three) {
				continue
			}
			if r, ok := g.grow(three, fit, free); ok {
				if g.noisy() {
					r = g.byRows(r, r.fit.Axis, r.fit.Origin, free)
				}
				for _, j := range r.set {
					g.tried[kind][j] = true
				}
				out = append(out, r)
			}
		}
	}
	return out
}

// fromLines grows the walls, cones and extrusions a facet may belong to, starting from the
// lines in which it meets its neighbours.
func (g *model) fromLines(i int, free func(int) bool) []region {
	f := &g.list[i]
	out := g.bands(i, free, shape.Cylinder, shape.Cone)
	var axes []r3.Vec
	for _, s := range f.sides {
		o := &g.list[s.other]
		if !s.smooth || o.area == 0 || s.bend < facetAngle/4+f.slack+o.slack || g.tried[shape.Extruded][s.other] {
			continue
		}
		if g.tried[shape.Cone][i] && g.tried[shape.Cone][s.other] || g.tried[shape.Cylinder][i] && g.tried[shape.Cylinder][s.other] {
			continue
		}
		axis := r3.Cross(f.normal, o.normal)
		if s.bend < halfDegree {
			axis = s.dir
		}
		axis = mesh.Unit(axis)
		if slices.ContainsFunc(axes, func(t r3.Vec) bool { return math.Abs(r3.Dot(t, axis)) > math.Cos(2*normalSlack) }) {
			continue
		}
		axes = append(axes, axis)
		rule := shape.Fit{Kind: shape.Extruded, Axis: axis, Origin: f.centre}
		r, ok := g.grow([]int{i, s.other}, rule, free)
		if !ok {
			continue
		}
		for _, set := range g.connected(g.trim(r.set)) { // trimming may part it
			if len(set) < 3 || g.plates(set) {
				continue
			}
			fit := r.fit
			if cyl, ok := g.refit(set, shape.Fit{Kind: shape.Cylinder}); ok {
				if cyl, ok = g.confirm(cyl, set); ok {
					fit = cyl
					if all := g.flood(set, fit, free, len(g.list)+1); g.isExact(g.region(all, fit)) {
						set = all // no extrusion held the rest: triangles in no rows
					}
				}
			}
			out = append(out, g.region(set, fit))
		}
	}
	g.tried[shape.Extruded][i] = true // its sides were tried from here
	return out
}

// fromDiscs grows whatever fits the facets around one, in a small disc and, if nothing does exactly, in a wider one.
func (g *model) fromDiscs(i int, free func(int) bool) (out []region) {
	for _, n := range []int{9, 36} {
		disc := g.disc(i, n)
		if len(disc) < 4 {
			break
		}
		for _, fit := range g.fits(disc, true) {
			switch fit.Kind {
			case shape.Plane, shape.Extruded:
				continue
			case shape.Torus, shape.Turned: // a small disc does not tell their axis
				if n == 9 && len(disc) == n {
					continue
				}
			}
			fit, ok := g.confirm(fit, disc)
			if !ok {
				continue
			}
			if r, ok := g.grow([]int{i}, fit, free); ok {
				out = append(out, r)
				if g.isExact(r) {
					return out
				}
				break
			}
		}
	}
	return out
}

// bandSides is how many neighbours a facet of a band has at most; a lid has more.
const bandSides = 14

// opposite returns a facet with two neighbours on opposite sides that bend alike:
// the start of a band around an axis.
func (g *model) opposite(i int) (out [][]int) {
	f := &g.list[i]
	if len(f.sides) > bandSides {
		return nil
	}
	least := facetAngle + f.slack
	for a, s := range f.sides {
		if !s.smooth || s.bend < least || g.list[s.other].area == 0 {
			continue
		}
		for _, t := range f.sides[a+1:] {
			if apart(s.dir, t.dir) < math.Pi/5 && t.smooth && t.convex == s.convex && t.bend > least && t.bend < 1.5*s.bend+f.slack && s.bend < 1.5*t.bend+f.slack && g.list[t.other].area > 0 {
				out = append(out, []int{i, s.other, t.other})
			}
		}
	}
	return out
}

// choose lets the largest candidates take their facets; what a candidate has
// lost to others is grown again over what is free.
func (g *model) choose(cands []region, taken map[int]bool) []region {
	q := &queue{}
	for i, r := range cands {
		heap.Push(q, ranked{r, i})
	}
	var out []region
	free := func(i int) bool { return !taken[i] }
	for q.Len() > 0 {
		c := heap.Pop(q).(ranked)
		if !slices.ContainsFunc(c.set, func(i int) bool { return taken[i] }) {
			for _, i := range c.set {
				taken[i] = true
			}
			out = append(out, c.region)
			continue
		}
		if c.fit.Kind == shape.Plane {
			continue
		}
		mine := make(map[int]bool, len(c.set))
		for _, i := range c.set {
			mine[i] = true
		}
		for _, i := range c.set { // whatever is left of it, piece by piece
			if taken[i] || !mine[i] {
				continue
			}
			set := g.flood([]int{i}, c.fit, func(j int) bool { return mine[j] && free(j) }, len(g.list)+1)
			for _, j := range set {
				delete(mine, j)
			}
			delete(mine, i)
			r := g.region(set, c.fit)
			if len(set) >= c.fit.Kind.Traits().Least && len(set) < len(c.set) && (g.certain(r) || !g.slice(r)) {
				heap.Push(q, ranked{r, c.id})
			}
		}
	}
	return out
}

type ranked struct {
	region
	id int
}

// queue pops the highest rank first; ties go to the earlier candidate.
type queue []ranked

func (q queue) Len() int { return len(q) }
func (q queue) Less(i, j int) bool {
	if a, b := q[i].rank(), q[j].rank(); a != b {
		return a > b
	}
	return q[i].id < q[j].id
}
func (q queue) Swap(i, j int) { q[i], q[j] = q[j], q[i] }
func (q *queue) Push(x any)   { *q = append(*q, x.(ranked)) }
func (q *queue) Pop() any {
	last := (*q)[len(*q)-1]
	*q = (*q)[:len(*q)-1]
	return last
}

// largestFirst returns a set of facets by falling area, equal ones by the file.
func (g *model) largestFirst(set []int) []int {
	out := slices.Clone(set)
	slices.SortFunc(out, func(a, b int) int {
		return cmp.Or(cmp.Compare(float32(g.list[b].area), float32(g.list[a].area)), cmp.Compare(a, b))
	})
	return out
}
