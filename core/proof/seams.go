package proof

import (
	"math"
	"slices"

	"morvek/core/mesh"
)

const (
	flatBend   = 5 * math.Pi / 180  // less is flat
	smoothBend = 20 * math.Pi / 180 // less is no crease: a coarse round wall has up to this much
	inView     = 0.25               // exposure from which a seam across a smooth area is a finding
)

// seams audits where the map is apart: how long, on what, and how visible.
func (r *Report) seams(in Input) {
	m := in.Mesh
	t := &r.Totals
	var flat float64
	var smooth []mesh.EdgeID
	for e := range m.NumEdges() {
		id := mesh.EdgeID(e)
		a, b := m.EdgeFaces(id)
		if b == mesh.None || !in.Map.Mapped[a] || !in.Map.Mapped[b] || !(in.Cut(id) || in.Map.Torn(m, id)) {
			continue
		}
		l, bend := m.EdgeLength(id), m.Dihedral(id)
		t.SeamLength += l
		if in.Exposed {
			t.SeamExposed += l * in.Exposure.Edge(id)
		}
		if r.ShellOf[a] == r.ShellOf[b] {
			t.SeamOpenings += l
			continue
		}
		if math.Abs(bend) < flatBend {
			flat += l
		} else {
			t.SeamOnCrease += l
			if bend < 0 {
				t.SeamConcave += l
			}
		}
		if math.Abs(bend) < smoothBend && in.Part(a) == in.Part(b) && m.MaterialName(a) == m.MaterialName(b) {
			smooth = append(smooth, id)
		}
	}
	if flat > 0 {
		t.SeamOnFlat = flat / (flat + t.SeamOnCrease)
	}
	if in.Exposure == nil {
		return
	}
	for _, c := range m.Chains(smooth) {
		if seenAlong(in, c) < inView {
			continue
		}
		var faces []mesh.FaceID
		for _, e := range c {
			a, b := m.EdgeFaces(e)
			faces = append(faces, a, b)
		}
		slices.Sort(faces)
		r.find(InView, "look", m.Length(c), slices.Compact(faces))
	}
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

// SeamFaces returns the faces beside seams, whose exposure Measure will ask for.
func SeamFaces(in Input) []mesh.FaceID {
	m := in.Mesh
	var out []mesh.FaceID
	for e := range m.NumEdges() {
		a, b := m.EdgeFaces(mesh.EdgeID(e))
		if b != mesh.None && (in.Cut(mesh.EdgeID(e)) || in.Map.Torn(m, mesh.EdgeID(e))) {
			out = append(out, a, b)
		}
	}
	slices.Sort(out)
	return slices.Compact(out)
}
