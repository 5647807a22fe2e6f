package proof

import (
	"math"

	"morvek/core/mesh"
)

// stacks notes for each shell that lies on another on purpose which one that is.
func (r *Report) stacks(in Input) {
	lowest, above := map[int]int{}, map[int]int{}
	for i, s := range r.Shells {
		switch stack, on := in.Stack(s.Faces[0]); {
		case stack < 0:
		case on:
			above[i] = stack
		default:
			lowest[stack] = i
		}
	}
	for i, stack := range above {
		if low, ok := lowest[stack]; ok {
			r.Shells[i].StackedOn = &low
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
	for _, s := range r.Shells {
		if d := s.Density / s.Weight / max(r.Totals.MeanDensity, 1e-300); s.Area > 0 && (d > densityLimit || d < 1/densityLimit) {
			found.find(Density, "look", d, s.Faces)
		}
	}
	return found
}

func (r *Report) outside(in Input) (found findings) {
	const slack = 1e-9
	var out []mesh.FaceID
	for i := range in.Mesh.NumFaces() {
		f := mesh.FaceID(i)
		if !in.Map.IsMapped(f) || r.Shells[r.ShellOf[f]].StackedOn != nil { // whole tiles away it still has a place
			continue
		}
		lo, hi := in.Mesh.Corners(f)
		for h := lo; h < hi; h++ {
			q := in.Map.At(h)
			if !(q.X >= -slack && q.X <= float64(in.Sheet.Tiles)+slack && q.Y >= -slack && q.Y <= 1+slack) {
				out = append(out, f)
				break
			}
		}
	}
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
