package partedits

import (
	"context"
	"fmt"

	"morvek/core/document"
	"morvek/core/words"
)

// Rename gives a part another name.
type Rename struct {
	Part document.PartID `json:"part"`
	Name string          `json:"name"`
}

// Kind implements Edit.
func (*Rename) Kind() string { return "rename" }

// Describe implements Edit.
func (r *Rename) Describe() string { return "rename a part to " + r.Name }

// Apply implements Edit.
func (r *Rename) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if r.Part < 0 || int(r.Part) >= len(d.State.Parts) {
		return nil, document.Refuse("there is no part %d", r.Part)
	}
	if r.Name == "" || len(r.Name) > 200 {
		return nil, document.Refuse("a part needs a name of 1 to 200 letters")
	}
	s := d.Begin()
	s.Part(r.Part).Name = r.Name
	return s.Done(), nil
}

// Lock keeps parts as they are when others are recognised again, or lets them go.
type Lock struct {
	Parts  []document.PartID `json:"parts"`
	Locked bool              `json:"locked"`
}

// Kind implements Edit.
func (*Lock) Kind() string { return "lock" }

// Describe implements Edit.
func (e *Lock) Describe() string {
	if e.Locked {
		return "lock " + words.Count(len(e.Parts), "part")
	}
	return "unlock " + words.Count(len(e.Parts), "part")
}

// Apply implements Edit.
func (e *Lock) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if err := d.State.CheckParts(e.Parts...); err != nil {
		return nil, err
	}
	s := d.Begin()
	for _, p := range e.Parts {
		s.Part(p).Locked = e.Locked
	}
	return s.Done(), nil
}

// Weigh says how much room parts get: 1 is the common density, 2 twice as many
// pixels along each edge, 0.25 a quarter.
type Weigh struct {
	Parts  []document.PartID `json:"parts"`
	Weight float64           `json:"weight"`
}

// Kind implements Edit.
func (*Weigh) Kind() string { return "weigh" }

// Describe implements Edit.
func (e *Weigh) Describe() string {
	return fmt.Sprintf("give %s ×%g room", words.Count(len(e.Parts), "part"), e.Weight)
}

// Apply implements Edit.
func (e *Weigh) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if err := d.State.CheckParts(e.Parts...); err != nil {
		return nil, err
	}
	if err := document.CheckWeight(e.Weight); err != nil {
		return nil, err
	}
	s := d.Begin()
	for _, p := range e.Parts {
		s.Part(p).Weight = e.Weight
	}
	faces := s.PartFaces()
	for _, p := range e.Parts {
		s.ComeOff(d.Mesh, faces[p], func(q document.PartID) bool { return s.Weight(q) != e.Weight })
	}
	return s.Done(), nil
}
