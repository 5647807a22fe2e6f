package sheetedits

import (
	"context"

	"morvek/core/document"
)

// GiveToRepeats gives seams and map of a part to all parts equal to it, mirrored
// ones included. They wait on the rack, or lie on the first if stacked.
type GiveToRepeats struct {
	Part    document.PartID `json:"part"`
	Stacked bool            `json:"stacked,omitempty"`
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
func (e *GiveToRepeats) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if err := d.State.CheckParts(e.Part); err != nil {
		return nil, err
	}
	s := d.Begin()
	root := s.RepeatRoot(e.Part)
	faces := s.PartFaces()
	if !s.Map.IsMapped(faces[e.Part][0]) {
		return nil, document.Refuse("%s is not mapped yet; flatten it first", s.Parts[e.Part].Name)
	}
	if e.Stacked && s.ComeOff(d.Mesh, faces[e.Part], document.Others(e.Part)) {
		s.Map.ToRack(faces[e.Part])
	}
	given := 0
	on := map[document.PartID]document.PartID{}
	for i := range s.Parts {
		p := document.PartID(i)
		if p == e.Part || s.RepeatRoot(p) != root {
			continue
		}
		mirrored := s.Parts[i].Mirrored != s.Parts[e.Part].Mirrored
		if e.Stacked && !mirrored {
			on[p] = e.Part
			continue
		}
		if _, ok := s.GiveMap(d.Mesh, faces, e.Part, p, mirrored); !ok {
			continue
		}
		given++
		s.Map.ToRack(faces[i])
	}
	if given+s.StackRepeats(d.Mesh, on) == 0 {
		return nil, document.Refuse("%s has no repeats", s.Parts[e.Part].Name)
	}
	return s.Done(), nil
}
