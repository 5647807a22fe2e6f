package proof

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// A seam turns where it bends by more than jogTurn off the creases, edges that fold by
// creaseFold or more.
const (
	jogTurn    = 40 * math.Pi / 180
	creaseFold = 30 * math.Pi / 180
)

// seamEnd is a seam edge seen from one of its ends.
type seamEnd struct {
	to   mesh.PointID
	edge mesh.EdgeID
}

// Jogs counts where seams leave their loop and go on beside it: a turn to one side followed
// by a turn to the other before the seam ends or forks. Corners of a shell turn one way.
func Jogs(in Input) (n int) {
	eachJog(in, in.seams(), func(_, _ mesh.EdgeID) { n++ })
	return n
}

// eachJog visits the two edges between which each seam turns back.
func eachJog(in Input, seams []mesh.EdgeID, visit func(a, b mesh.EdgeID)) {
	m := in.Mesh
	start := make([]int32, m.NumPoints()+2) // of the ends at each point, one further while they are filled in
	for _, id := range seams {
		h := m.EdgeHalf(id)
		start[m.From(h)+2]++
		start[m.To(h)+2]++
	}
	for p := 2; p < len(start); p++ {
		start[p] += start[p-1]
	}
	ends := make([]seamEnd, 2*len(seams))
	put := func(p mesh.PointID, e seamEnd) {
		ends[start[p+1]] = e
		start[p+1]++
	}
	for _, id := range seams {
		h := m.EdgeHalf(id)
		a, b := m.From(h), m.To(h)
		put(a, seamEnd{b, id})
		put(b, seamEnd{a, id})
	}
	at := func(p mesh.PointID) []seamEnd { return ends[start[p]:start[p+1]] }
	rim := m.RimPoints() // where seams end
	through := func(p mesh.PointID) bool { return start[p+1]-start[p] == 2 && !rim[p] }
	// hand is the side a seam turns to at a point, coming along its end in and leaving along
	// out, as seen along the normal: following the surface down a groove is no turn.
	crease := func(e mesh.EdgeID) bool { return math.Abs(m.Dihedral(e)) >= creaseFold }
	normal := func(e mesh.EdgeID) r3.Vec {
		f, g := m.EdgeFaces(e)
		return mesh.Unit(r3.Add(m.FaceNormals()[f], m.FaceNormals()[g]))
	}
	away := func(e seamEnd) r3.Vec { // from the point at which this is an end
		d := mesh.Unit(m.EdgeVec(m.EdgeHalf(e.edge)))
		if m.To(m.EdgeHalf(e.edge)) != e.to {
			d = r3.Scale(-1, d)
		}
		return d
	}
	hand := func(in, out seamEnd) int {
		if crease(in.edge) && crease(out.edge) {
			return 0
		}
		n := mesh.Unit(r3.Add(normal(in.edge), normal(out.edge)))
		flat := func(d r3.Vec) r3.Vec { return r3.Sub(d, r3.Scale(r3.Dot(d, n), n)) }
		from, to := flat(r3.Scale(-1, away(in))), flat(away(out))
		switch {
		case mesh.Angle(from, to) <= jogTurn:
			return 0
		case r3.Dot(r3.Cross(from, to), n) < 0:
			return -1
		}
		return 1
	}
	done := make([]bool, m.NumPoints())
	walk := func(first seamEnd) {
		last := 0
		for edge, p := first.edge, first.to; through(p) && !done[p]; {
			done[p] = true
			in, out := at(p)[0], at(p)[1]
			if in.edge != edge {
				in, out = out, in
			}
			if h := hand(in, out); h != 0 {
				if h == -last {
					visit(in.edge, out.edge)
				}
				last = h
			}
			edge, p = out.edge, out.to
		}
	}
	for _, closed := range []bool{false, true} { // seams without a fork come last
		for p := range mesh.PointID(m.NumPoints()) {
			for _, e := range at(p) {
				if through(p) == closed && !done[p] {
					walk(e)
				}
			}
		}
	}
}

// jogs counts the jogs of a map and finds the shells that have more than a few.
func (r *Report) jogs(in Input, c *change, seams []mesh.EdgeID) (found findings) {
	shells := map[int32]crooked{}
	known := r.known
	if c != nil && slices.Equal(seams, c.before.known.seams) {
		known.jogs = c.before.known.jogs
	} else {
		eachJog(in, seams, func(a, b mesh.EdgeID) { known.jogs = append(known.jogs, [2]mesh.EdgeID{a, b}) })
	}
	for _, jog := range known.jogs {
		r.Totals.Jogs++
		seen := map[int32]bool{}
		for _, e := range jog {
			f, g := in.Mesh.EdgeFaces(e)
			for _, f := range []mesh.FaceID{f, g} {
				k := r.ShellOf[f]
				c := shells[k]
				if !seen[k] {
					seen[k] = true
					c.jogs++
				}
				c.faces = append(c.faces, f)
				shells[k] = c
			}
		}
	}
	for k := range r.Shells {
		if c := shells[int32(k)]; c.jogs > mostJogs {
			slices.Sort(c.faces)
			found.find(Crooked, "look", float64(c.jogs), slices.Compact(c.faces))
		}
	}
	return found
}

// crooked is what is crooked of a shell.
type crooked struct {
	jogs  int
	faces []mesh.FaceID // beside the jogs
}

// mostJogs is how many jogs a shell may have, where an outline steps by itself.
const mostJogs = 2
