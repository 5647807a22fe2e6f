package layout

import (
	"context"
	"fmt"

	"morvek/core/mesh"
	"morvek/core/parts"
)

// The ways to lay out repeats.
const (
	Spread = "spread" // each has its own place on the sheet
	Stack  = "stack"  // equal ones share the place of the first; mirrored ones do not
)

// findRepeats notes which parts are equal to an earlier one.
func (s *Tx) findRepeats(m *mesh.Mesh) {
	for i, r := range parts.Repeats(m, s.PartFaces()) {
		p := s.Part(PartID(i))
		p.RepeatOf, p.Mirrored = nil, false
		if r.Of != mesh.None {
			of := PartID(r.Of)
			p.RepeatOf, p.Mirrored = &of, r.Mirrored
		}
	}
}

// RepeatRoot is the part that a part is equal to, itself if it repeats none.
func (s *State) RepeatRoot(p PartID) PartID {
	if of := s.Parts[p].RepeatOf; of != nil {
		return *of
	}
	return p
}

// stackRoot is the part whose place a part shares, itself if it is not stacked.
func (s *State) stackRoot(p PartID) PartID {
	if p >= 0 && s.Parts[p].StackedOn != nil {
		return *s.Parts[p].StackedOn
	}
	return p
}

// comeOff cuts the border of a part towards the parts it shall be free of, so that
// it can go its own way. It tells whether it was attached to one.
func (s *Tx) comeOff(m *mesh.Mesh, faces []mesh.FaceID, of func(PartID) bool) bool {
	attached := false
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			t := m.Twin(h)
			if t == mesh.None || s.Map.IsCut(m.Edge(h)) || !of(s.PartOf(m.FaceOf(t))) {
				continue
			}
			s.Map.SetCut(m.Edge(h), true)
			attached = true
		}
	}
	return attached
}

// others accepts every part but p.
func others(p PartID) func(PartID) bool { return func(q PartID) bool { return q != p } }

// giveMap gives seams and map of part a to part b, which comes off its neighbours.
// It returns the corners that correspond, and false if the parts do not.
func (s *Tx) giveMap(m *mesh.Mesh, faces [][]mesh.FaceID, a, b PartID, mirrored bool) (map[mesh.HalfedgeID]mesh.HalfedgeID, bool) {
	pair, ok := parts.Correspond(m, faces[a], faces[b], mirrored)
	if !ok {
		return nil, false
	}
	s.comeOff(m, faces[b], others(b))
	s.Map.Follow(pair, mirrored)
	s.Part(b).Method, s.Parts[b].StackedOn = s.Parts[a].Method, nil
	return pair, true
}

// GiveToRepeats gives seams and map of a part to all parts equal to it, mirrored
// ones included. They wait on the rack, or lie on the first if stacked.
type GiveToRepeats struct {
	Part    PartID `json:"part"`
	Stacked bool   `json:"stacked,omitempty"`
}

// Kind implements Edit.
func (*GiveToRepeats) Kind() string { return "give-to-repeats" }

// Describe implements Edit.
func (e *GiveToRepeats) Describe() string {
	if e.Stacked {
		return "stack the repeats of a part"
	}
	return "give a map to the repeats"
}

// Apply implements Edit.
func (e *GiveToRepeats) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	if err := d.State.checkParts(e.Part); err != nil {
		return nil, err
	}
	s := d.Begin()
	root := s.RepeatRoot(e.Part)
	faces := s.PartFaces()
	if !s.Map.IsMapped(faces[e.Part][0]) {
		return nil, refuse("%s is not mapped yet; flatten it first", s.Parts[e.Part].Name)
	}
	if e.Stacked && s.comeOff(d.Mesh, faces[e.Part], others(e.Part)) {
		s.Map.ToRack(faces[e.Part])
	}
	given := 0
	for i := range s.Parts {
		p := PartID(i)
		if p == e.Part || s.RepeatRoot(p) != root {
			continue
		}
		mirrored := s.Parts[i].Mirrored != s.Parts[e.Part].Mirrored
		if _, ok := s.giveMap(d.Mesh, faces, e.Part, p, mirrored); !ok {
			continue
		}
		given++
		if e.Stacked && !mirrored {
			base := e.Part
			s.Part(PartID(i)).StackedOn = &base
			continue
		}
		s.Map.ToRack(faces[i])
	}
	if given == 0 {
		return nil, refuse("%s has no repeats", s.Parts[e.Part].Name)
	}
	return s.Done(), nil
}

// stacked is a part that lies on its first.
type stacked struct {
	faces []mesh.FaceID
	pair  map[mesh.HalfedgeID]mesh.HalfedgeID // from the corners of the first
}

// stackRepeats lays equal parts onto their first, where the settings ask for it, and
// those of stacks that are there onto theirs: same seams, same coordinates.
// What it returns needs no place of its own and follows its first.
func (s *Tx) stackRepeats(m *mesh.Mesh) []stacked {
	faces := s.PartFaces()
	var out []stacked
	for i := range s.Parts {
		p := s.Parts[i]
		on := p.StackedOn // a stack that is there stays one
		if on == nil && s.Settings.Repeats == Stack && !p.Mirrored {
			on = p.RepeatOf
		}
		if p.StackedOn != nil {
			s.Part(PartID(i)).StackedOn = nil
		}
		if on == nil || !s.Map.IsMapped(faces[*on][0]) {
			continue
		}
		base := *on
		pair, ok := s.giveMap(m, faces, base, PartID(i), false)
		if !ok {
			continue
		}
		s.comeOff(m, faces[base], others(base))
		s.Part(PartID(i)).StackedOn = &base
		out = append(out, stacked{faces[i], pair})
	}
	return out
}

func (s *State) checkParts(list ...PartID) error {
	if len(list) == 0 {
		return refuse("no part is picked")
	}
	for _, p := range list {
		if p < 0 || int(p) >= len(s.Parts) {
			return refuse("there is no part %d", p)
		}
	}
	return nil
}

func partCount(n int) string {
	if n == 1 {
		return "1 part"
	}
	return fmt.Sprintf("%d parts", n)
}
