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

// attached are the pieces of a shell that are of one part each, by the boxes they lie in, and the
// borders at which they hang together.
type attached struct {
	boxes  []planar.Box
	joints []joint
}

// mostJoined bounds the pieces of a shell that is taken apart.
const mostJoined = 200

// attached finds the pieces of a shell, once; there are no joints where they are too many.
func (r *ruling) attached(b *band) *attached {
	if b.attached != nil {
		return b.attached
	}
	b.attached = &attached{}
	m, s := r.doc.Mesh, r.doc.State
	part := s.FaceParts()
	between := func(e mesh.EdgeID) bool {
		f, g := m.EdgeFaces(e)
		return part[f] != part[g]
	}
	pieces := m.Connected(b.faces, func(e mesh.EdgeID) bool { return s.Map.Ends(e) || between(e) })
	if len(pieces) > mostJoined {
		return b.attached
	}
	of := make(map[mesh.FaceID]int, len(b.faces))
	for k, faces := range pieces {
		for _, f := range faces {
			of[f] = k
		}
	}
	b.attached.boxes = b.boxes(of, len(pieces))
	at := map[[2]int]int{}
	for _, e := range m.EdgesWithin(b.faces) {
		if s.Map.Ends(e) || !between(e) {
			continue
		}
		f, g := m.EdgeFaces(e)
		key := [2]int{min(of[f], of[g]), max(of[f], of[g])}
		k, ok := at[key]
		if !ok {
			k, at[key] = len(b.attached.joints), len(b.attached.joints)
			b.attached.joints = append(b.attached.joints, joint{a: key[0], b: key[1]})
		}
		b.attached.joints[k].edges = append(b.attached.joints[k].edges, e)
	}
	return b.attached
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

// boxes are those of n pieces of a shell as they lie, of tells which a face is in.
func (b *band) boxes(of map[mesh.FaceID]int, n int) []planar.Box {
	out, begun := make([]planar.Box, n), make([]bool, n)
	p := b.laid.Patch
	for i, f := range p.Faces {
		k := of[f]
		for _, v := range p.CornerVert[p.FaceStart[i]:p.FaceStart[i+1]] {
			q := b.laid.UV[v]
			if !begun[k] {
				out[k], begun[k] = planar.Box{Min: q, Max: q}, true
			}
			out[k] = planar.Bounds(out[k].Min, out[k].Max, q)
		}
	}
	return out
}
