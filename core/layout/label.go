package layout

import (
	"context"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/flow"
	"morvek/core/mesh"
)

// SetLabel says that faces carry a word that must read, and turns their shell so that it
// stands upright on the sheet. Suggested cuts leave a label whole and packing does not
// turn it.
type SetLabel struct {
	Faces    []mesh.FaceID `json:"faces"`
	Word     string        `json:"word"`               // none: labels with any of these faces are taken away
	Quarters int           `json:"quarters,omitempty"` // turns from how it would stand by itself, counter-clockwise
}

// Kind implements Edit.
func (*SetLabel) Kind() string { return "label" }

// Describe implements Edit.
func (e *SetLabel) Describe() string {
	if e.Word == "" {
		return "take a label away"
	}
	return "label " + faceCount(len(e.Faces)) + " " + e.Word
}

// Apply implements Edit.
func (e *SetLabel) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	m := d.Mesh
	if err := checkPick(m, e.Faces); err != nil {
		return nil, err
	}
	s := d.Begin()
	faces := slices.Compact(slices.Sorted(slices.Values(e.Faces)))
	own := set(faces)
	s.Wishes.Labels = slices.DeleteFunc(slices.Clone(s.Wishes.Labels), func(l flow.Label) bool {
		return slices.ContainsFunc(l.Faces, func(f mesh.FaceID) bool { return own[f] })
	})
	switch {
	case e.Word == "" && len(s.Wishes.Labels) == len(d.State.Wishes.Labels):
		return nil, refuse("these faces carry no label")
	case e.Word == "":
		return s.Done(), nil
	case len([]rune(e.Word)) > 80:
		return nil, refuse("a label has at most 80 letters")
	case len(m.Connected(faces, func(mesh.EdgeID) bool { return false })) > 1:
		return nil, refuse("the faces of a label must hang together")
	}
	l, ok := flow.NewLabel(m, e.Word, faces, s.Settings.Flow(), e.Quarters)
	if !ok {
		return nil, refuse("these faces look all ways: a word on them has no front; pick fewer")
	}
	s.Wishes.Labels = append(s.Wishes.Labels, l)
	shells, of := s.Map.Shells()
	k := of[faces[0]]
	if k == mesh.None {
		return s.Done(), nil
	}
	if err := s.unstacked(s.stacks(), shells[k].Faces); err != nil {
		return nil, err
	}
	shell := s.Map.Lift(shells[k])
	s.turnShell(d, s.Map.NewRack(), &shell, s.orientOwn)
	return s.Done(), nil
}

// labelOn is the largest label of which a patch has faces, nil for none.
func (s *State) labelOn(p *mesh.Patch) *flow.Label {
	if len(s.Wishes.Labels) == 0 {
		return nil
	}
	on := set(p.Faces)
	var best *flow.Label
	var most float64
	for i, l := range s.Wishes.Labels {
		var area float64
		for _, f := range l.Faces {
			if on[f] {
				area += p.Mesh.FaceAreas()[f]
			}
		}
		if area > most*(1+1e-9) {
			best, most = &s.Wishes.Labels[i], area
		}
	}
	return best
}

// fixed returns whether a shell must not be turned by packing: it carries a label, or a
// grain that goes one way only.
func (s *State) fixed() func(atlas.Shell) bool {
	labelled := map[mesh.FaceID]bool{}
	for _, l := range s.Wishes.Labels {
		for _, f := range l.Faces {
			labelled[f] = true
		}
	}
	return func(sh atlas.Shell) bool {
		return slices.ContainsFunc(sh.Faces, func(f mesh.FaceID) bool {
			return labelled[f] || s.grain(int(s.PartOf(f))).Sense
		})
	}
}

// orientOwn orients a shell as the part asks that most of it belongs to, of those with a
// grain.
func (s *State) orientOwn(p *mesh.Patch, uv []r2.Vec) { s.orient(p, uv, NoPart) }

// orient turns the map of a patch as the grain of a part asks or, where that has none, as
// that of most of what has one, up upwards; a label on it stands upright, whatever the grain
// says.
func (s *State) orient(p *mesh.Patch, uv []r2.Vec, part PartID) {
	g := s.grain(int(part))
	if g.Mode == flow.None {
		g = s.grain(int(s.leading(p)))
	}
	flow.Orient(p, uv, g, s.Settings.Flow())
	if l := s.labelOn(p); l != nil {
		l.Upright(p, uv)
	}
}

// leading is the part with a grain that most of a patch belongs to, NoPart if none has one.
func (s *State) leading(p *mesh.Patch) PartID {
	best, area := NoPart, map[PartID]float64{}
	for _, f := range p.Faces {
		part := s.PartOf(f)
		if s.grain(int(part)).Mode == flow.None {
			continue
		}
		if area[part] += p.Mesh.FaceAreas()[f]; best == NoPart || area[part] > area[best]*(1+1e-9) {
			best = part
		}
	}
	return best
}
