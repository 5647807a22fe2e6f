package proof

import (
	"cmp"
	"slices"

	"morvek/core/mesh"
	"morvek/core/planar"
)

// overlap is a pair of triangles that lie on each other, by their numbers in the mesh.
type overlap struct {
	a, b int32
	area float64
}

// overlaps sums up what lies on each other, stacks aside.
func (r *Report) overlaps(in Input, c *change) (found findings) {
	t := in.Mesh.Triangles()
	var total float64
	for _, s := range r.Shells {
		total += s.SheetArea
	}
	r.known.overlaps = r.pairs(in, c)
	hit := map[mesh.FaceID]bool{}
	var area float64
	for _, o := range r.known.overlaps {
		a, b := t.Face[o.a], t.Face[o.b]
		if o.area < leastOverlap || r.stackedTogether(in, a, b) {
			continue
		}
		hit[a], hit[b] = true, true
		area += o.area
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
		found.find(Overlap, "must", r.Totals.OverlapShare, faces)
	}
	return found
}

// pairs lists the triangles that lie on each other, ascending: all are looked at, or those
// of shells that were touched with what lies near them.
func (r *Report) pairs(in Input, c *change) (out []overlap) {
	t := in.Mesh.Triangles()
	var tris []planar.Triangle
	var number []int32
	add := func(f mesh.FaceID) {
		for k := t.FaceStart[f]; k < t.FaceStart[f+1]; k++ {
			q := t.Corner[k]
			tris, number = append(tris, planar.Triangle{in.Map.At(q[0]), in.Map.At(q[1]), in.Map.At(q[2])}), append(number, k)
		}
	}
	var fresh []bool // per triangle of tris
	if c == nil {
		for f := range mesh.FaceID(in.Mesh.NumFaces()) {
			if in.Map.IsMapped(f) {
				add(f)
			}
		}
	} else {
		for _, o := range c.before.known.overlaps {
			if !c.touched[t.Face[o.a]] && !c.touched[t.Face[o.b]] {
				out = append(out, o)
			}
		}
		near := c.near(in, r)
		tris, number = make([]planar.Triangle, 0, 2*len(near)), make([]int32, 0, 2*len(near))
		for _, f := range near {
			add(f)
		}
		fresh = make([]bool, len(tris))
		for i, k := range number {
			fresh[i] = c.touched[t.Face[k]]
		}
	}
	for _, o := range planar.OverlapsOf(tris, overlapShare, fresh) {
		out = append(out, overlap{number[o.A], number[o.B], o.Area})
	}
	slices.SortFunc(out, func(p, q overlap) int { return cmp.Or(cmp.Compare(p.a, q.a), cmp.Compare(p.b, q.b)) })
	return out
}

// near lists the mapped faces that were touched and all that meet the box around them on the
// sheet, ascending.
func (c *change) near(in Input, r *Report) (out []mesh.FaceID) {
	var touched []mesh.FaceID
	for i, is := range c.touched {
		if f := mesh.FaceID(i); is && in.Map.IsMapped(f) {
			touched = append(touched, f)
		}
	}
	if len(touched) == 0 {
		return nil
	}
	box := in.Map.Box(touched)
	for _, s := range r.Shells {
		if !s.Box.Within(box, 0) {
			continue
		}
		for i, f := range s.Faces {
			if c.touched[f] || in.Map.Box(s.Faces[i:i+1]).Within(box, 0) {
				out = append(out, f)
			}
		}
	}
	slices.Sort(out)
	return out
}
