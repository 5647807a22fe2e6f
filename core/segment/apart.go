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

// looseJoint returns the edges between two parts of a shell that are cut to gain most or lose
// least: the boxes of both sides, as they lie, against the box of both together.
func (r *ruling) looseJoint(b *band, cut []mesh.EdgeID) []mesh.EdgeID {
	m, s := r.doc.Mesh, r.doc.State
	own := ids.Set(cut)
	part := s.FaceParts()
	between := func(e mesh.EdgeID) bool {
		f, g := m.EdgeFaces(e)
		return part[f] != part[g]
	}
	ends := func(e mesh.EdgeID) bool { return own[e] || s.Map.Ends(e) }
	pieces := m.Connected(b.faces, func(e mesh.EdgeID) bool { return ends(e) || between(e) })
	if len(pieces) < 2 || len(pieces) > mostJoined {
		return nil
	}
	of := make(map[mesh.FaceID]int, len(b.faces))
	for k, faces := range pieces {
		for _, f := range faces {
			of[f] = k
		}
	}
	boxes := b.boxes(of, len(pieces))
	joints := map[[2]int][]mesh.EdgeID{}
	var order [][2]int
	for _, f := range b.faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			e, t := m.Edge(h), m.Twin(h)
			if t == mesh.None || ends(e) || !between(e) {
				continue
			}
			g, ok := of[m.FaceOf(t)]
			if k := [2]int{of[f], g}; ok && k[0] < k[1] {
				if joints[k] == nil {
					order = append(order, k)
				}
				joints[k] = append(joints[k], e)
			}
		}
	}
	side := func(from int, without [2]int) (all planar.Box, reached []bool) {
		reached = make([]bool, len(pieces))
		reached[from] = true
		all = boxes[from]
		for todo := []int{from}; len(todo) > 0; {
			at := todo[0]
			todo = todo[1:]
			for _, k := range order {
				if k == without || k[0] != at && k[1] != at {
					continue
				}
				if to := k[0] + k[1] - at; !reached[to] {
					reached[to] = true
					all = planar.Bounds(all.Min, all.Max, boxes[to].Min, boxes[to].Max)
					todo = append(todo, to)
				}
			}
		}
		return all, reached
	}
	var best []mesh.EdgeID
	most := math.Inf(-1)
	for _, k := range order {
		a, reached := side(k[0], k)
		if reached[k[1]] || slices.ContainsFunc(joints[k], func(e mesh.EdgeID) bool { return math.IsInf(r.cost(e), 1) }) {
			continue // they hold together another way, or somebody wants them to
		}
		o, _ := side(k[1], k)
		if gain := boxArea(planar.Bounds(a.Min, a.Max, o.Min, o.Max)) - boxArea(a) - boxArea(o); gain > most {
			best, most = joints[k], gain
		}
	}
	return best
}

// mostJoined bounds the parts of a shell that is taken apart.
const mostJoined = 200

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

func boxArea(b planar.Box) float64 {
	s := b.Size()
	return math.Max(0, s.X) * math.Max(0, s.Y)
}
