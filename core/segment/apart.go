package segment

import (
	"math"
	"slices"

	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/planar"
)

// apart takes a shell apart along n of the borders at which its parts are attached: each time
// where the boxes of what comes of it waste least. It is empty where no border parts the shell.
func (r *ruling) apart(i, n int) laneCut {
	key := [2]int{i, -n}
	if c, ok := r.known[key]; ok {
		return c
	}
	c := laneCut{band: i}
	if n > 1 {
		c.edges = r.apart(i, n-1).edges
	}
	more := r.looseJoint(&r.bands[i], c.edges)
	if c.edges = ids.With(c.edges, more); len(more) > 0 {
		r.measure(&c)
		c.joints = n
	} else {
		c = laneCut{band: i}
	}
	r.known[key] = c
	return c
}

// looseJoint returns the edges between two parts of a shell that are cut to leave the smallest
// boxes in all, after others were cut. Nobody may want them to stay, nor may both sides hold
// together another way.
func (r *ruling) looseJoint(b *band, cut []mesh.EdgeID) (best []mesh.EdgeID) {
	all, gone := r.attached(b), ids.Set(cut)
	left := slices.DeleteFunc(slices.Clone(all.joints), func(j joint) bool { return gone[j.edges[0]] })
	least := math.Inf(1)
	for k, j := range left {
		if slices.ContainsFunc(j.edges, func(e mesh.EdgeID) bool { return math.IsInf(r.cost(e), 1) }) {
			continue
		}
		hung := ids.NewForest(len(all.boxes))
		for o, other := range left {
			if o != k {
				hung.Join(int32(other.a), int32(other.b))
			}
		}
		if hung.Root(int32(j.a)) == hung.Root(int32(j.b)) {
			continue
		}
		boxes, area := slices.Clone(all.boxes), 0.0
		for p, box := range all.boxes { // what is joined is named by its lowest
			at := &boxes[hung.Root(int32(p))]
			*at = planar.Bounds(at.Min, at.Max, box.Min, box.Max)
		}
		for p, box := range boxes {
			if size := box.Size(); hung[p] == int32(p) {
				area += size.X * size.Y
			}
		}
		if area < least {
			best, least = j.edges, area
		}
	}
	return best
}

// attached finds the pieces of a shell, once.
func (r *ruling) attached(b *band) *attached {
	if b.attached == nil {
		b.attached = newAttached(r.doc, b.laid)
	}
	return b.attached
}
