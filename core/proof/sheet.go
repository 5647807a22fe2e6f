package proof

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
)

// stacks notes for each shell that lies on another on purpose which one that is.
func (r *Report) stacks(in Input) {
	byPart := map[int][]int{}
	for i, s := range r.Shells {
		byPart[s.Part] = append(byPart[s.Part], i)
	}
	for i := range r.Shells {
		s := &r.Shells[i]
		root := in.Stack(s.Part)
		if root == s.Part {
			continue
		}
		best := -1
		for _, k := range byPart[root] {
			if best < 0 || r2.Norm(r2.Sub(r.Shells[k].middle, s.middle)) < r2.Norm(r2.Sub(r.Shells[best].middle, s.middle)) {
				best = k
			}
		}
		if best >= 0 {
			s.StackedOn = &best
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
		if s.Mirrored > 0 {
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
			d := s.Density / in.Weight(s.Part)
			lo, hi = min(lo, d), max(hi, d)
		}
	}
	r.Totals.DensitySpread = 1
	if hi > 0 {
		r.Totals.DensitySpread = min(hi/max(lo, hi/Endless), Endless)
	}
	for _, s := range r.Shells {
		if d := s.Density / in.Weight(s.Part) / max(r.Totals.MeanDensity, 1e-300); s.Area > 0 && (d > densityLimit || d < 1/densityLimit) {
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
		if !in.Map.IsMapped(f) {
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
func stackedTogether(in Input, a, b mesh.FaceID) bool {
	p, q := in.Part(a), in.Part(b)
	return p != q && in.Stack(p) == in.Stack(q)
}
