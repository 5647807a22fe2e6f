package proof

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/mesh"
	"morvek/core/planar"
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

func (r *Report) missing(in Input) {
	var open []mesh.FaceID
	for i := range in.Mesh.NumFaces() {
		if f := mesh.FaceID(i); !in.Map.IsMapped(f) {
			open = append(open, f)
		}
	}
	if r.Totals.Unmapped = len(open); len(open) > 0 {
		r.find(Unmapped, "must", float64(len(open)), open)
	}
	for _, s := range r.Shells {
		if s.Mirrored > 0 {
			r.Totals.Mirrored += s.Mirrored
			r.find(Mirrored, "must", float64(s.Mirrored), s.Faces)
		}
		if n := len(s.collapsed); n > 0 {
			r.Totals.NoArea += n
			r.find(NoArea, "must", float64(n), s.collapsed)
		}
	}
}

func (r *Report) densities(in Input) {
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
			r.find(Density, "look", d, s.Faces)
		}
	}
}

func (r *Report) outside(in Input) {
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
		r.find(Outside, "must", float64(len(out)), out)
	}
}

func (r *Report) overlaps(in Input) {
	t := in.Mesh.Triangles()
	var tris []planar.Triangle
	var face []mesh.FaceID
	var total float64
	for i, c := range t.Corner {
		if in.Map.IsMapped(t.Face[i]) {
			tri := planar.Triangle{in.Map.At(c[0]), in.Map.At(c[1]), in.Map.At(c[2])}
			tris = append(tris, tri)
			face = append(face, t.Face[i])
			total += math.Abs(tri.Area())
		}
	}
	hit := map[mesh.FaceID]bool{}
	var area float64
	for _, o := range planar.Overlaps(tris, overlapShare) {
		if o.Area < leastOverlap || r.stackedTogether(in, face[o.A], face[o.B]) {
			continue
		}
		hit[face[o.A]], hit[face[o.B]] = true, true
		area += o.Area
	}
	if total > 0 {
		r.Totals.OverlapShare = area / total
	}
	if len(hit) > 0 {
		faces := make([]mesh.FaceID, 0, len(hit))
		for f := range hit {
			faces = append(faces, f)
		}
		slices.Sort(faces)
		r.find(Overlap, "must", r.Totals.OverlapShare, faces)
	}
}

// stackedTogether tells whether two faces lie on each other on purpose.
func (r *Report) stackedTogether(in Input, a, b mesh.FaceID) bool {
	p, q := in.Part(a), in.Part(b)
	return p != q && in.Stack(p) == in.Stack(q)
}

func (r *Report) gaps(in Input, shells []atlas.Shell) {
	px := float64(in.Sheet.Size)
	var segs []planar.Segment
	for i, s := range shells {
		if r.Shells[i].StackedOn != nil || r.Shells[i].Area == 0 {
			continue
		}
		segs = append(segs, in.Map.Border(s.Faces, int32(i))...)
	}
	r.Totals.MinGapPx = -1
	if len(segs) == 0 {
		return
	}
	// The border of each tile is a group of its own.
	rim := math.Inf(1)
	for _, s := range segs {
		for _, q := range []r2.Vec{s.A, s.B} {
			x := q.X - min(max(math.Floor(q.X), 0), float64(in.Sheet.Tiles-1))
			rim = min(rim, x, 1-x, q.Y, 1-q.Y)
		}
	}
	least, close := planar.MinGap(segs, in.Sheet.Padding/px*(1-1e-9))
	r.Totals.MinGapPx = px * max(0, min(least.Distance, rim))
	slices.SortFunc(close, func(a, b planar.Gap) int {
		return cmp.Or(cmp.Compare(segs[a.A].Group, segs[b.A].Group), cmp.Compare(segs[a.B].Group, segs[b.B].Group))
	})
	for _, g := range close {
		faces := slices.Concat(shells[segs[g.A].Group].Faces, shells[segs[g.B].Group].Faces)
		r.find(TooClose, "look", g.Distance*px, faces)
	}
}
