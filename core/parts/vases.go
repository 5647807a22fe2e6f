package parts

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// vaseBend is how much more than the rows of a vase bend into each other the next one may bend to them.
const vaseBend = 1.5

// vases gives rows that are some cone by themselves, as any row of a turned form is, to the rest of a turned form
// that they are the first of: they bend into it as it bends, and are about as high as its rows.
func (g *model) vases(whole shape.Fit, chosen []region, left [][]int) ([]region, [][]int) {
	for changed := true; changed; {
		changed = false
		for l, rest := range left {
			if !g.closesAbout(whole, rest) {
				continue
			}
			bend, high, _ := g.bendsInto(whole, rest, rest)
			k := slices.IndexFunc(chosen, func(r region) bool {
				if r.fit.Kind != shape.Cone || g.manyRows(r.set) || !g.closesAbout(whole, r.set) {
					return false
				}
				b, h, ok := g.bendsInto(whole, r.set, rest)
				return ok && b <= vaseBend*bend && h <= ovalStep*high && high <= ovalStep*h
			})
			if k >= 0 {
				left[l] = slices.Concat(rest, chosen[k].set)
				chosen, changed = slices.Delete(slices.Clone(chosen), k, k+1), true
			}
		}
	}
	return chosen, left
}

// closesAbout tells whether facets close round the axis of a turned form.
func (g *model) closesAbout(whole shape.Fit, set []int) bool {
	return closesRound(g.mesh, g.faces(set), whole.Axis, whole.Origin)
}

// turnedAs is the part that some facets of a turned form are, about its axis.
func (g *model) turnedAs(whole shape.Fit, set []int) Part {
	return g.part(set, shape.AsTurned(g.gather(set), whole.Axis, whole.Origin))
}

// bendsInto is how far facets of one set bend into those of another along the profile of a turned form, in the mean and in
// radians, and how high they are there; ok is false where they do not meet.
func (g *model) bendsInto(whole shape.Fit, set, other []int) (bend, high float64, ok bool) {
	g.now++
	for _, i := range other {
		g.stamp[i] = g.now
	}
	var long float64
	for _, i := range set {
		for _, s := range g.list[i].sides {
			if s.smooth && g.stamp[s.other] == g.now && g.isRow(whole.Axis, whole.Origin, i, s) {
				bend += s.length * s.bend
				high += s.length * s.extent
				long += s.length
			}
		}
	}
	return bend / max(long, 1e-300), high / max(long, 1e-300), long > 0
}

// isRow tells whether a side of a facet runs round an axis rather than along the profile.
func (g *model) isRow(axis, origin r3.Vec, i int, s side) bool {
	round := mesh.Unit(r3.Cross(axis, r3.Sub(g.list[i].centre, origin)))
	return math.Abs(r3.Dot(mesh.Unit(s.dir), round)) >= math.Cos(math.Pi/6)
}

// lidShare is the share of the radius of a turned form from which a disc that ends it is a lid.
const lidShare = 0.5

// lids parts the flat discs that end a turned form from the rest of it.
func (g *model) lids(set []int, whole shape.Fit, chosen []region) (lids []Part, rest []int) {
	in := map[int]bool{}
	for _, r := range chosen {
		if !isPlate(r.fit, whole.Axis) || !mesh.NewPatch(g.mesh, g.faces(r.set), func(mesh.EdgeID) bool { return false }).IsDisk() || math.Sqrt(r.area/math.Pi) < lidShare*whole.Radius {
			continue
		}
		lids = append(lids, g.part(r.set, r.fit))
		for _, i := range r.set {
			in[i] = true
		}
	}
	for _, i := range set {
		if !in[i] {
			rest = append(rest, i)
		}
	}
	if len(rest) == 0 {
		return nil, set
	}
	return lids, rest
}
