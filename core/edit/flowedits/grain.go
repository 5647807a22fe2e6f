package flowedits

import (
	"context"
	"slices"

	"morvek/core/document"
	"morvek/core/ids"
	"morvek/core/lay"
	"morvek/core/words"
)

// SetGrain gives parts or materials a grain and turns their shells so that it runs along
// the sheet.
type SetGrain struct {
	Parts     []document.PartID `json:"parts,omitempty"`
	Materials []string          `json:"materials,omitempty"` // in place of parts
	document.GrainWish
}

// Kind implements Edit.
func (*SetGrain) Kind() string { return "grain" }

// Describe implements Edit.
func (e *SetGrain) Describe() string {
	if len(e.Materials) > 0 {
		return "set the grain of " + words.Count(len(e.Materials), "material")
	}
	return "set the grain of " + words.Count(len(e.Parts), "part")
}

// Apply implements Edit.
func (e *SetGrain) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	s := d.Begin()
	faces := s.PartFaces()
	own := ids.Set(e.Parts)
	if len(e.Materials) == 0 {
		if err := s.CheckParts(e.Parts...); err != nil {
			return nil, err
		}
	} else {
		own = s.PartsOfMaterials(d.Mesh, faces, e.Materials)
		if len(own) == 0 {
			return nil, document.Refuse("no part of this material waits for it: those it has were given a grain of their own; set theirs as the shape asks first")
		}
		if !slices.Contains([]document.GrainOf{document.GrainByShape, document.GrainAlong, document.GrainAround, document.GrainLoops}, e.Of) { // the same for all
			if _, err := e.Grain(d.Mesh, nil, &document.Part{}); err != nil {
				return nil, err
			}
		}
		s.Wishes.Grains = slices.DeleteFunc(slices.Clone(s.Wishes.Grains), func(g document.MaterialGrain) bool { return slices.Contains(e.Materials, g.Material) })
		for _, name := range e.Materials {
			if e.Of != document.GrainByShape {
				s.Wishes.Grains = append(s.Wishes.Grains, document.MaterialGrain{Material: name, GrainWish: e.GrainWish})
			}
		}
	}
	for p := range s.Parts {
		if !own[document.PartID(p)] {
			continue
		}
		part := s.Part(document.PartID(p))
		switch {
		case len(e.Materials) > 0 || e.Of == document.GrainByShape:
			part.GrainOwn = false
			part.Grain = s.GrainFor(d.Mesh, faces[p], part)
		default:
			g, err := e.Grain(d.Mesh, faces[p], part)
			if err != nil {
				return nil, err
			}
			part.Grain, part.GrainOwn = g, true
		}
		part.ByHand = true
	}
	turnToGrain(s, d, own)
	return s.Done(), nil
}

// turnToGrain turns the shells of parts as their grain asks.
func turnToGrain(s *document.Tx, d *document.Document, parts map[document.PartID]bool) {
	shells, _ := s.Map.Shells()
	turner := lay.NewTurner(s, d)
	stacked := s.Stacks()
	for _, sh := range shells {
		if p := s.PartOf(sh.Faces[0]); p < 0 || !parts[p] || stacked.Of(sh.Faces[0]) >= 0 {
			continue
		}
		l := s.Map.Lift(sh)
		turner.ToGrain(&l)
	}
}
