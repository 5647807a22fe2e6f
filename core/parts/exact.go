package parts

import (
	"math"
	"slices"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// On a clean mesh what was made as a cylinder is one to the last digit of its file, and
// what only looks like one, a strip of a blade, is not: several powers of ten lie between.
const (
	exactNoise    = 1.15 // times the noise of the mesh: neither that nor a fit is known any better
	exactSpread   = 3    // standard deviations more, of what few facets tell
	exactShare    = 1e-6 // of the radius, or of the size of the region where that is less
	certainFacets = 5    // at the least
	manyFacets    = 50   // no chance, even if the mesh seems to be off
	cleanShare    = 1e-6 // noise, of the size of the region
	exactFile     = 5e-8 // of the diagonal: coordinates of single precision
)

// isExact tells whether the fit of a region is as near as the mesh itself is true.
func (g *model) isExact(r region) bool {
	n := exactNoise + exactSpread/math.Sqrt(2*float64(len(r.set)+2))
	return r.fit.Kind != shape.Turned && r.fit.Error <= max(n*g.tol.noise, exactShare*min(r.fit.Radius, math.Sqrt(r.area)), exactFile*g.diag)
}

// certain tells whether a region is no chance, whatever lies beside it: many facets that are
// exact where the mesh is clean, or a wall that closes round.
func (g *model) certain(r region) bool {
	if r.fit.Kind == shape.Plane || !r.fit.HasDistance() || !g.isExact(r) {
		return false
	}
	if r.fit.Kind == shape.Cone && !g.manyRows(r.set) { // so is any row of a turned form
		return false
	}
	if k := r.fit.Kind; (k == shape.Sphere || k == shape.Torus) && !g.hasInner(r.set) { // nor do two rings tell a ball
		return false
	}
	noise := g.tol.noise
	if len(r.set) >= manyFacets { // which tell it better than the mesh does
		noise = min(noise, r.fit.Error)
	}
	return len(r.set) >= certainFacets && noise < cleanShare*math.Sqrt(r.area) || r.fit.Kind != shape.Sphere && g.sectors(r.set, r.fit) == sectors
}

// hasInner tells whether facets meet around some point: those of a single row do not. A lid that a row ends in
// does not count, nor do two between which a row lies, since any two rings lie on some ball whatever they are.
func (g *model) hasInner(set []int) bool {
	rim := g.rimPoints(set)
	inner := map[mesh.PointID]bool{}
	var lids [][]mesh.PointID // corners of facets that have none on the rim
	most := 0
	for _, i := range set {
		var own []mesh.PointID
		for _, p := range g.list[i].knots {
			if !rim[p] {
				own = append(own, p)
				inner[p] = true
			}
		}
		if len(own) > 0 && len(own) == len(g.list[i].knots) {
			slices.Sort(own)
			lids = append(lids, slices.Compact(own))
			most = max(most, len(lids[len(lids)-1]))
		}
	}
	if len(inner) > 2*most {
		return true
	}
	if len(lids) == 1 && most == len(inner) {
		return false
	}
	for k, a := range lids {
		for _, b := range lids[:k] {
			if len(a)+len(b) == len(inner) && !slices.ContainsFunc(b, func(p mesh.PointID) bool { return slices.Contains(a, p) }) {
				return false
			}
		}
	}
	return len(inner) > 0
}

// manyRows tells whether most facets of a cone were faces in two rows or more.
func (g *model) manyRows(set []int) bool {
	n := 0
	for _, i := range set {
		if len(g.list[i].faces) > 2 {
			n++
		}
	}
	return 2*n > len(set)
}

// byExactness parts candidates that are exact from those that are near.
func (g *model) byExactness(list []region) (exact, near []region) {
	for _, r := range list {
		if g.isExact(r) {
			exact = append(exact, r)
		} else {
			near = append(near, r)
		}
	}
	return exact, near
}

// A shape that is only near must have this share of what is left beside it, and this share
// of all that goes over smoothly into it and is not exact, to be believed.
const (
	leastBeside = 1.0
	leastAmong  = 0.1
)

// byChance takes the regions out of chosen that are only near their shape and few among
// what has none: a few facets of any free form lie near some cylinder. It returns what is
// left with their facets.
func (g *model) byChance(chosen []region, left [][]int) ([]region, [][]int) {
	near := func(r region) bool {
		return r.fit.Kind != shape.Plane && r.fit.HasDistance() && !g.isExact(r)
	}
	among := slices.Concat(left...)
	for _, r := range chosen {
		if near(r) {
			among = append(among, r.set...)
		}
	}
	if len(among) == 0 {
		return chosen, left
	}
	_, cluster := g.inSets(g.connected(among))
	for {
		of, beside := g.inSets(left)
		var kept []region
		var loose []int
		for _, r := range chosen {
			if near(r) && (r.area < leastAmong*cluster(r.set[0]) || r.area < leastBeside*g.beside(r, of, beside)) {
				loose = append(loose, r.set...)
			} else {
				kept = append(kept, r)
			}
		}
		if len(loose) == 0 {
			return chosen, left
		}
		chosen, left = kept, g.connected(append(loose, slices.Concat(left...)...))
	}
}

// inSets returns which of the sets a facet is in, and the area of the set it is in.
func (g *model) inSets(sets [][]int) (of map[int]int, area func(i int) float64) {
	of = map[int]int{}
	sum := make([]float64, len(sets))
	for k, set := range sets {
		for _, i := range set {
			of[i] = k
			sum[k] += g.list[i].area
		}
	}
	return of, func(i int) float64 { return sum[of[i]] }
}

// beside is the area of the sets that a region goes over into smoothly.
func (g *model) beside(r region, of map[int]int, area func(int) float64) (sum float64) {
	seen := map[int]bool{}
	for _, i := range r.set {
		for _, s := range g.list[i].sides {
			if k, ok := of[s.other]; ok && s.smooth && !seen[k] {
				seen[k] = true
				sum += area(s.other)
			}
		}
	}
	return sum
}
