package revise

import (
	"slices"

	"morvek/core/document"
	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/proof"
)

// Adopt gives a document of a revised model, of which the parts were just read, what people said of the
// model before: settings, the parts they made, grain, weights, locks, projections, wished cuts, labels
// and sets. What moved takes directions along; what is not there any more is let go. So what is laid
// anew is laid as it was wished. Pins, places, locks and stacks belong to what lies: Carry brings them.
func Adopt(from, to *document.Document, m Match) *document.State {
	s := to.Begin()
	mine := s.Settings
	s.Settings = from.State.Settings
	s.Settings.Unit, s.Settings.Up, s.Settings.Merged, s.Settings.OnSheet = mine.Unit, mine.Up, mine.Merged, mine.OnSheet
	a := newAdopter(from, to, m)
	a.parts(s)
	w := from.State.Wishes
	s.Wishes.Whole, s.Wishes.Held, s.Wishes.Firm = a.faces(w.Whole), a.edges(w.Held), a.edges(w.Firm)
	s.Wishes.Picks, s.Wishes.Labels, s.Wishes.Grains = nil, nil, nil
	for _, p := range w.Picks {
		if e, f := a.edges(p.Edges), a.faces(p.Faces); len(e)+len(f) > 0 {
			s.Wishes.Picks = append(s.Wishes.Picks, document.PickSet{Name: p.Name, Edges: e, Faces: f})
		}
	}
	for _, l := range w.Labels {
		if f := a.faces(l.Faces); len(f) > 0 {
			l.Up = a.motion(f).turned(l.Up)
			l.Faces = f
			s.Wishes.Labels = append(s.Wishes.Labels, l)
		}
	}
	for _, g := range w.Grains {
		if had := len(g.Edges) > 0; had {
			if g.Edges = a.edges(g.Edges); len(g.Edges) == 0 {
				continue
			}
		}
		s.Wishes.Grains = append(s.Wishes.Grains, g)
	}
	s.Wishes.Weights = a.weights(w.Weights)
	a.say(s)
	return s.Done()
}

// adopter tells what faces and edges of before are now.
type adopter struct {
	from *document.Document
	now  *mesh.Mesh
	m    Match
	face map[mesh.FaceID][]mesh.FaceID       // of now that are a face of before, or lie on it
	edge map[mesh.EdgeID]mesh.EdgeID         // of now that an edge of before is
	at   map[mesh.HalfedgeID]mesh.HalfedgeID // corner of now that a corner of before is
}

func newAdopter(from, to *document.Document, m Match) *adopter {
	a := &adopter{from, to.Mesh, m, map[mesh.FaceID][]mesh.FaceID{}, map[mesh.EdgeID]mesh.EdgeID{}, map[mesh.HalfedgeID]mesh.HalfedgeID{}}
	for f, of := range a.m.Of {
		if of != mesh.None {
			a.face[of] = append(a.face[of], mesh.FaceID(f))
		}
	}
	old := a.from.Mesh
	for h, was := range a.m.Corner {
		if was == mesh.None {
			continue
		}
		h := mesh.HalfedgeID(h)
		a.at[was] = h
		if a.m.Kind[a.now.FaceOf(h)] == Mirrored {
			a.edge[old.Edge(was)] = a.now.Edge(a.now.Prev(h))
		} else {
			a.edge[old.Edge(was)] = a.now.Edge(h)
		}
	}
	return a
}

func (a *adopter) faces(list []mesh.FaceID) (out []mesh.FaceID) {
	for _, f := range list {
		out = append(out, a.face[f]...)
	}
	slices.Sort(out)
	return slices.Compact(out)
}

func (a *adopter) edges(list []mesh.EdgeID) (out []mesh.EdgeID) {
	for _, e := range list {
		if now, ok := a.edge[e]; ok {
			out = append(out, now)
		}
	}
	slices.Sort(out)
	return slices.Compact(out)
}

func (a *adopter) weights(list []document.FaceWeight) (out []document.FaceWeight) {
	for _, x := range list {
		if f := a.faces(x.Faces); len(f) > 0 {
			out = append(out, document.FaceWeight{Weight: x.Weight, Faces: f})
		}
	}
	return out
}

// motion is how faces moved: not at all if one of them stayed.
func (a *adopter) motion(faces []mesh.FaceID) motion {
	out := still
	for _, f := range faces {
		switch a.m.Kind[f] {
		case Kept:
			return still
		case Moved, Mirrored:
			lo, _ := a.now.Corners(f)
			if t, ok := motionOf(a.from.Mesh, a.now, pair{a.m.Corner[lo], lo, a.m.Kind[f] == Mirrored}); ok {
				out = t
			}
		}
	}
	return out
}

// parts restores those that are all there again, of which the faces were read otherwise: people made
// them. Where something new is among them it is read anew.
func (a *adopter) parts(s *document.Tx) {
	read := s.PartFaces()
	for _, was := range a.from.State.PartFaces() {
		faces := a.faces(was)
		if len(was) == 0 || len(faces) == 0 || !a.same(was) {
			continue
		}
		whole, others := true, map[document.PartID]bool{}
		for _, f := range faces {
			others[s.PartOf(f)] = true
		}
		n := 0
		for p := range others {
			if p < 0 {
				whole = false
				continue
			}
			for _, f := range read[p] {
				whole = whole && (a.m.Kind[f] == Kept || a.m.Kind[f] == Moved)
			}
			n += len(read[p])
		}
		if !whole || len(others) == 1 && n == len(faces) {
			continue
		}
		s.Parts = append(s.Parts, &document.Part{Name: "part"})
		s.Reassign(a.now, faces, document.PartID(len(s.Parts)-1))
		read = s.PartFaces()
	}
}

// same tells whether all of some faces of before are there, one each.
func (a *adopter) same(was []mesh.FaceID) bool {
	for _, f := range was {
		now := a.face[f]
		if len(now) != 1 || a.m.Kind[now[0]] != Kept && a.m.Kind[now[0]] != Moved {
			return false
		}
	}
	return true
}

// say gives parts what people said of those they are.
func (a *adopter) say(s *document.Tx) {
	were := map[string]document.PartID{}
	for q, p := range a.from.State.Parts {
		were[p.Name] = document.PartID(q)
	}
	faces, before := s.PartFaces(), a.from.State.PartFaces()
	for p, name := range called(s.State, a.from, a.m) {
		q, ok := were[name]
		if !ok {
			if len(s.Wishes.Grains) > 0 && len(faces[p]) > 0 {
				part := s.Part(document.PartID(p))
				part.Grain = s.GrainFor(a.now, faces[p], part)
			}
			continue
		}
		was, is := a.from.State.Parts[q], s.Part(document.PartID(p))
		t := a.motion(faces[p])
		is.ByHand, is.Weight = was.ByHand, was.Weight
		if was.Locked && a.same(before[q]) {
			is.Locked = true
			if t == still {
				is.Fit = was.Fit
			}
		}
		switch {
		case was.GrainOwn:
			is.Grain, is.GrainOwn = t.grain(was.Grain), true
		case len(s.Wishes.Grains) > 0:
			is.Grain = s.GrainFor(a.now, faces[p], is)
		}
		if was.Projection != nil && !t.mirrors() {
			pr := *was.Projection
			pr.Origin, pr.Axis, pr.Up = t.of(pr.Origin), t.turned(pr.Axis), t.turned(pr.Up)
			is.Projection = &pr
		}
	}
}

// grain is a grain after the motion.
func (t motion) grain(g flow.Grain) flow.Grain {
	g.Axis, g.Origin = t.turned(g.Axis), t.of(g.Origin)
	g.Path, g.Walls = slices.Clone(g.Path), slices.Clone(g.Walls)
	for i, p := range g.Path {
		g.Path[i] = t.of(p)
	}
	for i, w := range g.Walls {
		g.Walls[i] = flow.Wall{Normal: t.turned(w.Normal), Along: t.turned(w.Along)}
	}
	return g
}

// marks are what people said of shells that lie where they lay.
func (a *adopter) marks(w document.Marks, stays []bool) (out document.Marks) {
	keep := func(list []mesh.FaceID) []mesh.FaceID {
		return slices.DeleteFunc(a.faces(list), func(f mesh.FaceID) bool { return !stays[f] })
	}
	out.Placed, out.Locked, out.Weights = keep(w.Placed), keep(w.Locked), a.weights(w.Weights)
	for _, h := range w.Pins {
		if now, ok := a.at[h]; ok && stays[a.now.FaceOf(now)] {
			out.Pins = append(out.Pins, now)
		}
	}
	slices.Sort(out.Pins)
	for _, x := range w.Stacks {
		var shells []mesh.FaceID // each by one face, in their order
		for _, f := range x {
			if now := a.face[f]; len(now) > 0 && stays[now[0]] {
				shells = append(shells, now[0])
			}
		}
		if len(shells) > 1 {
			out.Stacks = append(out.Stacks, shells)
		}
	}
	for _, x := range w.Accepted {
		if now := a.face[x.Face]; len(now) > 0 && stays[now[0]] {
			out.Accepted = append(out.Accepted, proof.Accepted{Known: proof.Known{Kind: x.Kind, Face: now[0], Value: x.Value}, Reason: x.Reason})
		}
	}
	if w.Marked != nil {
		out.Marked = &proof.Marked{Findings: []proof.Known{}}
		for _, x := range w.Marked.Findings {
			if now := a.face[x.Face]; len(now) > 0 {
				out.Marked.Findings = append(out.Marked.Findings, proof.Known{Kind: x.Kind, Face: now[0], Value: x.Value})
			}
		}
	}
	return out
}
