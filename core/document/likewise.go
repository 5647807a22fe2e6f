package document

import (
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flow"
	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/parts"
)

// Likewise gives part b, which comes off its neighbours, the seams of part a and what people wished of
// it: edges that stay apart or attached, areas that stay whole, grain and weights. Where its faces lie
// it leaves as it is.
func (s *Tx) Likewise(m *mesh.Mesh, faces [][]mesh.FaceID, a, b PartID, k parts.Kinship) {
	s.ComeOff(m, faces[b], Others(b))
	s.unstack(faces[b])
	edges, own := k.Edges(m), map[mesh.EdgeID]bool{}
	for e, g := range edges {
		if s.within(m, a, e) && s.within(m, b, g) {
			s.Map.SetCut(g, s.Map.IsCut(e))
			own[g] = true
		}
	}
	face := make(map[mesh.FaceID]mesh.FaceID, len(faces[a]))
	for h, g := range k.Corner {
		face[m.FaceOf(h)] = m.FaceOf(g)
	}
	w, theirs := &s.Wishes, ids.Set(faces[b])
	moved := func(list []mesh.EdgeID) []mesh.EdgeID {
		out := slices.DeleteFunc(slices.Clone(list), func(e mesh.EdgeID) bool { return own[e] })
		for _, e := range list {
			if g, ok := edges[e]; ok && own[g] {
				out = append(out, g)
			}
		}
		return ids.Once(out)
	}
	w.Firm, w.Held = moved(w.Firm), moved(w.Held)
	whole := slices.DeleteFunc(slices.Clone(w.Whole), func(f mesh.FaceID) bool { return theirs[f] })
	for _, f := range w.Whole {
		if g, ok := face[f]; ok {
			whole = append(whole, g)
		}
	}
	w.Whole = ids.Once(whole)
	for _, x := range w.Weights {
		var mine []mesh.FaceID
		for _, f := range x.Faces {
			if g, ok := face[f]; ok {
				mine = append(mine, g)
			}
		}
		if len(mine) > 0 {
			s.WeighFaces(mine, x.Weight)
		}
	}
	lead, p := s.Parts[a], s.Part(b)
	p.Weight, p.ByHand = lead.Weight, true
	if lead.GrainOwn {
		p.Grain, p.GrainOwn = grainLike(lead, p, func(v r3.Vec) r3.Vec { return k.Turned(m, v) }), true
	}
}

// within tells whether both faces of an edge belong to a part.
func (s *State) within(m *mesh.Mesh, p PartID, e mesh.EdgeID) bool {
	f, g := m.EdgeFaces(e)
	return f != mesh.None && g != mesh.None && s.PartOf(f) == p && s.PartOf(g) == p
}

// grainLike is the grain of a part as that of another one of its kind runs, whose directions are turned so.
func grainLike(lead, p *Part, turned func(r3.Vec) r3.Vec) flow.Grain {
	g := lead.Grain
	switch g.Mode {
	case flow.Along, flow.Around:
		if own, ok := flow.AxisGrain(p.Fit, g.Mode); ok {
			own.Sense = g.Sense
			return own
		}
	case flow.None:
		return g
	case flow.Toward:
		g.Axis = turned(g.Axis)
		return g
	}
	return p.Grain // what runs along picked edges, or wall by wall, is its own
}

// Kindred returns the other parts of the same shape whose mesh is made like that of a part, equal ones
// included, each with how its corners answer those of the part, and how many of the same shape are made
// otherwise. Parts that do not belong to only, if that is not empty, are not looked at.
func (d *Document) Kindred(p PartID, only []PartID) (kin map[PartID]parts.Kinship, otherwise int) {
	s := d.State
	faces := s.PartFaces()
	kin = map[PartID]parts.Kinship{}
	family := parts.NewFamily(d.Mesh, faces[p])
	for i := range s.Parts {
		q := PartID(i)
		if q == p || s.Parts[q].Fit.Kind != s.Parts[p].Fit.Kind || len(only) > 0 && !slices.Contains(only, q) {
			continue
		}
		if k, ok := family.Kin(faces[q]); ok {
			kin[q] = k
		} else {
			otherwise++
		}
	}
	return kin, otherwise
}
