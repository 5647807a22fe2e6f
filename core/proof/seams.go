package proof

import (
	"context"
	"math"
	"slices"

	"morvek/core/ids"
	"morvek/core/mesh"
)

const (
	flatBend   = 5 * math.Pi / 180  // less is flat
	smoothBend = 20 * math.Pi / 180 // less is no crease: a coarse round wall has up to this much
	inView     = 0.25               // exposure from which a seam across a smooth area is a finding
	leastSeam  = 5e-3               // of the diagonal, which anybody sees
)

// seams audits where the map is apart: how long, on what, and how visible.
func (r *Report) seams(in Input, seams []mesh.EdgeID) (found findings) {
	m := in.Mesh
	t := &r.Totals
	var flat float64
	var smooth []mesh.EdgeID
	for _, id := range seams {
		a, b := m.EdgeFaces(id)
		l, bend := m.EdgeLength(id), m.Dihedral(id)
		t.SeamLength += l
		if r.ShellOf[a] == r.ShellOf[b] {
			t.SeamOpenings += l
			continue
		}
		within := math.Abs(bend) < smoothBend && in.Part(a) == in.Part(b) && m.MaterialName(a) == m.MaterialName(b)
		if within {
			smooth = append(smooth, id)
		}
		switch {
		case within:
			t.SeamDivisions += l
		case math.Abs(bend) < flatBend:
			flat += l
		default:
			t.SeamOnCrease += l
			if bend < 0 {
				t.SeamConcave += l
			}
		}
	}
	if flat > 0 {
		t.SeamOnFlat = flat / (flat + t.SeamOnCrease)
	}
	if in.Exposure == nil {
		return found
	}
	for _, c := range m.Chains(smooth) {
		long := m.Length(c)
		if long < leastSeam*m.Diagonal() || seenAlong(in, c) < inView {
			continue
		}
		var faces []mesh.FaceID
		for _, e := range c {
			a, b := m.EdgeFaces(e)
			faces = append(faces, a, b)
		}
		slices.Sort(faces)
		found.find(InView, "look", long, slices.Compact(faces))
	}
	return found
}

// seenAlong is the mean exposure of a chain at a few of its edges.
func seenAlong(in Input, chain []mesh.EdgeID) float64 {
	n := min(len(chain), 4)
	var sum float64
	for i := range n {
		sum += in.Exposure.Edge(chain[i*len(chain)/n])
	}
	return sum / float64(n)
}

// isSeam tells whether two mapped faces are apart on the sheet at an edge.
func (in Input) isSeam(e mesh.EdgeID) bool {
	a, b := in.Mesh.EdgeFaces(e)
	return b != mesh.None && in.Map.IsMapped(a) && in.Map.IsMapped(b) && in.Map.Ends(e)
}

// SeamExposed is the length of all seams weighted by their exposure, which is looked
// up for every face beside one: Measure leaves it out.
func SeamExposed(ctx context.Context, in Input) (sum float64, err error) {
	seams := in.seams()
	var beside []mesh.FaceID
	for _, e := range seams {
		a, b := in.Mesh.EdgeFaces(e)
		beside = append(beside, a, b)
	}
	if err := in.Exposure.Prepare(ctx, beside, nil); err != nil {
		return 0, err
	}
	for _, e := range seams {
		sum += in.Mesh.EdgeLength(e) * in.Exposure.Edge(e)
	}
	return sum, nil
}

// seams lists the edges between mapped faces at which shells end, ascending.
func (in Input) seams() (out []mesh.EdgeID) {
	for e := range mesh.EdgeID(in.Mesh.NumEdges()) {
		if in.isSeam(e) {
			out = append(out, e)
		}
	}
	return out
}

// seamsAgain lists them by what is different from a map that was measured before.
func (in Input) seamsAgain(c *change) []mesh.EdgeID {
	if c == nil {
		return in.seams()
	}
	m := in.Mesh
	var look []mesh.EdgeID // edges of faces that were touched
	for i, is := range c.touched {
		if is {
			lo, hi := m.Corners(mesh.FaceID(i))
			for h := lo; h < hi; h++ {
				look = append(look, m.Edge(h))
			}
		}
	}
	look = ids.Once(look)
	fresh := slices.DeleteFunc(slices.Clone(look), func(e mesh.EdgeID) bool { return !in.isSeam(e) })
	return ids.With(ids.Without(c.before.known.seams, look), fresh)
}
