package proof

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"

	"morvek/core/mesh"
)

// stacks notes for each shell that lies on another on purpose which one that is, and how many
// lie there.
func (r *Report) stacks(in Input) {
	stacks := map[int][]int{} // the lowest shell first
	for i, s := range r.Shells {
		switch k, above := in.Stack(s.Faces[0]); {
		case k < 0:
		case above:
			stacks[k] = append(stacks[k], i)
		default:
			stacks[k] = slices.Insert(stacks[k], 0, i)
		}
	}
	for _, list := range stacks {
		for _, i := range list {
			if r.Shells[i].InStack = len(list); i != list[0] {
				r.Shells[i].StackedOn = &list[0]
			}
		}
	}
}

func (r *Report) missing(in Input) (found findings) {
	var open []mesh.FaceID
	for i := range in.Mesh.NumFaces() {
		if f := mesh.FaceID(i); !in.Map.IsMapped(f) {
			open = append(open, f)
		}
	}
	if r.Totals.Unmapped = len(open); len(open) > 0 && !in.Tiling {
		found.find(Unmapped, "must", float64(len(open)), open)
	}
	for _, s := range r.Shells {
		if s.Mirrored > 0 && s.StackedOn == nil { // on another, it lies as that does
			r.Totals.Mirrored += s.Mirrored
			found.find(Mirrored, "must", float64(s.Mirrored), s.Faces)
		}
		if n := len(s.collapsed); n > 0 {
			r.Totals.NoArea += n
			found.find(NoArea, "must", float64(n), s.collapsed)
		}
	}
	return found
}

func (r *Report) densities(in Input) (found findings) {
	lo, hi := math.Inf(1), 0.0
	for _, s := range r.Shells {
		if s.Area > 0 {
			d := s.Density / s.Weight
			lo, hi = min(lo, d), max(hi, d)
		}
	}
	r.Totals.DensitySpread = 1
	if hi > 0 {
		r.Totals.DensitySpread = min(hi/max(lo, hi/Endless), Endless)
	}
	usual := r.usualDensity()
	for _, s := range r.Shells {
		if d := s.Density / s.Weight / max(usual, 1e-300); s.Area > 0 && (d > densityLimit || d < 1/densityLimit) {
			found.find(Density, "look", d, s.Faces)
		}
	}
	return found
}

// usualDensity is the one that half of the area has at most, less its weights: unlike the mean, it
// is not moved by the shells that are sharper than all others.
func (r *Report) usualDensity() float64 {
	var density, area []float64
	for _, s := range r.Shells {
		if s.Area > 0 {
			density, area = append(density, s.Density/s.Weight), append(area, s.Area)
		}
	}
	if len(density) == 0 {
		return 0
	}
	stat.SortWeighted(density, area)
	return stat.Quantile(0.5, stat.Empirical, density, area)
}

func (r *Report) outside(in Input) (found findings) {
	var out []mesh.FaceID
	for _, s := range r.Shells {
		if s.StackedOn != nil || in.Sheet.Holds(s.Box) { // on another, whole tiles away it still has a place
			continue
		}
		for i, f := range s.Faces {
			if !in.Sheet.Holds(in.Map.Box(s.Faces[i : i+1])) {
				out = append(out, f)
			}
		}
	}
	slices.Sort(out)
	if r.Totals.Outside = len(out); len(out) > 0 {
		found.find(Outside, "must", float64(len(out)), out)
	}
	return found
}

// stackedTogether tells whether two faces lie on each other on purpose.
func (r *Report) stackedTogether(in Input, a, b mesh.FaceID) bool {
	if r.ShellOf[a] == r.ShellOf[b] {
		return false
	}
	p, _ := in.Stack(a)
	q, _ := in.Stack(b)
	return p >= 0 && p == q
}
