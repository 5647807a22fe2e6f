package parts

import "morvek/core/shape"

// On a clean mesh what was made as a cylinder is one to the last digit of its file, and
// what only looks like one, a strip of a blade, is not: several powers of ten lie between.
const (
	exactNoise = 4    // times the noise of the mesh
	exactShare = 1e-6 // of the radius
	exactFile  = 5e-8 // of the diagonal: coordinates of single precision
)

// isExact tells whether a fit is as near as the mesh itself is true.
func (g *model) isExact(f shape.Fit) bool {
	return f.Kind != shape.Turned && f.Error <= max(exactNoise*g.tol.noise, exactShare*f.Radius, exactFile*g.diag)
}

// byExactness parts candidates that are exact from those that are near.
func (g *model) byExactness(list []region) (exact, near []region) {
	for _, r := range list {
		if g.isExact(r.fit) {
			exact = append(exact, r)
		} else {
			near = append(near, r)
		}
	}
	return exact, near
}

// leastNear is the share of what is left beside it that a shape which is only near must
// have to be believed.
const leastNear = 1.0

// byChance takes the regions out of chosen that are only near their shape and go over
// smoothly into something larger that has none: a few facets of any free form lie near
// some cylinder. It returns what is left with their facets.
func (g *model) byChance(chosen []region, left [][]int) ([]region, [][]int) {
	for {
		of := map[int]int{}
		area := make([]float64, len(left))
		for k, set := range left {
			for _, i := range set {
				of[i] = k
				area[k] += g.list[i].area
			}
		}
		var kept []region
		var loose []int
		for _, r := range chosen {
			beside := 0.0
			if r.fit.Kind != shape.Plane && r.fit.HasDistance() && !g.isExact(r.fit) {
				near := map[int]bool{}
				for _, i := range r.set {
					for _, s := range g.list[i].sides {
						if k, ok := of[s.other]; ok && s.smooth && !near[k] {
							near[k] = true
							beside += area[k]
						}
					}
				}
			}
			if r.area < leastNear*beside {
				loose = append(loose, r.set...)
			} else {
				kept = append(kept, r)
			}
		}
		if len(loose) == 0 {
			return chosen, left
		}
		chosen = kept
		for _, set := range left {
			loose = append(loose, set...)
		}
		left = g.connected(loose)
	}
}
